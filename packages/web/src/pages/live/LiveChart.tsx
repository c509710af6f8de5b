import { useCallback, useState, type ReactElement } from "react";
import { shortNames, type ChartDescription } from "@oxtrum/core/charts";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import type { LiveRun, LiveSeries } from "@oxtrum/contract";
import { ChartView, type XRange } from "../../parts/ChartView";
import { Name } from "../../parts/Name";
import { SeriesSwatch } from "../study/SeriesSwatch";
import { quantityName, type ShownQuantity } from "./state";

interface Member {
  readonly run: LiveRun;
  readonly series: LiveSeries;
  /** Its place among the drawn runs. */
  readonly at: number;
}

const values = (list: readonly (number | null)[] | undefined, positive: boolean): Float64Array =>
  Float64Array.from(list ?? [], (v) => (v === null || (positive && v <= 0) ? Number.NaN : v));

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
  const same = good.filter((m) => m.series.unit === first.series.unit && m.series.xUnit === first.series.xUnit);
  for (const m of good)
    if (!same.includes(m))
      apart.push(
        `${m.run.id}: in ${displayUnit(m.series.unit ?? null) || "no unit"} over ${m.series.xName ?? ""}, ` +
          `the others in ${displayUnit(first.series.unit ?? null) || "no unit"}`,
      );
  for (const m of same) {
    for (const n of m.series.notes ?? []) apart.push(`${m.run.id}: ${n}`);
    if (q.log && (m.series.y ?? []).some((v) => v !== null && v <= 0))
      apart.push(`${m.run.id}: values of 0 or less are not on a log scale`);
  }
  const names = shortNames(same.map((m) => m.run.id));
  const many = total > 8;
  return {
    apart,
    chart: {
      x: { title: first.series.xName ?? "", unit: first.series.xUnit ?? null, scale: "linear" },
      y: { title: quantityName(q.quantity), unit: first.series.unit ?? null, scale: q.log ? "log" : "linear" },
      legend: "none",
      ...(q.level !== undefined && { marks: [{ y: q.level, text: "level" }] }),
      series: same.map((m) => ({
        kind: "lines" as const,
        name: names.get(m.run.id) ?? m.run.id,
        run: m.run.id,
        x: values(m.series.x, false),
        y: values(m.series.y, q.log),
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
    <div className="flex flex-wrap gap-x-4 gap-y-0.5 pt-1 text-xs" aria-label="Last values">
      {shown.map(({ run, series, at }) => {
        const unit = displayUnit(series.unit ?? null);
        const per = displayUnit(series.xUnit ?? null) || series.xName;
        const slope = series.slope;
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
            {slope !== undefined && slope !== null && (
              <span className="dim num">
                {slope >= 0 ? "+" : "−"}
                {formatNumber(Math.abs(slope), 2)} {unit ? `${unit}/` : "per "}
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

/** One quantity of the drawn runs, as far as they have come. */
export function LiveChart({
  q,
  members,
  total,
  height,
  title,
  onChange,
  onRemove,
}: {
  q: ShownQuantity;
  members: readonly Member[];
  total: number;
  height: string;
  title?: string;
  onChange: (q: ShownQuantity) => void;
  onRemove?: (() => void) | undefined;
}): ReactElement {
  const versions = members.map((m) => `${m.run.id} ${m.at} ${m.series.version} ${m.series.x === undefined}`).join("|");
  const look = `${versions} ${q.log} ${q.level} ${total}`;
  // Data that did not change are not drawn again, whatever else is asked.
  const [held, setHeld] = useState(() => ({ look, ...describe(members, q, total) }));
  if (held.look !== look) setHeld({ look, ...describe(members, q, total) });
  const { chart, apart } = held;
  const onRange = useCallback((range: XRange | undefined) => onChange({ ...q, range }), [q, onChange]);
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
    <figure className="flex flex-col border-t border-rule pt-2 pb-3" aria-label={title ?? name}>
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
          <label className="flex items-baseline gap-1">
            <span className="dim">level</span>
            <input
              key={q.level ?? ""}
              className="field tight num h-5.5 w-16 text-xs"
              defaultValue={q.level ?? ""}
              aria-label={`level of ${name}`}
              onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
              onBlur={(e) => {
                const level = e.target.value.trim() === "" ? undefined : Number(e.target.value);
                if (level === undefined || Number.isFinite(level)) onChange({ ...q, level });
              }}
            />
          </label>
          {onRemove && (
            <button className="link" aria-label={`Remove ${name}`} onClick={onRemove}>
              Remove
            </button>
          )}
        </span>
      </figcaption>
      <div className={`${height} flex-none border border-rule bg-sheet`}>
        {chart ? (
          <ChartView chart={chart} label={title ?? name} range={q.range as XRange | undefined} onRange={onRange} />
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
