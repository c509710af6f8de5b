import { useMemo, useState, type ReactElement } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { formatNumber, textsApart } from "@oxtrum/core/tables/number-format";
import { errorText, useJobDiffQuery, useJobQuery, useJobsQuery, useValueQuery } from "../../api";
import type { Job, JobDiff, OutputDiff } from "@oxtrum/contract";
import { Loading, Trouble } from "../../frame/Empty";
import { ChartView } from "../../parts/chart/ChartView";
import { chartFromWire } from "../../parts/chart/chart-from-wire";
import { cellText } from "../../parts/DataTable";
import { Name } from "../../parts/Name";
import { overlaid } from "./overlay";

const marks: Readonly<Record<OutputDiff["verdict"], { sign: string; tone: string }>> = {
  changed: { sign: "≠", tone: "text-oxide" },
  gone: { sign: "−", tone: "text-oxide" },
  new: { sign: "+", tone: "text-patina" },
  "within tolerance": { sign: "≈", tone: "text-pencil" },
  "same bytes": { sign: "=", tone: "text-pencil" },
};
const order: readonly OutputDiff["verdict"][] = ["changed", "gone", "new", "within tolerance", "same bytes"];

/** Which two jobs are compared, how it came out, and how far numbers may be apart. */
function Head({ diff, job, then, busy }: { diff: JobDiff; job: Job; then: number; busy: boolean }): ReactElement {
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const { data: jobs } = useJobsQuery(undefined);
  const { id } = job;
  const others = (jobs ?? []).filter(
    (j) => j.script === job.script && j.mode === "run" && j.state === "done" && j.id !== id,
  );
  const set = (name: "absolute" | "relative", v: string): void =>
    setSearch((s) => {
      if (v === "" || !(Number(v) >= 0)) s.delete(name);
      else s.set(name, v);
      return s;
    });
  return (
    <header className="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-b border-rule px-5 py-3">
      <h1 className="text-lg font-semibold">Compare jobs</h1>
      <label className="flex items-baseline gap-2">
        then
        <select
          className="field num"
          value={then}
          onChange={(e) => void navigate(`/jobs/${id}/since/${e.target.value}?${search.toString()}`)}
        >
          {others.map((j) => (
            <option key={j.id} value={j.id}>
              job {j.id}, revision {j.revision}
              {j.pinned ? ", reference" : ""}
            </option>
          ))}
        </select>
      </label>
      <span>
        now{" "}
        <Link className="link num" to={`/jobs/${id}`}>
          job {id}, revision {job.revision}
        </Link>
      </span>
      <span className={diff.verdict === "changed" ? "text-oxide" : "text-patina"}>{count(diff)}</span>
      <span className="ml-auto flex items-baseline gap-3">
        {(["absolute", "relative"] as const).map((n) => (
          <label key={n} className="flex items-baseline gap-2">
            {n} tolerance{" "}
            <input
              key={`${n}${search.get(n) ?? ""}`}
              className="field num w-20 text-right"
              defaultValue={Number(search.get(n) ?? 0) || ""}
              placeholder="0"
              aria-label={`${n} tolerance`}
              onBlur={(e) => set(n, e.target.value)}
              onKeyDown={(e) => e.key === "Enter" && set(n, e.currentTarget.value)}
            />
          </label>
        ))}
        {busy && (
          <span className="dim" role="status">
            Comparing
          </span>
        )}
      </span>
    </header>
  );
}

/** An output in the list, with what became of it. */
function Item({ output: o, open, onOpen }: { output: OutputDiff; open: boolean; onOpen: () => void }): ReactElement {
  return (
    <li>
      <button
        className={
          "grid w-full grid-cols-[18px_1fr] border-b border-soft py-1.5 text-left " +
          `${open ? "border-l-2 border-l-oxide pl-2" : ""}`
        }
        aria-current={open}
        onClick={onOpen}
      >
        <span className={marks[o.verdict].tone} aria-hidden>
          {marks[o.verdict].sign}
        </span>
        <span className="min-w-0">
          <b className="num font-medium">
            <Name text={o.name} most={32} />
          </b>{" "}
          <span className="dim text-xs">
            {o.kind}, {o.verdict}
          </span>
          {o.detail !== undefined && (
            <span className="dim block truncate text-xs" title={o.detail}>
              {o.detail}
            </span>
          )}
        </span>
      </button>
    </li>
  );
}

