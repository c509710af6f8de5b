import { Download, Maximize2, X } from "lucide-react";
import { Dialog } from "radix-ui";
import { useMemo, useState, type ReactElement } from "react";
import { Link } from "react-router";
import { useValueQuery } from "../../api/api";
import type { Job, Output, Verification } from "../../api/schemas";
import { chartFromWire, ChartView, type XRange } from "../../parts/ChartView";
import { DataTable } from "../../parts/DataTable";
import { VerdictMark } from "../../parts/marks";
import { Name } from "../../parts/Name";
import { coverage } from "../script/cards";

const fileUrl = (job: number, file: string): string => `/api/jobs/${job}/files/${encodeURIComponent(file)}?download`;

/** The ending by which a file of an output is known. */
const ending = (file: string): string =>
  file.endsWith(".semicolon.csv") ? "csv;" : (file.split(".").pop() ?? file); // prettier-ignore

const MOST_LINKS = 8;

function Files({ job, output }: { job: number; output: Output }): ReactElement {
  const shown = output.files.slice(0, MOST_LINKS);
  return (
    <span className="ml-auto flex gap-2 [a+&]:ml-2">
      {shown.map((f) => <a key={f.file} className="link num text-xs" href={fileUrl(job, f.file)} download={f.file} title={`${f.file}, ${f.size} bytes, sha-256 ${f.sha256}`}>{ending(f.file)}</a>)}
      {output.files.length > shown.length && <span className="dim text-xs" title="All of them are in the archive of the whole job">and {output.files.length - shown.length} more</span>}
    </span>
  ); // prettier-ignore
}

/** What a chart or a table shows, filling its place. */
function Shown({ job, output }: { job: number; output: Output }): ReactElement {
  const [range, setRange] = useState<XRange | undefined>();
  const wanted = output.kind === "table" ? { to: 100 } : range ? { from: range[0], to: range[1] } : {};
  const { data } = useValueQuery({ job, name: output.name, ...wanted });
  const chart = useMemo(() => (data?.kind === "chart" ? chartFromWire(data.chart) : undefined), [data]);
  if (chart) return <ChartView chart={chart} label={output.name} range={range} onRange={setRange} />;
  if (data?.kind === "table") return <DataTable job={job} name={output.name} first={data} />;
  return <div className="dim p-3">{data ? "" : "Reading"}</div>;
}

function Piece({ job, output, onOpen }: { job: number; output: Output; onOpen: () => void }): ReactElement {
  const wide = output.kind === "table";
  const big = output.failed === undefined && (output.kind === "chart" || output.kind === "table");
  return (
    <article className={`flex flex-col border bg-sheet ${output.failed !== undefined || output.verdict === "failed" ? "border-oxide" : "border-rule"} ${wide ? "col-span-full" : ""}`} aria-label={output.name}>
      <header className="flex items-center gap-2 px-3 py-1.5">
        {output.kind === "check" && <VerdictMark verdict={output.verdict} />}
        <b className="num truncate"><Name text={output.name} most={30} /></b>
        <span className="dim truncate text-xs">{output.kind}{coverage(output) ? ` · ${coverage(output)}` : ""}</span>
        {output.kind === "table" && output.runs > 1 && output.failed === undefined && <Link className="link ml-auto text-xs" to={`/jobs/${job}/compare?${new URLSearchParams({ output: output.name, column: "" }).toString()}`}>Compare</Link>}
        <Files job={job} output={output} />
        {big && <button className="dim hover:text-ink" aria-label={`Open ${output.name} large`} onClick={onOpen}><Maximize2 size={13} /></button>}
      </header>
      {output.failed !== undefined && <p className="px-3 pb-2">not made: {output.failed}</p>}
      {big && <div className={wide ? "h-56" : "h-56 px-1 pb-1"}><Shown job={job} output={output} /></div>}
      {!big && output.summary !== undefined && <p className={`px-3 pb-2 ${output.kind === "value" ? "num text-md" : "whitespace-pre-wrap"}`}>{output.summary}</p>}
      {(output.left.length > 0 || output.notes.length > 0) && (
        <details className="px-3 pb-1.5 text-xs">
          <summary className="dim cursor-pointer">{output.left.length > 0 ? `${output.left.length} left out` : ""}{output.left.length > 0 && output.notes.length > 0 ? " · " : ""}{output.notes.length > 0 ? `${output.notes.length} note${output.notes.length === 1 ? "" : "s"}` : ""}</summary>
          {output.left.map((l) => <div key={l.run}><span className="num">{l.run}</span> {l.reason}</div>)}
          {output.notes.map((n, i) => <div key={i}>{n}</div>)}
        </details>
      )}
    </article>
  ); // prettier-ignore
}

