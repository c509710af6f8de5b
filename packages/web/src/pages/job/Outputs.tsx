import { Download, Maximize2 } from "lucide-react";
import { ToggleGroup } from "radix-ui";
import { useCallback, useState, type ReactElement } from "react";
import { Link } from "react-router";
import type { Job, Output, Verification } from "@oxtrum/contract";
import { VerdictMark } from "../../parts/marks";
import { Name } from "../../parts/Name";
import { OneOf } from "../../parts/OneOf";
import { coverage } from "../script/cards";
import { tableHeight } from "../../parts/DataTable";
import { Files } from "./Files";
import { LargeOutput } from "./LargeOutput";
import { isBig, Shown } from "./Shown";

function Piece({ job, output, onOpen }: { job: number; output: Output; onOpen: () => void }): ReactElement {
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
      <header className="px-3 py-1.5">
        <div className="flex items-center gap-2">
          {output.kind === "check" && <VerdictMark verdict={output.verdict} />}
          <b className="num truncate">
            <Name text={output.name} most={wide ? 60 : 34} />
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
          <span className="dim truncate text-xs">
            {output.kind}
            {coverage(output) ? ` · ${coverage(output)}` : ""}
          </span>
          <Files job={job} output={output} />
        </div>
      </header>
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
      {(output.left.length > 0 || output.notes.length > 0) && (
        <details className="px-3 pb-1.5 text-xs">
          <summary className="dim cursor-pointer">
            {output.left.length > 0 ? `${output.left.length} excluded` : ""}
            {output.left.length > 0 && output.notes.length > 0 ? " · " : ""}
            {output.notes.length > 0 ? `${output.notes.length} note${output.notes.length === 1 ? "" : "s"}` : ""}
          </summary>
          {output.left.map((l) => (
            <div key={l.run}>
              <span className="num">{l.run}</span> {l.reason} {l.hint}
            </div>
          ))}
          {output.notes.map((n, i) => (
            <div key={i}>{n}</div>
          ))}
        </details>
      )}
    </article>
  );
}

function Verified({ result }: { result: Verification }): ReactElement {
  const off = result.outputs.filter((o) => o.verdict !== "same bytes" && o.verdict !== "same values");
  return (
    <div role="status" className={`mb-3 border bg-sheet px-3 py-2 ${result.same ? "border-patina" : "border-oxide"}`}>
      {result.same
        ? `Verified: run again with an empty cache, all ${result.outputs.length} outputs have the same bytes.`
        : `${off.length} of ${result.outputs.length} outputs differ.`}
      {off.map((o) => (
        <div key={o.name}>
          <b className="num">{o.name}</b> {o.verdict}
          {o.detail ? `: ${o.detail}` : ""}
        </div>
      ))}
      {result.inputs.map((i) => (
        <div key={i.path} className="num">
          input {i.change}: {i.study}/{i.path}
        </div>
      ))}
      {result.notes.map((n) => (
        <div key={n} className="dim">
          {n}
        </div>
      ))}
    </div>
  );
}

/** What the job has made, each with its files. */
export function Outputs({
  job,
  verification,
  verifying,
  trouble,
  onVerify,
}: {
  job: Job;
  verification: Verification | undefined;
  verifying: boolean;
  trouble: string | undefined;
  onVerify: () => void;
}): ReactElement {
  const [large, setLarge] = useState<string | undefined>();
  const [view, setView] = useState<"gallery" | "list">("gallery");
  const [filter, setFilter] = useState<Filter>({ kinds: [], words: "", run: "" });
  const { outputs } = job.live;
  const done = job.state === "done" && job.mode === "run";
  const shown = [...outputs].filter((o) => passes(o, filter)).sort((a, b) => rankOf(a.kind) - rankOf(b.kind));
  const open = large === undefined ? undefined : shown.find((o) => o.name === large);
  const step = useCallback(
    (by: number) => {
      const at = shown.findIndex((o) => o.name === large);
      if (at >= 0) setLarge(shown[(at + by + shown.length) % shown.length]!.name);
    },
    [large, shown],
  );
  return (
    <section className="h-full overflow-auto px-5 pt-4 pb-6" aria-label="Outputs">
      <div className="mb-2 flex items-baseline gap-3">
        <h2 className="text-md font-semibold">Outputs</h2>
        <span className="dim">
          {shown.length < outputs.length ? `${shown.length} of ${outputs.length}` : outputs.length}
          {job.state === "running" ? " so far" : ""}
        </span>
        <div className="ml-auto flex items-center gap-4">
          {done && (
            <button className="link" disabled={verifying} onClick={onVerify}>
              {verifying ? "Verifying" : "Verify"}
            </button>
          )}
          {done && (
            <a
              className="link flex items-center gap-1"
              href={`/api/jobs/${job.id}/zip`}
              title="Script, study definitions, manifest and outputs; oxtrum run takes it as it is"
            >
              <Download size={13} /> Archive
            </a>
          )}
        </div>
      </div>
      {outputs.length > 4 && (
        <Filters
          outputs={outputs}
          runs={job.live.runs.map((r) => r.id)}
          filter={filter}
          onFilter={setFilter}
          view={view}
          onView={setView}
        />
      )}
      {verification && <Verified result={verification} />}
      {trouble !== undefined && (
        <p role="alert" className="mb-3 text-oxide">
          {trouble}
        </p>
      )}
      {outputs.length === 0 && (
        <p className="dim">
          {job.state === "running" || job.state === "waiting"
            ? "Outputs appear here as soon as their runs are in."
            : "This job made no outputs."}
        </p>
      )}
      {outputs.length > 0 && shown.length === 0 && (
        <p className="dim">
          No output is like this.{" "}
          <button className="link" onClick={() => setFilter({ kinds: [], words: "", run: "" })}>
            Show all
          </button>
        </p>
      )}
      {view === "gallery" ? (
        <div className="grid grid-cols-[repeat(auto-fill,minmax(min(100%,330px),1fr))] items-start gap-3">
          {shown.map((o) => (
            <Piece key={o.name} job={job.id} output={o} onOpen={() => setLarge(o.name)} />
          ))}
        </div>
      ) : (
        <OutputList job={job.id} outputs={shown} onOpen={setLarge} />
      )}
      {open && <LargeOutput job={job} output={open} onClose={() => setLarge(undefined)} onStep={step} />}
    </section>
  );
}