/** Two jobs side by side: what moved between them, output by output. */
export function SincePage(): ReactElement {
  const params = useParams();
  const [id, then] = [Number(params["job"]), Number(params["then"])];
  const [search] = useSearchParams();
  const tolerance = { absolute: Number(search.get("absolute") ?? 0), relative: Number(search.get("relative") ?? 0) };
  const { currentData: diff, error, isFetching } = useJobDiffQuery({ id, then, ...tolerance });
  const { data: job } = useJobQuery(id);
  const [chosen, setChosen] = useState<string | undefined>();
  if (error && !diff)
    return (
      <Trouble text={errorText(error)}>
        <Link className="link" to={`/jobs/${id}`}>
          To job {id}
        </Link>
      </Trouble>
    );
  if (!diff || !job) return <Loading what="Comparing the two jobs" />;
  const sorted = [...diff.outputs].sort((a, b) => order.indexOf(a.verdict) - order.indexOf(b.verdict));
  const open = sorted.find((o) => o.name === chosen) ?? sorted[0];
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <Head diff={diff} job={job} then={then} busy={isFetching} />
      <div className="flex min-h-0 flex-1">
        <nav className="w-96 overflow-auto border-r border-rule px-5 py-3" aria-label="Outputs">
          <Causes diff={diff} />
          <h2 className="mt-4 mb-1 border-b border-ink pb-1 font-semibold">Outputs</h2>
          <ul>
            {sorted.map((o) => (
              <Item key={o.name} output={o} open={open?.name === o.name} onOpen={() => setChosen(o.name)} />
            ))}
          </ul>
        </nav>
        <main className="min-w-0 flex-1 overflow-auto px-5 py-4" aria-label="Changed outputs">
          {open ? (
            <Moved key={open.name} output={open} now={id} then={then} />
          ) : (
            <p className="dim">Neither job has outputs.</p>
          )}
        </main>
      </div>
    </div>
  );
}

function count(d: JobDiff): string {
  const n = d.outputs.filter((o) => o.verdict === "changed" || o.verdict === "new" || o.verdict === "gone").length;
  if (n > 0) return `${n} of ${d.outputs.length} outputs changed`;
  return d.verdict === "same bytes"
    ? `all ${d.outputs.length} outputs have the same bytes`
    : "no change beyond the tolerances";
}

const MOST = 40;

/** What was changed between the jobs: lines, settings, runs, inputs. */
function Causes({ diff }: { diff: JobDiff }): ReactElement {
  const nothing = diff.script.length + diff.settings.length + diff.inputs.length + diff.runs.length === 0;
  return (
    <section aria-label="What was changed">
      <h2 className="mb-1 border-b border-ink pb-1 font-semibold">What was changed</h2>
      {nothing && <p className="dim py-1">Script, settings, runs and input files are the same.</p>}
      {diff.script.length > 0 && (
        <pre className="goes-on on-paper num overflow-x-auto py-1 text-xs leading-5">
          {diff.script.slice(0, MOST).map((l, i) => (
            <div key={i} className={l.now === undefined ? "text-pencil line-through" : "text-oxide"}>
              <span className="dim mr-2 inline-block w-7 text-right no-underline">{l.line}</span>
              {l.now ?? l.then}
            </div>
          ))}
        </pre>
      )}
      {diff.script.length > MOST && <p className="dim text-xs">{diff.script.length - MOST} more lines</p>}
      {diff.settings.map((s) => (
        <p key={s} className="py-0.5 text-xs">
          {s}
        </p>
      ))}
      {diff.runs.slice(0, MOST).map((r) => (
        <p key={`${r.study}/${r.run}`} className="py-0.5 text-xs">
          run <span className="num">{r.run}</span>{" "}
          {r.change === "parameters" ? "has other parameters" : r.change === "new" ? "is new" : "is gone"}
        </p>
      ))}
      {diff.runs.length > MOST && <p className="dim text-xs">{diff.runs.length - MOST} more runs</p>}
      {diff.inputs.slice(0, MOST).map((i) => (
        <p key={`${i.study}/${i.path}`} className="py-0.5 text-xs">
          input{" "}
          <span className="num">
            <Name text={`${i.study}/${i.path}`} most={38} />
          </span>{" "}
          {i.change === "changed" ? "changed" : i.change === "new" ? "is new" : "is gone"}
        </p>
      ))}
      {diff.inputs.length > MOST && <p className="dim text-xs">{diff.inputs.length - MOST} more inputs</p>}
    </section>
  );
}

