import { useMemo, type ReactElement } from "react";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import { fieldHex } from "@oxtrum/core/charts";

const BARS = 46;
/** The map in steps too narrow to be seen: the colours that the field has between its ends. */
const STRIP = Array.from({ length: 138 }, (_, k) => fieldHex(k / 137));

/** How many values lie in each part of the range, against the most. */
function barsOf(values: Float32Array, range: readonly [number, number]): number[] {
  const counts = Array<number>(BARS).fill(0);
  const span = range[1] - range[0] || 1;
  for (const v of values) {
    const k = Math.floor(((v - range[0]) / span) * BARS);
    if (k >= 0 && k < BARS) counts[k]!++;
    else if (v === range[1]) counts[BARS - 1]!++;
  }
  const most = Math.max(1, ...counts);
  return counts.map((c) => c / most);
}

/** An end of the range as it is typed. */
const typed = (v: number): string =>
  formatNumber(v, 5)
    .replace("−", "-")
    .replace(/\u202f/g, "");

interface EndProps {
  readonly value: number;
  readonly label: string;
  readonly right?: boolean;
  /** Undefined where nothing is typed. */
  readonly onChange: (v: number | undefined) => void;
}

function End({ value, label, right = false, onChange }: EndProps): ReactElement {
  const shown = typed(value);
  const change = (text: string): void => {
    const v = Number(text);
    if (text.trim() === "") onChange(undefined);
    else if (Number.isFinite(v)) onChange(v);
  };
  return (
    <input
      key={value}
      className="num w-20 border-b border-transparent bg-transparent text-[11px] hover:border-rule focus:border-oxide"
      defaultValue={shown}
      aria-label={label}
      // Who only passes through fixes nothing.
      onBlur={(e) => e.target.value !== shown && change(e.target.value)}
      onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
      style={right ? { textAlign: "right" } : {}}
    />
  );
}

interface LegendProps {
  readonly values: Float32Array;
  readonly range: readonly [number, number];
  readonly unit: string | null;
  readonly text: string;
  readonly onRange: (r: readonly [number, number] | undefined) => void;
  /** Whether the range is that of all runs; undefined with one run. */
  readonly shared: boolean | undefined;
  readonly onShared: (on: boolean) => void;
}

/** The colours' strip with the histogram of the values standing on it; the range is typed in place. */
export function Legend({ values, range, unit, text, onRange, shared, onShared }: LegendProps): ReactElement {
  const bars = useMemo(() => barsOf(values, range), [values, range]);
  const [low, high] = range;
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
        <End
          value={low}
          label="Least value of the colours"
          onChange={(v) => onRange(v === undefined ? v : [v, high])}
        />
        <span className="dim truncate text-[11px]">{text}</span>
        <span className="flex items-baseline gap-1">
          <End
            value={high}
            label="Largest value of the colours"
            right
            onChange={(v) => onRange(v === undefined ? v : [low, v])}
          />
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