/** Kinds of outputs in the order in which they are read; of equal ones in that of the script. */
const ranks: ReadonlyMap<string, number> = new Map([
  ["check", 0],
  ["value", 0],
  ["report", 0],
  ["chart", 1],
  ["picture", 1],
  ["table", 2],
]);
const rankOf = (kind: string): number => ranks.get(kind) ?? 3;

interface Filter {
  readonly kinds: readonly Output["kind"][];
  readonly words: string;
  /** Only outputs that hold this run. */
  readonly run: string;
}

const passes = (o: Output, f: Filter): boolean =>
  (f.kinds.length === 0 || f.kinds.includes(o.kind)) &&
  (f.words === "" || o.name.toLowerCase().includes(f.words.toLowerCase())) &&
  (f.run === "" || (o.of ? o.of.includes(f.run) : o.runs > 0 && !o.left.some((l) => l.run === f.run)));

function Filters({
  outputs,
  runs,
  filter,
  onFilter,
  view,
  onView,
}: {
  outputs: readonly Output[];
  runs: readonly string[];
  filter: Filter;
  onFilter: (f: Filter) => void;
  view: "gallery" | "list";
  onView: (v: "gallery" | "list") => void;
}): ReactElement {
  const kinds = [...new Set(outputs.map((o) => o.kind))].sort((a, b) => rankOf(a) - rankOf(b));
  const chip = (on: boolean): string =>
    `border px-2 py-0.5 text-xs ${on ? "border-oxide text-oxide" : "border-rule text-pencil hover:text-ink"}`;
  return (
    <div className="mb-3 flex flex-wrap items-center gap-x-2 gap-y-1.5" role="group" aria-label="Which outputs">
      <ToggleGroup.Root
        type="multiple"
        className="flex flex-wrap gap-2"
        aria-label="Kinds of outputs"
        value={[...filter.kinds]}
        onValueChange={(chosen) => onFilter({ ...filter, kinds: kinds.filter((k) => chosen.includes(k)) })}
      >
        {kinds.map((k) => (
          <ToggleGroup.Item key={k} value={k} className={chip(filter.kinds.includes(k))}>
            {k} {outputs.filter((o) => o.kind === k).length}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
      <input
        className="field w-32"
        type="search"
        placeholder="Name"
        aria-label="Part of the name"
        value={filter.words}
        onChange={(e) => onFilter({ ...filter, words: e.target.value })}
      />
      <input
        className="field num w-36"
        list="runs-of-job"
        placeholder="Run"
        aria-label="Outputs that hold a run"
        value={filter.run}
        onChange={(e) => onFilter({ ...filter, run: e.target.value })}
      />
      <datalist id="runs-of-job">
        {[...new Set(runs)].slice(0, 500).map((r) => (
          <option key={r} value={r} />
        ))}
      </datalist>
      <span className="ml-auto">
        <OneOf
          label="How outputs are shown"
          value={view}
          options={[
            ["gallery", "Gallery"],
            ["list", "List"],
          ]}
          onChange={onView}
          joined
        />
      </span>
    </div>
  );
}

function OutputList({
  job,
  outputs,
  onOpen,
}: {
  job: number;
  outputs: readonly Output[];
  onOpen: (name: string) => void;
}): ReactElement {
  return (
    <table className="ruled w-full">
      <thead>
        <tr>
          <th className="text-left">output</th>
          <th className="text-left">kind</th>
          <th className="text-left">holds</th>
          <th className="text-right">line</th>
          <th className="text-left">files</th>
        </tr>
      </thead>
      <tbody>
        {outputs.map((o) => (
          <tr key={o.name}>
            <td>
              <button className="link num text-left" onClick={() => onOpen(o.name)}>
                <Name text={o.name} most={34} />
              </button>
            </td>
            <td className="dim">
              {o.kind === "check" ? (
                <span className="inline-flex items-center gap-1.5">
                  <VerdictMark verdict={o.verdict} /> check
                </span>
              ) : (
                o.kind
              )}
            </td>
            <td className={o.failed === undefined ? "max-w-80 truncate" : "text-oxide"}>
              {o.failed !== undefined ? `not made: ${o.failed}` : (o.summary ?? coverage(o))}
            </td>
            <td className="num text-right">{o.line}</td>
            <td>
              <Files job={job} output={o} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