function Verified({ result }: { result: Verification }): ReactElement {
  const off = result.outputs.filter((o) => o.verdict !== "same bytes" && o.verdict !== "same values");
  return (
    <div role="status" className={`mb-3 border bg-sheet px-3 py-2 ${result.same ? "border-patina" : "border-oxide"}`}>
      {result.same ? `Verified: run again with an empty cache, all ${result.outputs.length} outputs have the same bytes.` : `${off.length} of ${result.outputs.length} outputs differ.`}
      {off.map((o) => <div key={o.name}><b className="num">{o.name}</b> {o.verdict}{o.detail ? `: ${o.detail}` : ""}</div>)}
      {result.inputs.map((i) => <div key={i.path} className="num">input {i.change}: {i.study}/{i.path}</div>)}
      {result.notes.map((n) => <div key={n} className="dim">{n}</div>)}
    </div>
  ); // prettier-ignore
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
  const [large, setLarge] = useState<Output | undefined>();
  const { outputs } = job.live;
  const done = job.state === "done" && job.mode === "run";
  const rank: Readonly<Record<Output["kind"], number>> = { check: 0, value: 0, chart: 1, picture: 1, table: 2, text: 3, report: 0 };
  const order = [...outputs].sort((a, b) => rank[a.kind] - rank[b.kind]);
  return (
    <section className="h-full overflow-auto px-5 pt-4 pb-6" aria-label="Outputs">
      <div className="mb-3 flex items-baseline gap-3">
        <h2 className="text-md font-semibold">Outputs</h2>
        <span className="dim">{outputs.length}{job.state === "running" ? " so far" : ""}</span>
        <div className="ml-auto flex items-center gap-4">
          {done && <button className="link" disabled={verifying} onClick={onVerify}>{verifying ? "Verifying" : "Verify"}</button>}
          {done && <a className="link flex items-center gap-1" href={`/api/jobs/${job.id}/zip`}><Download size={13} /> Download all</a>}
        </div>
      </div>
      {verification && <Verified result={verification} />}
      {trouble !== undefined && <p role="alert" className="mb-3 text-oxide">{trouble}</p>}
      {outputs.length === 0 && <p className="dim">{job.state === "running" || job.state === "waiting" ? "Outputs appear here as soon as their runs are in." : "This job made no outputs."}</p>}
      <div className="grid grid-cols-2 items-start gap-3">{order.map((o) => <Piece key={o.name} job={job.id} output={o} onOpen={() => setLarge(o)} />)}</div>
      <Dialog.Root open={large !== undefined} onOpenChange={(o) => !o && setLarge(undefined)}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/25" />
          <Dialog.Content className="fixed inset-6 z-50 flex flex-col border border-rule bg-sheet shadow-lg" aria-describedby={undefined}>
            {large && (
              <>
                <header className="flex items-center gap-3 border-b border-rule px-4 py-2">
                  <Dialog.Title className="num font-semibold">{large.name}</Dialog.Title>
                  <span className="dim">{coverage(large)} · line {large.line}</span>
                  <Files job={job.id} output={large} />
                  <Dialog.Close aria-label="Close"><X size={15} /></Dialog.Close>
                </header>
                <div className="min-h-0 flex-1 p-2"><Shown job={job.id} output={large} /></div>
              </>
            )}
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </section>
  ); // prettier-ignore
}
