import { useCallback, useState, type ReactElement } from "react";
import { shortNames, type ChartDescription } from "@oxtrum/core/charts";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { convertValues, displayUnit, stepOf } from "@oxtrum/core/tables/units";
import type { LiveRun, LiveSeries } from "@oxtrum/contract";
import { ChartView } from "../../parts/chart/ChartView";
import type { XRange } from "../../parts/chart/chart-props";
import { Name } from "../../parts/Name";
import { SeriesSwatch } from "../study/SeriesSwatch";
import { quantityName, type ShownQuantity } from "./state";

interface Member {
  readonly run: LiveRun;
  readonly series: LiveSeries;
  /** Its place among the drawn runs. */
  readonly at: number;
}

/** Values in the unit of the axis; undefined where they cannot be drawn on it. */
function inUnit(
  list: readonly (number | null)[] | undefined,
  from: string | null,
  to: string | null,
): Float64Array | undefined {
  const values = Float64Array.from(list ?? [], (v) => v ?? Number.NaN);
  if (from === to) return values;
  if (from === null || to === null) return undefined;
  try {
    return convertValues(values, from, to);
  } catch {
    return undefined;
  }
}

/** The runs of a quantity that can be drawn in one chart, and why others cannot. */
function describe(
  members: readonly Member[],
  q: ShownQuantity,
  total: number,
): { chart?: ChartDescription; apart: string[] } {
  const good = members.filter((m) => m.series.x !== undefined);
  const apart = members.flatMap((m) => (m.series.error === undefined ? [] : [`${m.run.id}: ${m.series.error}`]));
  const [first] = good;
  if (!first) return { apart };
  const [xUnit, yUnit] = [first.series.xUnit ?? null, first.series.unit ?? null];
  const same = good.flatMap((m) => {
    const x = inUnit(m.series.x, m.series.xUnit ?? null, xUnit);
    const y = inUnit(m.series.y, m.series.unit ?? null, yUnit);
    if (x && y) return [{ ...m, x, y }];
    const own = displayUnit(m.series.unit ?? null) || "no unit";
    apart.push(`${m.run.id}: in ${own} over ${m.series.xName ?? ""}, the others in ${displayUnit(yUnit) || "no unit"}`);
    return [];
  });
  for (const m of same) {
    for (const n of m.series.notes ?? []) apart.push(`${m.run.id}: ${n}`);
    if (q.log && m.y.some((v) => v <= 0)) apart.push(`${m.run.id}: values of 0 or less are not on a log scale`);
  }
  const names = shortNames(same.map((m) => m.run.id));
  const many = total > 8;
  return {
    apart,
    chart: {
      x: { title: first.series.xName ?? "", unit: xUnit, scale: "linear" },
      y: { title: quantityName(q.quantity), unit: yUnit, scale: q.log ? "log" : "linear" },
      legend: "none",
      ...(q.level !== undefined && { marks: [{ y: q.level, text: "level" }] }),
      series: same.map((m) => ({
        kind: "lines" as const,
        name: names.get(m.run.id) ?? m.run.id,
        run: m.run.id,
        x: m.x,
        y: q.log ? m.y.map((v) => (v <= 0 ? Number.NaN : v)) : m.y,
        color: many ? { ramp: m.at / Math.max(1, total - 1) } : { palette: m.at },
        dash: many ? 0 : m.at,
      })),
    },
  };
}

const MAX_LAST = 6;

/** The last values of the drawn runs, and how they change. */
function LastValues({ members, total }: { members: readonly Member[]; total: number }): ReactElement {
  const names = shortNames(members.map((m) => m.run.id));
  const shown = members.filter((m) => m.series.last !== undefined).slice(0, MAX_LAST);
  return (
    <div className="flex flex-wrap gap-x-4 gap-y-0.5 pt-1 text-xs" role="group" aria-label="Last values">
      {shown.map(({ run, series, at }) => {
        const unit = displayUnit(series.unit ?? null);
        const per = displayUnit(series.xUnit ?? null) || series.xName;
        // A difference has no zero of its own: that of °C is in K.
        const step = stepOf(series.unit ?? null);
        const slope = typeof series.slope === "number" ? series.slope * step.factor : undefined;
        const change = displayUnit(step.unit);
        return (
          <span
            key={run.id}
            className="flex items-center gap-1.5 whitespace-nowrap"
            title={`${run.id}: ${run.because}`}
          >
            <SeriesSwatch index={at} total={total} />
            <span className="dim num">{names.get(run.id) ?? run.id}</span>
            <b className="num font-medium" data-last={series.last ?? ""}>
              {series.last === undefined || series.last === null ? "–" : formatNumber(series.last, 5)} {unit}
            </b>
            {slope !== undefined && (
              <span className="dim num">
                {slope >= 0 ? "+" : "−"}
                {formatNumber(Math.abs(slope), 2)} {change ? `${change}/` : "per "}
                {per}
              </span>
            )}
          </span>
        );
      })}
      {members.length > MAX_LAST && <span className="dim">and {members.length - MAX_LAST} more runs</span>}
    </div>
  );
}

