import { EditorState } from "@codemirror/state";
import { EditorView } from "@codemirror/view";
import { useEffect, useRef, type ReactElement, type RefObject } from "react";
import { extensions, type EditorActs } from "./editor-extensions";

/** The script's text. The view lives outside React; what happens in it is told through `acts`. */
export function Editor({ script, text, acts, view, onScroll }: { script: string; text: string; acts: RefObject<EditorActs>; view: RefObject<EditorView | null>; onScroll: (top: number) => void }): ReactElement {
  const host = useRef<HTMLDivElement>(null);
  const first = useRef(text);
  useEffect(() => {
    const steady: EditorActs = {
      onTry: () => acts.current.onTry(),
      onRun: () => acts.current.onRun(),
      onSave: () => acts.current.onSave(),
      onChecked: (d) => acts.current.onChecked(d),
      onView: (v, w) => acts.current.onView(v, w),
    };
    const v = new EditorView({ parent: host.current!, state: EditorState.create({ doc: first.current, extensions: extensions(script, steady) }) });
    view.current = v;
    const scrolled = (): void => onScroll(v.scrollDOM.scrollTop);
    v.scrollDOM.addEventListener("scroll", scrolled);
    acts.current.onView(v, { text: false, line: true });
    v.focus();
    return () => {
      v.scrollDOM.removeEventListener("scroll", scrolled);
      view.current = null;
      v.destroy();
    };
  }, [script, acts, view, onScroll]);
  return <div ref={host} className="h-full min-w-0" />;
}
