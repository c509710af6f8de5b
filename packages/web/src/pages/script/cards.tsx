import { Fragment, useLayoutEffect, useMemo, useRef, type ReactElement, type ReactNode } from "react";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import { useValueQuery } from "../../api";
import type { Diagnostic, Output, TableValue } from "@oxtrum/contract";
import { ChartView } from "../../parts/chart/ChartView";
import { chartFromWire } from "../../parts/chart/chart-from-wire";
import { cellText } from "../../parts/DataTable";
import { VerdictMark } from "../../parts/marks";
import { count } from "../../parts/count";
import { Name } from "../../parts/Name";

/** How many runs an output holds, in words that agree with what ran. */
export function coverage(o: Output): string {
  const out = o.left.length + (o.notTried ?? 0);
  if (o.runs === 0 && out === 0) return o.rows === undefined ? "" : count(o.rows, "row");
  return out > 0 ? `${o.runs} of ${count(o.runs + out, "run")}` : count(o.runs, "run");
}

function Card({
  children,
  strong = false,
  onHeight,
}: {
  children: ReactNode;
  strong?: boolean;
  onHeight: (h: number) => void;
}): ReactElement {
  const ref = useRef<HTMLElement>(null);
  useLayoutEffect(() => {
    const watch = new ResizeObserver(
      () => ref.current && ref.current.dataset["open"] === "true" && onHeight(ref.current.offsetHeight),
    );
    watch.observe(ref.current!);
    return () => watch.disconnect();
  });
  return (
    <article
      ref={ref}
      data-open="true"
      className={`border bg-sheet ${strong ? "border-oxide" : "border-rule"}`}
      style={{ borderRadius: 3 }}
    >
      {children}
    </article>
  );
}

function Head({
  name,
  what,
  line,
  mark,
  onLine,
}: {
  name: string;
  what: ReactNode;
  line: number;
  mark?: ReactNode;
  onLine: (l: number) => void;
}): ReactElement {
  return (
    <header className="flex h-7 items-center gap-2 px-2.5">
      {mark}
      <b className="num truncate text-[12.5px] font-semibold" title={name}>
        <Name text={name} most={26} />
      </b>
      <span className="dim truncate text-xs">{what}</span>
      <button
        className="num ml-auto text-[11px] text-oxide hover:underline"
        title={`Line ${line}`}
        onClick={() => onLine(line)}
      >
        {line}
      </button>
    </header>
  );
}

