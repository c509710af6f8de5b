import { useMemo, type ReactElement } from "react";
import { seriesColor, type ChartDescription, type Theme } from "@oxtrum/core/charts";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import type { Preview, TableValue } from "@oxtrum/contract";
import { ChartView } from "../../parts/chart/ChartView";
import { chartFromWire } from "../../parts/chart/chart-from-wire";
import type { Box } from "../../parts/chart/chart-props";
import { cellText } from "../../parts/DataTable";
import { Name } from "../../parts/Name";
import { outputCalled } from "./added";
import { pointsInBox, runsInBox, withMarkedPoints, withMarks, wordsOf } from "./marks";
import { onSharedAxes } from "./shared-axes";
import type { ViewName } from "./state";

interface Marking {
  readonly marked: ReadonlySet<string>;
  /** Marks these runs, or takes their marks away when all have one. */
  readonly onMark: (runs: readonly string[]) => void;
}

type Output = Preview["outputs"][number];

/** The colour of each run's curve in a look. */
export function curveColors(look: Preview | undefined, theme: Theme): ReadonlyMap<string, string> {
  const out = new Map<string, string>();
  for (const o of look?.outputs ?? [])
    if (o.value?.kind === "chart")
      for (const s of chartFromWire(o.value.chart).series)
        if (s.run !== undefined) out.set(s.run, seriesColor(theme, s));
  return out;
}

const chartOf = (o: Output | undefined): ChartDescription | undefined =>
  o?.value?.kind === "chart" ? chartFromWire(o.value.chart) : undefined;
const tableOf = (o: Output | undefined): TableValue | undefined =>
  o?.value?.kind === "table" ? (o.value as TableValue) : undefined;

