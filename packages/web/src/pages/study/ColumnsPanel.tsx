import { useMemo, type ReactElement } from "react";
import { Link } from "react-router";
import type { ChartDescription } from "@oxtrum/core/charts";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import { errorText, useSeriesQuery } from "../../api";
import type { SeriesAnswer, StudySummary } from "@oxtrum/contract";
import { ChartView } from "../../parts/chart/ChartView";
import { count } from "../../parts/count";
import { Name } from "../../parts/Name";
import { logsOf } from "../live/logs";
import { FieldList, isMeshFile } from "./FieldList";
import { Working } from "../../parts/Working";

interface Pick {
  readonly file: string;
  readonly column: string;
}

/** The curves of a column, on the axes of the first; undefined where there is none. */
function chartOf(
  data: SeriesAnswer | undefined,
  pick: Pick | undefined,
  runs: readonly string[],
): ChartDescription | undefined {
  const good = data?.filter((s) => "x" in s) ?? [];
  if (!pick || good.length === 0) return undefined;
  const many = good.length > 8;
  return {
    x: { title: good[0]!.xName, unit: good[0]!.xUnit, scale: "linear" },
    y: { title: pick.column, unit: good[0]!.unit, scale: "linear" },
    legend: "none",
    series: good.map((s) => {
      const at = runs.indexOf(s.run);
      return {
        kind: "lines" as const,
        name: s.run,
        run: s.run,
        x: Float64Array.from(s.x, (v) => v ?? Number.NaN),
        y: Float64Array.from(s.y, (v) => v ?? Number.NaN),
        color: many ? { ramp: at / Math.max(1, runs.length - 1) } : { palette: at },
        dash: many ? 0 : at,
      };
    }),
  };
}

/** Why nothing is drawn. */
function reasonOf(data: SeriesAnswer | undefined, error: unknown, pick: Pick | undefined, runs: number): string {
  if (error) return errorText(error);
  if (runs === 0) return "Choose runs at the left to draw them.";
  const failed = data?.find((s) => "error" in s);
  if (failed) return failed.error;
  return pick ? "" : "There are no tables in these runs.";
}

/** Over what the curves range, and which are not there. */
function Ranges({ data }: { data: SeriesAnswer | undefined }): ReactElement {
  const ranges = (data ?? []).flatMap((s) => ("min" in s && s.min !== null && s.max !== null ? [s] : []));
  const failed = data?.filter((s) => "error" in s) ?? [];
  return (
    <div className="dim flex flex-wrap gap-4 py-2 text-xs">
      {ranges.length > 0 && (
        <span>
          from <span className="num">{formatNumber(Math.min(...ranges.map((r) => r.min!)), 4)}</span> to{" "}
          <span className="num">{formatNumber(Math.max(...ranges.map((r) => r.max!)), 4)}</span>{" "}
          {displayUnit(ranges[0]!.unit)} in {count(ranges.length, "run")}
        </span>
      )}
      {failed.map((f) => (
        <span key={f.run} className="warn" title={f.error}>
          {f.run} not drawn
        </span>
      ))}
      <span className="ml-auto">wheel or drag zooms, double-click fits</span>
    </div>
  );
}