function MiniTable({ value }: { value: TableValue }): ReactElement {
  const columns = value.columns.slice(0, 5);
  const shown = Math.min(value.rows, 4);
  return (
    <div className="overflow-hidden">
      <table className="w-full border-collapse">
        <thead>
          <tr className="border-b border-ink">
            {columns.map((c) => (
              <th
                key={c.name}
                className={`px-2 py-0.5 text-xs font-medium text-pencil ${c.kind === "number" ? "text-right" : "text-left"}`}
              >
                <Name text={c.label ?? c.name} most={14} /> {displayUnit(c.unit)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {Array.from({ length: shown }, (_, i) => (
            <tr key={i} className="border-b border-soft">
              {columns.map((c) => (
                <td
                  key={c.name}
                  className={`px-2 py-0.5 text-xs ${c.kind === "number" ? "num text-right" : "max-w-24 truncate"}`}
                >
                  {cellText(c.values[i] ?? null)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <div className="dim px-2.5 py-1 text-xs">
        {value.rows > shown
          ? `${formatNumber(value.rows - shown)} more ${value.rows - shown === 1 ? "row" : "rows"}`
          : count(value.rows, "row")}
        {value.columns.length > columns.length && ` · ${value.columns.length - columns.length} more columns`}
      </div>
    </div>
  );
}

/** What a fit or a comparison with a reference says, number by number, with what was done. */
function Block({ value }: { value: TableValue }): ReactElement {
  const of = (name: string, i: number): number | string | null =>
    value.columns.find((c) => c.name === name)?.values[i] ?? null;
  const fit = value.columns[0]?.name === "term";
  return (
    <div className="px-2.5 pb-1.5 text-xs">
      {fit && <p className="num pb-1 text-[12.5px]">{value.notes[0]}</p>}
      <dl className="grid grid-cols-[max-content_1fr] gap-x-3">
        {Array.from({ length: value.rows }, (_, i) => (
          <Fragment key={i}>
            <dt className="dim">{of(value.columns[0]!.name, i)}</dt>
            <dd className="num">
              {cellText(of("value", i))}
              {fit && <span className="dim"> ± {cellText(of("error", i))}</span>}{" "}
              {displayUnit(String(of("unit", i) ?? ""))}
            </dd>
          </Fragment>
        ))}
      </dl>
      {value.notes.slice(fit ? 1 : 0).map((n, i) => (
        <p key={i} className="dim">
          {n}
        </p>
      ))}
    </div>
  );
}

/** Whether a table is the numbers of a fit or of a comparison with a reference. */
const isBlock = (v: TableValue): boolean =>
  ["term", "measure"].includes(v.columns[0]?.name ?? "") && v.columns[1]?.name === "value" && v.rows <= 20;

/** Which runs are not in an output, and why. */
function Excluded({ output: { left } }: { output: Output }): ReactElement | null {
  const [first] = left;
  if (!first) return null;
  return (
    <div className="dim px-2.5 pb-1.5 text-xs">
      {first.run} excluded: {first.reason}
      {left.length > 1 ? `, and ${left.length - 1} more` : ""}
    </div>
  );
}

/** A chart or a table, small. Until new values are here, those before stay, faded. */
function Values({ output, job }: { output: Output; job: number }): ReactElement {
  const { data, currentData } = useValueQuery({
    job,
    name: output.name,
    ...(output.kind === "table" && { to: 20 }),
  });
  const isOld = data !== undefined && currentData === undefined;
  const faded = isOld ? "opacity-40" : "";
  const chart = useMemo(() => (data?.kind === "chart" ? chartFromWire(data.chart) : undefined), [data]);
  if (output.kind === "chart")
    return chart ? (
      <div className={`h-42 px-1.5 pb-1 ${faded}`} aria-busy={isOld}>
        <ChartView chart={chart} small label={output.name} />
      </div>
    ) : (
      <div className="h-42" />
    );
  return (
    <div className={faded} aria-busy={isOld}>
      {data?.kind !== "table" ? (
        <div className="h-24" />
      ) : isBlock(data) ? (
        <Block value={data} />
      ) : (
        <MiniTable value={data} />
      )}
    </div>
  );
}

function Body({ output, job }: { output: Output; job: number }): ReactElement {
  const { kind, name, summary } = output;
  if (output.failed !== undefined) return <p className="px-2.5 pb-2 text-xs">not made: {output.failed}</p>;
  if (kind === "chart" || kind === "table" || kind === "picture")
    return (
      <>
        {kind === "picture" ? (
          <img
            className="h-42 w-full bg-white object-contain"
            alt={name}
            src={`/api/jobs/${job}/pictures/${encodeURIComponent(name)}`}
          />
        ) : (
          <Values output={output} job={job} />
        )}
        <Excluded output={output} />
      </>
    );
  if (kind === "report")
    return (
      <p className="px-2.5 pb-2 text-xs">
        Holds {summary}.{" "}
        <a
          className="link"
          target="_blank"
          rel="noreferrer"
          href={`/api/jobs/${job}/reports/${encodeURIComponent(name)}`}
        >
          Read it
        </a>
      </p>
    );
  if (kind === "check") return <p className="px-2.5 pb-2 text-xs">{summary}</p>;
  return <p className={`px-2.5 pb-2 ${kind === "value" ? "num text-sm" : "text-xs whitespace-pre-wrap"}`}>{summary}</p>;
}

/** What one line emitted: open, or folded to one line. */
export function OutputCard({
  output,
  job,
  open,
  onHeight,
  onLine,
}: {
  output: Output;
  job: number;
  open: boolean;
  onHeight: (h: number) => void;
  onLine: (l: number) => void;
}): ReactElement {
  const what =
    output.failed !== undefined
      ? "not made"
      : output.kind === "check"
        ? open
          ? "check"
          : output.verdict
        : output.kind === "value" && !open
          ? output.summary
          : [output.kind, coverage(output)].filter((t) => t !== "").join(" · ");
  const strong = output.failed !== undefined || output.verdict === "failed";
  const mark = output.kind === "check" ? <VerdictMark verdict={output.verdict} /> : undefined;
  return (
    <Card strong={strong} onHeight={open ? onHeight : () => undefined}>
      <Head name={output.name} what={what} line={output.line} onLine={onLine} mark={mark} />
      {open && <Body output={output} job={job} />}
    </Card>
  );
}

/** An error or a warning, with what would put it right. */
export function DiagnosticCard({
  diagnostic: d,
  open,
  onHeight,
  onLine,
  onFix,
}: {
  diagnostic: Diagnostic;
  open: boolean;
  onHeight: (h: number) => void;
  onLine: (l: number) => void;
  onFix: (d: Diagnostic, fix: string) => void;
}): ReactElement {
  return (
    <Card strong={d.severity === "error"} onHeight={open ? onHeight : () => undefined}>
      <div className={`flex gap-2 px-2.5 py-1.5 text-xs ${open ? "" : "h-7 items-center"}`}>
        <span className={open ? "" : "truncate"}>
          {d.severity === "warning" && <span className="dim">warning: </span>}
          {d.message}{" "}
          {open &&
            d.fixes.slice(0, 3).map((f) => (
              <button key={f} className="pill mr-1" onClick={() => onFix(d, f)}>
                {f}
              </button>
            ))}
        </span>
        <button
          className="num ml-auto flex-none self-start text-[11px] text-oxide hover:underline"
          onClick={() => onLine(d.line)}
        >
          {d.file.endsWith(".ts") ? d.line : ""}
        </button>
      </div>
    </Card>
  );
}
