import { useMemo, type ReactElement } from "react";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import { fieldHex } from "@oxtrum/core/charts";

const BARS = 46;
/** The map in steps too narrow to be seen: the colours that the field has between its ends. */
const STRIP = Array.from({ length: 138 }, (_, k) => fieldHex(k / 137));

/** The colours' strip with the histogram of the values standing on it; the range is typed in place. */
export function Legend({
  values,
  range,
  unit,
  text,
  onRange,
  shared,
  onShared,
}: {
  values: Float32Array;
  range: readonly [number, number];
  unit: string | null;
  text: string;
  onRange: (r: readonly [number, number] | undefined) => void;
  /** Whether the range is that of all runs; undefined with one run. */
  shared: boolean | undefined;
  onShared: (on: boolean) => void;
}): ReactElement {
  const bars = useMemo(() => {
    const counts = Array<number>(BARS).fill(0);
    const span = range[1] - range[0] || 1;
    for (const v of values) {
      const k = Math.floor(((v - range[0]) / span) * BARS);
      if (k >= 0 && k < BARS) counts[k]!++;
      else if (v === range[1]) counts[BARS - 1]!++;
    }
    const most = Math.max(1, ...counts);
    return counts.map((c) => c / most);
  }, [values, range]);
  const change = (k: 0 | 1, text: string): void => {
    const v = Number(text);
    if (text.trim() === "") onRange(undefined);
    else if (Number.isFinite(v)) onRange(k === 0 ? [v, range[1]] : [range[0], v]);
  };
  const shown = range.map((v) =>
    formatNumber(v, 5)
      .replace("−", "-")
      .replace(/\u202f/g, ""),
  );
  const field = (k: 0 | 1): ReactElement => (
    <input
      key={`${k} ${range[k]}`}
      className="num w-20 border-b border-transparent bg-transparent text-[11px] hover:border-rule focus:border-oxide"
      defaultValue={shown[k]}
      aria-label={k === 0 ? "Least value of the colours" : "Largest value of the colours"}
      // Who only passes through fixes nothing.
      onBlur={(e) => e.target.value !== shown[k] && change(k, e.target.value)}
      onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
      style={k === 1 ? { textAlign: "right" } : {}}
    />
  );
  return (
    <div className="pointer-events-auto w-69">
      <svg width="276" height="42" aria-hidden>
        {bars.map((h, k) => (
          <rect key={k} x={k * 6} y={32 - 28 * h} width="5" height={28 * h} fill={fieldHex((k + 0.5) / BARS)} />
        ))}
        {STRIP.map((c, k) => (
          <rect key={k} x={(k * 276) / STRIP.length} y="33" width={276 / STRIP.length + 0.5} height="9" fill={c} />
        ))}
      </svg>
      <div className="flex items-baseline justify-between">
        {field(0)}
        <span className="dim truncate text-[11px]">{text}</span>
        <span className="flex items-baseline gap-1">
          {field(1)}
          <span className="num text-[11px]">{displayUnit(unit)}</span>
        </span>
      </div>
      {shared !== undefined && (
        <label className="dim flex items-center gap-1.5 pt-0.5 text-[11px]">
          <input
            type="checkbox"
            className="accent-oxide"
            checked={shared}
            onChange={(e) => onShared(e.target.checked)}
          />
          one range for all runs
        </label>
      )}
    </div>
  );
}