/** The columns of a table, to be drawn. */
function TableColumns({
  file,
  of,
  pick,
  onPick,
}: {
  file: StudySummary["files"][number];
  /** Of how many runs. */
  of: number;
  pick: Pick | undefined;
  onPick: (p: Pick) => void;
}): ReactElement {
  return (
    <div className="border-t border-soft py-2">
      <div className="flex items-baseline gap-2 pb-1">
        <h3 className="num font-medium">
          <Name text={file.file} most={44} />
        </h3>
        <span className="dim text-xs">
          {count(file.columns!.length, "column")}
          {file.runs < of ? `, in ${file.runs} of ${of} runs` : ""}
        </span>
      </div>
      <div className="grid grid-cols-[repeat(auto-fill,minmax(150px,1fr))] gap-x-5">
        {file.columns!.map((c) => {
          const current = pick?.file === file.file && pick.column === c.name;
          const drawable = c.kind === "number" && c.name !== file.axis;
          return (
            <button
              key={c.name}
              disabled={!drawable}
              aria-pressed={current}
              onClick={() => onPick({ file: file.file, column: c.name })}
              className={
                "flex items-baseline gap-2 border-b border-soft py-0.5 text-left disabled:opacity-100 " +
                `${drawable ? "hover:border-oxide" : ""} ${current ? "text-oxide" : ""}`
              }
            >
              <span className={`num truncate ${drawable ? "font-medium" : "dim"}`} title={c.name}>
                {c.name}
              </span>
              <span className="dim text-xs">
                {displayUnit(c.unit) || (c.kind === "text" ? "text" : c.unit === "1" ? "" : "?")}
              </span>
            </button>
          );
        })}
      </div>
    </div>
  );
}

/** Logs, and what else lies in the runs and beside them. */
function OtherFiles({ study }: { study: StudySummary }): ReactElement {
  const { logs, others: rest } = logsOf(study);
  const others = rest.filter((f) => !isMeshFile(f));
  return (
    <>
      {logs.length > 0 && (
        <div className="border-t border-soft py-2">
          <h3 className="pb-1 font-medium">Logs</h3>
          {logs.map((f) => (
            <div key={f} className="flex items-baseline gap-3">
              <span className="num">{f}</span>
              <Link className="link text-xs" to={`live?${new URLSearchParams({ log: f }).toString()}`}>
                Values from this log
              </Link>
            </div>
          ))}
        </div>
      )}
      {(others.length > 0 || study.beside.length > 0) && (
        <div className="border-t border-soft py-2">
          <h3 className="pb-1 font-medium">Also there</h3>
          <p className="num dim">{others.join(" · ")}</p>
          {study.beside.length > 0 && (
            <p className="dim pt-1">
              Files beside the runs: <span className="num">{study.beside.map((f) => f.file).join(" · ")}</span>
            </p>
          )}
        </div>
      )}
    </>
  );
}

/** What is in the runs' files, and one column of it drawn for the chosen runs. */
export function ColumnsPanel({
  study,
  pick,
  onPick,
  runs,
}: {
  study: StudySummary;
  pick: Pick | undefined;
  onPick: (p: Pick) => void;
  runs: readonly string[];
}): ReactElement {
  const { data, error, isFetching } = useSeriesQuery(
    { study: study.name, file: pick?.file ?? "", column: pick?.column ?? "", runs: [...runs], points: 1600 },
    { skip: !pick || runs.length === 0 },
  );
  const file = study.files.find((f) => f.file === pick?.file);
  const chart = useMemo(() => chartOf(data, pick, runs), [data, pick, runs]);
  return (
    <section className="flex h-full flex-col overflow-auto px-5 pt-4 pb-6" aria-label="Data">
      <div className="flex items-baseline gap-3 pb-2">
        <h2 className="num truncate text-md font-semibold">{pick ? <Name text={pick.file} most={40} /> : "Data"}</h2>
        {file && (
          <span className="dim whitespace-nowrap">
            in {file.runs} of {count(study.runs.length, "run")}
          </span>
        )}
        {isFetching && <Working className="ml-auto h-1 w-16 self-center" what="Reading" />}
      </div>
      <div className="h-80 flex-none border border-rule bg-sheet">
        {chart ? (
          <ChartView chart={chart} label={pick!.column} />
        ) : (
          <div className="dim p-6">{reasonOf(data, error, pick, runs.length)}</div>
        )}
      </div>
      <Ranges data={data} />
      {study.files
        .filter((f) => f.columns !== null)
        .map((f) => (
          <TableColumns key={f.file} file={f} of={study.runs.length} pick={pick} onPick={onPick} />
        ))}
      <FieldList study={study} />
      <OtherFiles study={study} />
    </section>
  );
}
