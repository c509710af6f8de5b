import { useEffect, useMemo, useState, type ReactElement } from "react";
import { useLocation } from "react-router";
import type { Guide } from "@oxtrum/contract";
import { errorText, useGuideQuery } from "../api";
import { Loading, Trouble } from "../frame/Empty";

/** Text with `code` in it. */
const Prose = ({ text }: { text: string }): ReactElement => (
  <>
    {text.split(/(`[^`]+`)/).map((part, k) =>
      part.startsWith("`") ? (
        <code key={k} className="num text-[12px]">
          {part.slice(1, -1)}
        </code>
      ) : (
        part
      ),
    )}
  </>
);

function Copied({ text }: { text: string }): ReactElement {
  const [done, setDone] = useState(false);
  const copy = (): void =>
    void navigator.clipboard.writeText(text).then(() => {
      setDone(true);
      setTimeout(() => setDone(false), 1200);
    });
  return (
    <button
      className="link dim ml-auto flex-none text-xs opacity-0 group-hover:opacity-100 focus-visible:opacity-100"
      onClick={copy}
    >
      {done ? "copied" : "copy"}
    </button>
  );
}

type Chapter = Guide[number];

/** The library's names, to go to, and what is looked for among them. */
function Contents(given: {
  chapters: readonly Chapter[];
  wanted: string;
  onWanted: (text: string) => void;
}): ReactElement {
  return (
    <nav className="w-58 flex-none overflow-auto border-r border-rule px-4 py-4" aria-label="Contents of the guide">
      <input
        className="field mb-3 w-full"
        placeholder="Find a name or a word"
        value={given.wanted}
        onChange={(e) => given.onWanted(e.target.value)}
        aria-label="Find in the guide"
      />
      {given.chapters.map((c) => (
        <div key={c.name} className="mb-3">
          <a className="font-semibold" href={`#${c.name}`}>
            {c.title}
          </a>
          <div className="flex flex-wrap gap-x-2">
            {c.entries.map((e) => (
              <a key={e.name} className="num link text-xs text-pencil hover:text-ink" href={`#${c.name}.${e.name}`}>
                {e.name}
              </a>
            ))}
          </div>
        </div>
      ))}
    </nav>
  );
}

/** A name of the library: what it does, examples, how it is called. */
function Entry({ id, entry }: { id: string; entry: Chapter["entries"][number] }): ReactElement {
  return (
    <article id={id} className="grid scroll-mt-4 grid-cols-[120px_1fr] gap-x-4 border-b border-soft py-2.5">
      <h3 className="num font-medium break-words text-oxide">{entry.name}</h3>
      <div className="min-w-0">
        {entry.text && (
          <p className="mb-1">
            <Prose text={entry.text} />
          </p>
        )}
        {entry.examples.map((x) => (
          <div
            key={x}
            className="group my-1 flex items-baseline gap-2 border-l-2 border-patina bg-sheet py-1 pr-2 pl-3"
          >
            <code className="num text-[12px] break-words whitespace-pre-wrap">{x}</code>
            <Copied text={x} />
          </div>
        ))}
        {entry.signatures.map((s) => (
          <code key={s} className="num dim block text-[11.5px] break-words">
            {s}
          </code>
        ))}
      </div>
    </article>
  );
}

/** The script library, name by name: what the editor shows, in the order of the work. */
export function GuidePage(): ReactElement {
  const { data, error } = useGuideQuery(undefined);
  const [wanted, setWanted] = useState("");
  const shown = useMemo(() => {
    const w = wanted.trim().toLowerCase();
    return (data ?? [])
      .map((c) => ({
        ...c,
        entries: c.entries.filter(
          (e) => w === "" || `${e.name} ${e.text} ${e.examples.join(" ")}`.toLowerCase().includes(w),
        ),
      }))
      .filter((c) => c.entries.length > 0);
  }, [data, wanted]);
  // A link to a name arrives before the text that it leads to.
  const { hash } = useLocation();
  const isThere = data !== undefined;
  useEffect(() => {
    if (isThere && hash !== "") document.getElementById(decodeURIComponent(hash.slice(1)))?.scrollIntoView();
  }, [isThere, hash]);
  if (error && !data) return <Trouble text={errorText(error)} />;
  if (!data) return <Loading what="Opening the guide" />;
  return (
    <div className="flex min-h-0 flex-1">
      <Contents chapters={shown} wanted={wanted} onWanted={setWanted} />
      <div className="min-h-0 flex-1 overflow-auto px-8 py-5">
        <h1 className="mb-1 text-lg font-semibold">The script library</h1>
        <p className="dim mb-5 max-w-170">
          Tables and values are lazy: verbs cost nothing, and a number is computed when{" "}
          <span className="num">emit</span> or <span className="num">.value</span> needs it. A script imports from{" "}
          <span className="num">"oxtrum"</span> and from scripts beside it, and from nothing else.
        </p>
        {shown.length === 0 && <p className="dim">No name or text of the library holds this word.</p>}
        {shown.map((c) => (
          <section key={c.name} id={c.name} className="mb-8 max-w-250 scroll-mt-4">
            <h2 className="border-b border-ink pb-1 text-md font-semibold">{c.title}</h2>
            {c.text && (
              <p className="dim mt-1">
                <Prose text={c.text} />
              </p>
            )}
            {c.entries.map((e) => (
              <Entry key={e.name} id={`${c.name}.${e.name}`} entry={e} />
            ))}
          </section>
        ))}
      </div>
    </div>
  );
}
