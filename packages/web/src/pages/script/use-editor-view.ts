import type { EditorView } from "@codemirror/view";
import { useCallback, useRef, useState, type RefObject } from "react";
import type { Diagnostic } from "@oxtrum/contract";
import { placeOf } from "./editor-extensions";

/** The editor, and what the page around it does with it. */
export interface EditorHandle {
  readonly view: RefObject<EditorView | null>;
  /** Where a line's top is, px from the text's. */
  readonly lineTop: (line: number) => number;
  readonly goToLine: (line: number) => void;
  /** Puts a text where the cursor is. */
  readonly insert: (text: string) => void;
  readonly fix: (d: Diagnostic, replacement: string) => void;
  /** To be called when lines may stand elsewhere. */
  readonly moved: () => void;
}

export function useEditorView(): EditorHandle {
  const view = useRef<EditorView | null>(null);
  const [layout, setLayout] = useState(0);
  const lineTop = useCallback(
    (line: number): number => {
      void layout;
      const v = view.current;
      if (!v) return line * 20;
      return v.lineBlockAt(v.state.doc.line(Math.min(Math.max(1, line), v.state.doc.lines)).from).top + 12;
    },
    [layout],
  );
  const goToLine = useCallback((line: number): void => {
    const v = view.current;
    if (!v) return;
    const at = v.state.doc.line(Math.min(line, v.state.doc.lines)).from;
    v.dispatch({ selection: { anchor: at }, scrollIntoView: true });
    v.focus();
  }, []);
  const insert = (t: string): void => {
    const v = view.current;
    if (!v) return;
    v.dispatch(v.state.replaceSelection(t));
    v.focus();
  };
  const fix = (d: Diagnostic, replacement: string): void => {
    const v = view.current;
    if (!v) return;
    v.dispatch({ changes: { ...placeOf(d, v.state.doc), insert: replacement } });
    v.focus();
  };
  return { view, lineTop, goToLine, insert, fix, moved: useCallback(() => setLayout((n) => n + 1), []) };
}
