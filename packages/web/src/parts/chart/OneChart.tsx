import { useRef, useState, type PointerEvent, type ReactElement } from "react";
import { axisTitle, legendAt, type ChartLook } from "@oxtrum/core/charts";
import { useSize } from "../size";
import type { ChartViewProps } from "./chart-props";
import { Crosshair } from "./Crosshair";
import type { Reading } from "./reading";
import { useDrawnChart } from "./use-drawn-chart";

/** One chart with a crosshair that reads all series, wheel and drag to zoom, double-click to fit. */
export function OneChart(
  props: ChartViewProps & {
    hidden: ReadonlySet<string>;
    onToggle: (key: string) => void;
    panel?: ChartLook["panel"];
  },
): ReactElement {
  const { chart, label, onRange, onBrush } = props;
  const box = useRef<HTMLDivElement>(null);
  const size = useSize(box);
  const [reading, setReading] = useState<Reading | undefined>();
  const [drag, setDrag] = useState<{ from: readonly [number, number]; to: readonly [number, number] } | undefined>();
  const { canvas, drawn } = useDrawnChart({ ...props, size, onReading: setReading });
  const placeOf = (e: PointerEvent<HTMLDivElement>): readonly [number, number] => {
    const frame = box.current!.getBoundingClientRect();
    return [e.clientX - frame.left, e.clientY - frame.top];
  };
  const begin = (e: PointerEvent<HTMLDivElement>): void => {
    if (!onBrush || e.button !== 0 || e.shiftKey) return;
    // In the legend a click switches series; it marks nothing.
    if (drawn.current && legendAt(drawn.current, ...placeOf(e)) !== undefined) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    setDrag({ from: placeOf(e), to: placeOf(e) });
  };
  const end = (): void => {
    const [x, y] = [drawn.current?.scales["x"], drawn.current?.scales["y"]];
    if (drag && x && y) {
      // A click takes what is near it.
      const click = Math.hypot(drag.to[0] - drag.from[0], drag.to[1] - drag.from[1]) < 4;
      const reach = click ? 6 : 0;
      const span = (k: 0 | 1, scale: typeof x): readonly [number, number] => {
        const ends = [Math.min(drag.from[k], drag.to[k]) - reach, Math.max(drag.from[k], drag.to[k]) + reach]
          .map((p) => scale.getValueForPixel(p) ?? 0)
          .sort((a, b) => a - b);
        return [ends[0]!, ends[1]!];
      };
      onBrush?.({ x: span(0, x), y: span(1, y) });
    }
    setDrag(undefined);
  };
  return (
    <div
      ref={box}
      className="relative h-full w-full overflow-hidden"
      onPointerDown={begin}
      onPointerMove={(e) => drag && setDrag({ ...drag, to: placeOf(e) })}
      onPointerUp={end}
      onPointerCancel={() => setDrag(undefined)}
      onDoubleClick={() => (onRange ? onRange(undefined) : drawn.current?.resetZoom())}
    >
      <canvas
        ref={canvas}
        role="img"
        aria-label={`${label}: ${axisTitle(chart.y)} over ${axisTitle(chart.x)}`}
        style={{ width: size?.width, height: size?.height }}
      />
      {drag && (
        <div
          className="pointer-events-none absolute border border-oxide bg-oxide/15"
          style={{
            left: Math.min(drag.from[0], drag.to[0]),
            top: Math.min(drag.from[1], drag.to[1]),
            width: Math.abs(drag.to[0] - drag.from[0]),
            height: Math.abs(drag.to[1] - drag.from[1]),
          }}
        />
      )}
      {reading && !drag && <Crosshair chart={chart} reading={reading} size={size ?? { width: 0, height: 0 }} />}
    </div>
  );
}
