import type { ChartDescription } from "@oxtrum/core/charts";

/** From where to where along the bottom. */
export type XRange = readonly [number, number];

/** A part of a chart, in the axes' units. */
export interface Box {
  readonly x: readonly [number, number];
  readonly y: readonly [number, number];
}

export interface ChartViewProps {
  chart: ChartDescription;
  small?: boolean;
  label: string;
  /** What is shown of the axis along the bottom; all of it when not given. */
  range?: XRange | undefined;
  /** Told when one has zoomed or moved, so that more detail can be fetched. */
  onRange?: ((r: XRange | undefined) => void) | undefined;
  /** Told where along the bottom the crosshair stands. */
  onRead?: ((x: number | undefined) => void) | undefined;
  /** Dragging marks a part of the chart instead of zooming; a click marks what lies about it. */
  onBrush?: ((b: Box) => void) | undefined;
}
