import { EditorState } from "@codemirror/state";
import { EditorView } from "@codemirror/view";
import { useEffect, useRef, type ReactElement, type RefObject } from "react";
import { extensions, type EditorActs } from "./editor-extensions";

/** The script's text. The view lives outside React; what happens in it is told through `acts`. */
export function Editor({
  script,
  text,
  replaced,
  actsRef,
  viewRef,
  onScroll,
}: {
  script: string;
  text: string;
  /** Counts texts that come from elsewhere: only then is the view's text replaced. */
  replaced: number;
  actsRef: RefObject<EditorActs>;
  viewRef: RefObject<EditorView | null>;
  onScroll: (top: number) => void;
}): ReactElement {
  const host = useRef<HTMLDivElement>(null);
  const first = useRef(text);
  useEffect(() => {
    const steady: EditorActs = {
      onTry: () => actsRef.current.onTry(),
      onRun: () => actsRef.current.onRun(),
      onSave: () => actsRef.current.onSave(),
      onChecked: (d) => actsRef.current.onChecked(d),
      onView: (v, w) => actsRef.current.onView(v, w),
    };
    const v = new EditorView({
      parent: host.current!,
      state: EditorState.create({ doc: first.current, extensions: extensions(script, steady) }),
    });
    viewRef.current = v;
    const scrolled = (): void => onScroll(v.scrollDOM.scrollTop);
    v.scrollDOM.addEventListener("scroll", scrolled);
    actsRef.current.onView(v, { text: false, line: true });
    v.focus();
    return () => {
      v.scrollDOM.removeEventListener("scroll", scrolled);
      viewRef.current = null;
      v.destroy();
    };
  }, [script, actsRef, viewRef, onScroll]);
  const shown = useRef(replaced);
  useEffect(() => {
    const v = viewRef.current;
    if (!v || shown.current === replaced) return;
    shown.current = replaced;
    if (v.state.doc.toString() !== text) v.dispatch({ changes: { from: 0, to: v.state.doc.length, insert: text } });
  }, [replaced, text, viewRef]);
  return <div ref={host} className="h-full min-w-0" />;
}
