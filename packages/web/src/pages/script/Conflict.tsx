import { MergeView } from "@codemirror/merge";
import { EditorState } from "@codemirror/state";
import { EditorView } from "@codemirror/view";
import { useEffect, useRef, type ReactElement } from "react";
import type { Saved } from "../../drafts/draft";
import { readingExtensions } from "./editor-extensions";

/** The text that was saved elsewhere at the left, to be read; the one typed here at the right. */
const sideBySide = (parent: HTMLElement, theirs: string, mine: string): MergeView =>
  new MergeView({
    parent,
    a: {
      doc: theirs,
      extensions: [
        readingExtensions,
        EditorState.readOnly.of(true),
        EditorView.contentAttributes.of({ "aria-label": "Saved elsewhere" }),
      ],
    },
    b: {
      doc: mine,
      extensions: [readingExtensions, EditorView.contentAttributes.of({ "aria-label": "Your text" })],
    },
    revertControls: "a-to-b",
    gutter: true,
    collapseUnchanged: { margin: 4, minSize: 8 },
  });

/** Two texts of one script: the one that was saved elsewhere and the one typed here, to be made one. */
export function Conflict({
  name,
  theirs,
  mine,
  base,
  onResolve,
}: {
  name: string;
  theirs: Saved;
  mine: string;
  base: number;
  onResolve: (text: string) => void;
}): ReactElement {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<MergeView | null>(null);
  const first = useRef({ theirs: theirs.text, mine });
  useEffect(() => {
    const v = sideBySide(host.current!, first.current.theirs, first.current.mine);
    view.current = v;
    return () => v.destroy();
  }, []);
  const mineNow = (): string => view.current?.b.state.doc.toString() ?? mine;
  return (
    <section className="flex min-h-0 flex-1 flex-col" aria-label="Two texts of one script">
      <header className="flex flex-none items-center gap-3 border-b border-rule px-4 py-2">
        <div className="min-w-0">
          <h1 className="text-md font-semibold">
            <span className="num">{name}</span> was saved elsewhere while you were editing it
          </h1>
          <p className="dim text-xs">
            Your text builds on revision {base}; revision {theirs.revision} was saved since, in another tab or by
            somebody else. Edit the right side, take changes over with the arrows, then save.
          </p>
        </div>
        <div className="ml-auto flex flex-none gap-2">
          <button className="btn quiet" onClick={() => onResolve(theirs.text)}>
            Use revision {theirs.revision}
          </button>
          <button className="btn go" onClick={() => onResolve(mineNow())}>
            Save the right side
          </button>
        </div>
      </header>
      <div className="flex flex-none border-b border-soft text-xs">
        <span className="dim flex-1 px-4 py-1">Revision {theirs.revision}, saved elsewhere</span>
        <span className="dim flex-1 px-4 py-1">Your text, not saved yet</span>
      </div>
      <div ref={host} className="merge min-h-0 flex-1 overflow-auto" />
    </section>
  );
}
