import { Maximize2 } from "lucide-react";
import type { ReactElement } from "react";
import { Link } from "react-router";
import type { Output } from "@oxtrum/contract";
import { count } from "../../parts/count";
import { tableHeight } from "../../parts/DataTable";
import { VerdictMark } from "../../parts/marks";
import { Name } from "../../parts/Name";
import { coverage } from "../script/cards";
import { Files } from "./Files";
import { isBig, Shown } from "./Shown";

/** An output in the gallery: what it is, its files, what it shows, what was excluded and is to be noted. */
export function Piece({ job, output, onOpen }: { job: number; output: Output; onOpen: () => void }): ReactElement {
  const wide = output.kind === "table";
  const big = isBig(output) && output.kind !== "report";
  return (
    <article
      className={
        "flex flex-col border bg-sheet " +
        `${output.failed !== undefined || output.verdict === "failed" ? "border-oxide" : "border-rule"} ` +
        `${wide ? "col-span-full" : ""}`
      }
      aria-label={output.name}
    >
      <Head job={job} output={output} onOpen={onOpen} most={wide ? 60 : 34} />
      {output.failed !== undefined && <p className="px-3 pb-2">not made: {output.failed}</p>}
      {big && (
        <div
          className={wide ? "max-h-56" : "h-56 px-1 pb-1"}
          style={wide ? { height: tableHeight(output.rows ?? 8) } : undefined}
        >
          <Shown job={job} output={output} />
        </div>
      )}
      {!big && output.summary !== undefined && (
        <p className={`px-3 pb-2 ${output.kind === "value" ? "num text-md" : "whitespace-pre-wrap"}`}>
          {output.summary}
        </p>
      )}
      <Remarks of={output} />
    </article>
  );
}

interface HeadProps {
  readonly job: number;
  readonly output: Output;
  readonly onOpen: () => void;
  /** Letters that its name has room for. */
  readonly most: number;
}

/** Name, kind and files of an output, and ways to look closer. */
function Head({ job, output, onOpen, most }: HeadProps): ReactElement {
  const covered = coverage(output);
  return (
    <header className="px-3 py-1.5">
      <div className="flex items-center gap-2">
        {output.kind === "check" && <VerdictMark verdict={output.verdict} />}
        <b className="num truncate">
          <Name text={output.name} most={most} />
        </b>
        {output.kind === "table" && output.runs > 1 && output.failed === undefined && (
          <Link
            className="link ml-auto text-xs"
            to={`/jobs/${job}/compare?${new URLSearchParams({ output: output.name, column: "" }).toString()}`}
          >
            Compare
          </Link>
        )}
        <button
          className="dim ml-auto hover:text-ink [a+&]:ml-0"
          aria-label={`Open ${output.name} large`}
          onClick={onOpen}
        >
          <Maximize2 size={13} />
        </button>
      </div>
      <div className="flex items-baseline gap-2">
        <span className="dim truncate text-xs">{[output.kind, covered].filter((t) => t !== "").join(" · ")}</span>
        <Files job={job} output={output} />
      </div>
    </header>
  );
}

/** Runs that are excluded, with the reasons, and what is to be noted. */
function Remarks({ of: { left, notes } }: { of: Output }): ReactElement | null {
  if (left.length === 0 && notes.length === 0) return null;
  const told = [
    ...(left.length > 0 ? [`${left.length} excluded`] : []),
    ...(notes.length > 0 ? [count(notes.length, "note")] : []),
  ];
  return (
    <details className="px-3 pb-1.5 text-xs">
      <summary className="dim cursor-pointer">{told.join(" · ")}</summary>
      {left.map((l) => (
        <div key={l.run}>
          <span className="num">{l.run}</span> {l.reason} {l.hint}
        </div>
      ))}
      {notes.map((n, i) => (
        <div key={i}>{n}</div>
      ))}
    </details>
  );
}