interface CaptionProps {
  readonly q: ShownQuantity;
  /** The run, where it has a chart of its own. */
  readonly title: string | undefined;
  readonly onChange: (q: ShownQuantity) => void;
  readonly onRemove: (() => void) | undefined;
}

/** What a chart shows and how, and what can be changed of it. */
function Caption({ q, title, onChange, onRemove }: CaptionProps): ReactElement {
  const name = quantityName(q.quantity);
  const toggle = (on: boolean, text: string, next: Partial<ShownQuantity>): ReactElement => (
    <button
      aria-pressed={on}
      className={on ? "border-b-2 border-oxide" : "dim hover:text-ink"}
      onClick={() => onChange({ ...q, ...next })}
    >
      {text}
    </button>
  );
  return (
    <figcaption className="flex items-baseline gap-3 pb-1 text-xs">
      <b className="num text-sm font-semibold">
        <Name text={title ?? name} most={30} />
      </b>
      <span className="dim num truncate">{title === undefined ? q.quantity.file : name}</span>
      {q.range && (
        <button
          className="btn h-6 border-oxide px-2 text-xs text-oxide"
          onClick={() => onChange({ ...q, range: undefined })}
        >
          Back to following
        </button>
      )}
      <span className="ml-auto flex items-baseline gap-3">
        {toggle(q.log, "log scale", { log: !q.log, range: q.range })}
        {toggle(q.along === "row", "over rows", { along: q.along === "row" ? "axis" : "row", range: undefined })}
        <Level name={name} level={q.level} onChange={(level) => onChange({ ...q, level })} />
        {onRemove && (
          <button className="link" aria-label={`Remove ${name}`} onClick={onRemove}>
            Remove
          </button>
        )}
      </span>
    </figcaption>
  );
}

/** A level that is drawn across the chart. */
function Level({
  name,
  level,
  onChange,
}: {
  name: string;
  level: number | undefined;
  onChange: (level: number | undefined) => void;
}): ReactElement {
  return (
    <label className="flex items-baseline gap-1">
      <span className="dim">level</span>
      <input
        key={level ?? ""}
        className="field tight num h-5.5 w-16 text-xs"
        defaultValue={level ?? ""}
        aria-label={`level of ${name}`}
        onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        onBlur={(e) => {
          const given = e.target.value.trim() === "" ? undefined : Number(e.target.value);
          if (given === undefined || Number.isFinite(given)) onChange(given);
        }}
      />
    </label>
  );
}

interface LiveChartProps {
  readonly q: ShownQuantity;
  readonly members: readonly Member[];
  readonly total: number;
  readonly height: string;
  readonly title?: string;
  readonly onChange: (q: ShownQuantity) => void;
  readonly onRemove?: (() => void) | undefined;
}

/** One quantity of the drawn runs, as far as they have come. */
export function LiveChart({ q, members, total, height, title, onChange, onRemove }: LiveChartProps): ReactElement {
  const versions = members.map((m) => `${m.run.id} ${m.at} ${m.series.version} ${m.series.x === undefined}`).join("|");
  const look = `${versions} ${q.log} ${q.level} ${total}`;
  // Data that did not change are not drawn again, whatever else is asked.
  const [held, setHeld] = useState(() => ({ look, ...describe(members, q, total) }));
  if (held.look !== look) setHeld({ look, ...describe(members, q, total) });
  const { chart, apart } = held;
  const onRange = useCallback((range: XRange | undefined) => onChange({ ...q, range }), [q, onChange]);
  const label = title ?? quantityName(q.quantity);
  return (
    <figure className="flex flex-col border-t border-rule pt-2 pb-3" aria-label={label}>
      <Caption q={q} title={title} onChange={onChange} onRemove={onRemove} />
      <div className={`${height} flex-none border border-rule bg-sheet`}>
        {chart ? (
          <ChartView chart={chart} label={label} range={q.range as XRange | undefined} onRange={onRange} />
        ) : (
          <p className="dim p-4 text-xs">{apart[0] ?? "No run is drawn."}</p>
        )}
      </div>
      <LastValues members={members} total={total} />
      {chart && apart.length > 0 && (
        <p className="warn pt-0.5 text-xs" title={apart.join("\n")}>
          {apart[0]}
          {apart.length > 1 ? `, and ${apart.length - 1} more` : ""}
        </p>
      )}
    </figure>
  );
}
