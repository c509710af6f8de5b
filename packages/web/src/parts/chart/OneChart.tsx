import { useRef, useState, type ReactElement } from "react";
import { axisTitle, type ChartLook } from "@oxtrum/core/charts";
import { useSize } from "../size";
import type { ChartViewProps } from "./chart-props";
import { Crosshair } from "./Crosshair";
import type { Reading } from "./reading";
import { useBrush, type Drag } from "./use-brush";
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
  const boxRef = useRef<HTMLDivElement>(null);
  const size = useSize(boxRef);
  const [reading, setReading] = useState<Reading | undefined>();
  const { canvas, drawn: drawnRef } = useDrawnChart({ ...props, size, onReading: setReading });
  const brush = useBrush(boxRef, drawnRef, onBrush);
  return (
    <div
      ref={boxRef}
      className="relative h-full w-full overflow-hidden"
      {...brush.acts}
      onDoubleClick={() => (onRange ? onRange(undefined) : drawnRef.current?.resetZoom())}
    >
      <canvas
        ref={canvas}
        role="img"
        aria-label={`${label}: ${axisTitle(chart.y)} over ${axisTitle(chart.x)}`}
        style={{ width: size?.width, height: size?.height }}
      />
      {brush.drag && <DrawnBox {...brush.drag} />}
      {reading && !brush.drag && <Crosshair chart={chart} reading={reading} size={size ?? { width: 0, height: 0 }} />}
    </div>
  );
}

/** The box as it is drawn. */
function DrawnBox({ from, to }: Drag): ReactElement {
  return (
    <div
      className="pointer-events-none absolute border border-oxide bg-oxide/15"
      style={{
        left: Math.min(from[0], to[0]),
        top: Math.min(from[1], to[1]),
        width: Math.abs(to[0] - from[0]),
        height: Math.abs(to[1] - from[1]),
      }}
    />
  );
}