/** A table of an output, ruled; rows of marked runs stand out, and a click marks. */
function Rows({
  table,
  marking,
  label,
}: {
  table: TableValue;
  marking?: Marking | undefined;
  label: string;
}): ReactElement {
  const runs = wordsOf(table, "run");
  return (
    <table className="ruled" aria-label={label}>
      <thead>
        <tr>
          {table.columns.map((c) => (
            <th key={c.name} className={c.kind === "number" ? "n" : ""}>
              <Name text={c.label ?? c.name} most={24} /> {displayUnit(c.unit)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {Array.from({ length: table.rows }, (_, i) => {
          const run = runs[i];
          const on = run !== undefined && marking?.marked.has(run) === true;
          return (
            <tr
              key={i}
              className={`${on ? "bg-oxide-wash" : ""} ${run !== undefined && marking ? "cursor-pointer hover:bg-paper" : ""}`}
              onClick={() => run !== undefined && marking?.onMark([run])}
            >
              {table.columns.map((c) => (
                <td key={c.name} className={c.kind === "number" ? "n" : c.name === "run" ? "num" : ""}>
                  {c.name === "run" ? (
                    <Name text={String(c.values[i] ?? "")} most={30} />
                  ) : (
                    cellText(c.values[i] ?? null)
                  )}
                </td>
              ))}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

const Notes = ({ notes }: { notes: readonly string[] }): ReactElement => (
  <div className="dim text-xs">
    {notes.map((n, i) => (
      <p key={i}>{n}</p>
    ))}
  </div>
);

function Curves({ output, marking }: { output: Output; marking: Marking }): ReactElement | null {
  const chart = useMemo(() => chartOf(output), [output]);
  // The runs below tell the colours where a legend would fill the chart.
  const shown = useMemo(
    () =>
      chart
        ? {
            ...withMarks(chart, marking.marked),
            ...(new Set(chart.series.map((s) => s.legend)).size > 10 && { legend: "none" as const }),
          }
        : undefined,
    [chart, marking.marked],
  );
  if (!chart || !shown) return null;
  return <ChartView chart={shown} label={output.name} onBrush={(b: Box) => marking.onMark(runsInBox(chart, b))} />;
}

/** Several charts on the same axes. */
function Multiples({ outputs, marking }: { outputs: readonly Output[]; marking: Marking }): ReactElement {
  const charts = useMemo(() => {
    const all = outputs.flatMap((o) => {
      const chart = chartOf(o);
      return chart ? [{ o, chart }] : [];
    });
    const shared = onSharedAxes(all.map(({ chart }) => chart));
    return all.map(({ o }, k) => ({ o, ...shared[k]! }));
  }, [outputs]);
  return (
    <div className="grid h-full auto-rows-[minmax(200px,1fr)] grid-cols-2 gap-2 overflow-auto">
      {charts.map(({ o, chart, whole }) => (
        <div key={o.name} className="min-h-0 border border-soft bg-sheet">
          <ChartView
            chart={withMarks(chart, marking.marked)}
            label={o.name}
            onBrush={(b) => marking.onMark(runsInBox(whole, b))}
          />
        </div>
      ))}
    </div>
  );
}

function ByParameter({ outputs, marking }: { outputs: readonly Output[]; marking: Marking }): ReactElement {
  const drawn = outputs.find((o) => o.kind === "chart");
  const fit = tableOf(outputCalled(outputs, " fit"));
  const rows = tableOf(outputCalled(outputs, "of each run"));
  const chart = useMemo(() => chartOf(drawn), [drawn]);
  const runs = useMemo(() => wordsOf(rows, "run"), [rows]);
  const failed = outputs.filter((o) => o.failed !== undefined);
  return (
    <div className="flex h-full min-h-0 flex-col gap-2">
      <div className="min-h-0 flex-1 border border-rule bg-sheet">
        {chart ? (
          <ChartView
            chart={withMarkedPoints(chart, runs, marking.marked)}
            label={drawn!.name}
            onBrush={(b) => marking.onMark(pointsInBox(chart, runs, b))}
          />
        ) : (
          <p className="dim p-4">{drawn?.failed}</p>
        )}
      </div>
      {fit && (
        <div className="goes-on on-paper max-h-44 flex-none overflow-auto">
          <p className="num pb-1">{fit.notes[0]}</p>
          <Rows table={fit} label="The fit" />
          <Notes notes={fit.notes.slice(1)} />
        </div>
      )}
      {failed.map((o) => (
        <p key={o.name} className="warn text-xs">
          {o.name}: {o.failed}
        </p>
      ))}
    </div>
  );
}

/** Correlations as a square of pairs: the size of a mark is |r|, its fill the sign. */
function Square({ table }: { table: TableValue }): ReactElement {
  const [a, b] = [wordsOf(table, "first"), wordsOf(table, "second")];
  const names = [...new Set([...a, ...b])];
  const value = (column: string, i: number): number | undefined => {
    const v = table.columns.find((c) => c.name === column)?.values[i];
    return typeof v === "number" ? v : undefined;
  };
  const of = (p: string, q: string): number =>
    a.findIndex((x, i) => (x === p && b[i] === q) || (x === q && b[i] === p));
  return (
    <table className="w-max border-collapse" aria-label="Correlations">
      <tbody>
        {names.map((p, row) => (
          <tr key={p}>
            {names.slice(0, row).map((q) => {
              const i = of(p, q);
              const r = i < 0 ? undefined : value("pearson", i);
              const rho = i < 0 ? undefined : value("spearman", i);
              const size = 34 * Math.sqrt(Math.abs(r ?? 0));
              return (
                <td
                  key={q}
                  className="h-13 w-24 border border-soft p-0 text-center align-middle"
                  title={
                    `${p} and ${q}: Pearson ${r === undefined ? "–" : formatNumber(r, 3)}, Spearman ` +
                    (rho === undefined ? "–" : formatNumber(rho, 3)) +
                    (i < 0 ? "" : `, p-value ${formatNumber(value("pValue", i) ?? Number.NaN, 2)}`)
                  }
                >
                  <div className="mx-auto flex h-10 w-20 items-center justify-center gap-1">
                    <svg className="flex-none" width="36" height="40" viewBox="2 0 36 40" aria-hidden>
                      <rect
                        x={20 - size / 2}
                        y={20 - size / 2}
                        width={size}
                        height={size}
                        fill={(r ?? 0) < 0 ? "none" : "var(--oxide-wash)"}
                        stroke={(r ?? 0) < 0 ? "var(--patina)" : "var(--oxide)"}
                        strokeDasharray={(r ?? 0) < 0 ? "3 2" : undefined}
                      />
                    </svg>
                    <span className="num w-10 text-right text-xs">{r === undefined ? "–" : formatNumber(r, 2)}</span>
                  </div>
                </td>
              );
            })}
            <th className="num h-13 px-2 text-left text-xs font-medium whitespace-nowrap">
              <Name text={p} most={22} />
            </th>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Correlation({ outputs }: { outputs: readonly Output[] }): ReactElement {
  const pairs = tableOf(outputCalled(outputs, "correlations"));
  const effects = tableOf(outputCalled(outputs, "effects"));
  return (
    <div className="flex h-full flex-col gap-4 overflow-auto">
      {pairs && (
        <div>
          <Square table={pairs} />
          <p className="dim pt-1 text-xs">
            Pearson&apos;s r; a dashed square is below zero. Spearman&apos;s ρ and the p-value on hover.
          </p>
        </div>
      )}
      {effects && (
        <div className="max-w-2xl">
          <h2 className="pb-1 font-semibold">Main effects</h2>
          <Rows table={effects} label="Main effects" />
          <Notes notes={effects.notes} />
        </div>
      )}
      {outputs
        .filter((o) => o.failed !== undefined)
        .map((o) => (
          <p key={o.name} className="warn text-xs">
            {o.name}: {o.failed}
          </p>
        ))}
    </div>
  );
}

/** What a look gave, drawn as its view wants it. */
export function ComparisonView({
  view,
  look,
  marking,
}: {
  view: ViewName;
  look: Preview;
  marking: Marking;
}): ReactElement {
  const { outputs } = look;
  if (view === "multiples") return <Multiples outputs={outputs} marking={marking} />;
  if (view === "parameter") return <ByParameter outputs={outputs} marking={marking} />;
  if (view === "correlation") return <Correlation outputs={outputs} />;
  if (view === "ranking") {
    const table = tableOf(outputs[outputs.length - 1]);
    return (
      <div className="goes-on on-paper h-full overflow-auto">
        {table && (
          <>
            <Rows table={table} marking={marking} label="Ranking" />
            <Notes notes={table.notes} />
          </>
        )}
      </div>
    );
  }
  const drawn = outputs.find((o) => o.kind === "chart" && o.failed === undefined);
  const table = view === "difference" ? tableOf(outputs.find((o) => o.kind === "table")) : undefined;
  return (
    <div className="flex h-full min-h-0 flex-col gap-2">
      <div className="min-h-0 flex-1 border border-rule bg-sheet">
        {drawn && <Curves output={drawn} marking={marking} />}
      </div>
      {table && (
        <div className="goes-on on-paper max-h-48 flex-none overflow-auto">
          <Rows table={table} marking={marking} label="Differences" />
        </div>
      )}
    </div>
  );
}
