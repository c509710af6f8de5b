import { useState, type PointerEvent, type RefObject } from "react";
import type { Chart } from "chart.js";
import { legendAt } from "@oxtrum/core/charts";
import type { Box, ChartViewProps } from "./chart-props";

type Place = readonly [number, number];

/** A box that is drawn with the pointer, px of the chart: from one corner to the other. */
export interface Drag {
  readonly from: Place;
  readonly to: Place;
}

/** Shorter is a click, px; it takes what is as near as this to it. */
const CLICK = 4;
const NEAR = 6;

/** What a drag takes of a chart, in its axes' values. */
function boxOf({ from, to }: Drag, c: Chart): Box | undefined {
  const [x, y] = [c.scales["x"], c.scales["y"]];
  if (!x || !y) return undefined;
  const reach = Math.hypot(to[0] - from[0], to[1] - from[1]) < CLICK ? NEAR : 0;
  const span = (k: 0 | 1, scale: typeof x): Place => {
    const ends = [Math.min(from[k], to[k]) - reach, Math.max(from[k], to[k]) + reach]
      .map((p) => scale.getValueForPixel(p) ?? 0)
      .sort((a, b) => a - b);
    return [ends[0]!, ends[1]!];
  };
  return { x: span(0, x), y: span(1, y) };
}

type Acts = Record<
  "onPointerDown" | "onPointerMove" | "onPointerUp" | "onPointerCancel",
  (e: PointerEvent<HTMLDivElement>) => void
>;

/** Boxes drawn over a chart; a click is a small one. Nothing where nobody takes them, and in the legend. */
export function useBrush(
  frameRef: RefObject<HTMLDivElement | null>,
  chartRef: RefObject<Chart | null>,
  onBrush: ChartViewProps["onBrush"],
): { drag: Drag | undefined; acts: Acts } {
  const [drag, setDrag] = useState<Drag | undefined>();
  const placeOf = (e: PointerEvent<HTMLDivElement>): Place => {
    const frame = frameRef.current!.getBoundingClientRect();
    return [e.clientX - frame.left, e.clientY - frame.top];
  };
  const acts: Acts = {
    onPointerDown: (e) => {
      if (!onBrush || e.button !== 0 || e.shiftKey) return;
      // In the legend a click switches series; it marks nothing.
      if (chartRef.current && legendAt(chartRef.current, ...placeOf(e)) !== undefined) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      setDrag({ from: placeOf(e), to: placeOf(e) });
    },
    onPointerMove: (e) => drag && setDrag({ ...drag, to: placeOf(e) }),
    onPointerUp: () => {
      const box = drag && chartRef.current && boxOf(drag, chartRef.current);
      if (box) onBrush?.(box);
      setDrag(undefined);
    },
    onPointerCancel: () => setDrag(undefined),
  };
  return { drag, acts };
}
