import type { ReactElement } from "react";
import type { ChartDescription } from "@oxtrum/core/charts";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import type { Size } from "../size";
import type { Reading } from "./reading";

const MOST_READ = 12;
/** A row of it, and what stands around them, px. */
const ROW = 16;
const AROUND = 42;

/** A line across a chart, and the values of all series there. */
export function Crosshair({
  chart,
  reading,
  size: { width, height },
}: {
  chart: ChartDescription;
  reading: Reading;
  size: Size;
}): ReactElement {
  // In a low chart the last line, which says how many more there are, still has to be seen.
  const most = Math.max(1, Math.min(MOST_READ, Math.floor((height - AROUND) / ROW) - 1));
  return (
    <>
      <div className="pointer-events-none absolute top-0 bottom-0 w-px bg-oxide/70" style={{ left: reading.left }} />
      <div
        className="num pointer-events-none absolute z-10 max-w-64 border border-rule bg-sheet px-2 py-1 text-xs"
        style={{
          top: 8,
          ...(reading.left > width / 2 ? { right: width - reading.left + 8 } : { left: reading.left + 8 }),
        }}
      >
        <div>
          {formatNumber(reading.x, 4)} {displayUnit(chart.x.unit)}
        </div>
        {reading.rows.slice(0, most).map((r, i) => (
          <div key={i} className="flex gap-2 whitespace-nowrap">
            <span style={{ color: r.color }}>
              {formatNumber(r.value, 4)} {displayUnit(r.unit)}
            </span>
            <span className="dim truncate">{r.name}</span>
          </div>
        ))}
        {reading.rows.length > most && <div className="dim">{reading.rows.length - most} more</div>}
      </div>
    </>
  );
}