function Moved({ output: o, now, then }: { output: OutputDiff; now: number; then: number }): ReactElement {
  return (
    <article aria-label={o.name}>
      <h2 className="num text-md font-semibold">{o.name}</h2>
      <p className={marks[o.verdict].tone}>
        {o.verdict}
        {o.detail !== undefined ? `: ${o.detail}` : ""}
      </p>
      {o.verdict === "same bytes" && <p className="dim py-2">Its files have the same bytes in both jobs.</p>}
      {o.cells && o.cells.length > 0 && <Cells output={o} />}
      {o.kind === "chart" && o.verdict !== "new" && o.verdict !== "gone" && (
        <BothCharts name={o.name} now={now} then={then} />
      )}
      {o.kind === "picture" && o.verdict !== "new" && o.verdict !== "gone" && (
        <BothPictures name={o.name} now={now} then={then} same={o.verdict === "same bytes"} />
      )}
      {o.kind === "table" && o.verdict === "changed" && !o.cells && (
        <p className="dim py-2">The two tables have no rows to hold side by side.</p>
      )}
    </article>
  );
}

/** The cells that moved, the largest change first. */
function Cells({ output: o }: { output: OutputDiff }): ReactElement {
  return (
    <>
      <table className="ruled mt-3">
        <thead>
          <tr>
            <th className="text-left">row</th>
            <th className="text-left">column</th>
            <th className="text-right">then</th>
            <th className="text-right">now</th>
            <th className="text-right">change</th>
            <th className="text-right">relative</th>
          </tr>
        </thead>
        <tbody>
          {o.cells!.map((c, i) => (
            <tr key={i}>
              <td className="num">{c.where || `row ${c.row}`}</td>
              <td className="num">{c.column}</td>
              {(typeof c.then === "number" && typeof c.now === "number"
                ? textsApart(c.then, c.now)
                : [cellText(c.then), cellText(c.now)]
              ).map((text, k) => (
                <td key={k} className="num text-right">
                  {text}
                </td>
              ))}
              <td className="num text-right">
                {c.change === undefined ? "" : `${c.change > 0 ? "+" : ""}${formatNumber(c.change, 4)}`}
              </td>
              <td className="num text-right">
                {c.relative === undefined ? "" : `${formatNumber(100 * c.relative, 3)} %`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {o.moved !== undefined && o.moved > o.cells!.length && (
        <p className="dim pt-1">{o.moved - o.cells!.length} more numbers changed, each by less.</p>
      )}
    </>
  );
}

function BothCharts({ name, now, then }: { name: string; now: number; then: number }): ReactElement {
  const a = useValueQuery({ job: then, name });
  const b = useValueQuery({ job: now, name });
  const both = useMemo(
    () =>
      a.data?.kind === "chart" && b.data?.kind === "chart"
        ? overlaid(chartFromWire(a.data.chart), chartFromWire(b.data.chart))
        : undefined,
    [a.data, b.data],
  );
  if (a.error || b.error) return <p className="dim py-2">The charts of these jobs are not kept any more.</p>;
  if (!both) return <p className="dim py-2">Reading both</p>;
  return (
    <>
      {both.apart !== undefined && <p className="pt-2 text-oxide">{both.apart}</p>}
      <div className="mt-3 h-[60vh] border border-rule bg-sheet">
        <ChartView chart={both.chart} label={`${name}, then and now`} />
      </div>
    </>
  );
}

function BothPictures({
  name,
  now,
  then,
  same,
}: {
  name: string;
  now: number;
  then: number;
  same: boolean;
}): ReactElement {
  const url = (job: number): string => `/api/jobs/${job}/pictures/${encodeURIComponent(name)}`;
  return (
    <div className="mt-3 grid grid-cols-2 gap-3">
      {(
        [
          [then, "then"],
          [now, "now"],
        ] as const
      ).map(([job, word]) => (
        <figure key={word} className="border border-rule bg-white">
          <img className="w-full" alt={`${name}, ${word}`} src={url(job)} />
          <figcaption className="px-2 py-1 text-xs text-[#5F6B6D]">{word}</figcaption>
        </figure>
      ))}
      {!same && (
        <figure className="col-span-2 border border-rule bg-white">
          <div className="relative isolate bg-black">
            <img className="w-full" alt="" src={url(then)} />
            <img
              className="absolute inset-0 w-full mix-blend-difference"
              alt={`${name}, the difference`}
              src={url(now)}
            />
          </div>
          <figcaption className="px-2 py-1 text-xs text-[#5F6B6D]">
            The difference: black is where both are the same.
          </figcaption>
        </figure>
      )}
    </div>
  );
}
