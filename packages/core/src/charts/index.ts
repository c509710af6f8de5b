/**
 * Charts: a description (plain data) goes in, one drawing config comes out, the same for screen and file. `kinds`
 * says how each kind of series is drawn. The page imports this part too: it uses nothing of Node. May import tables.
 */
export * from "./description.js";
export { chartParts } from "./chart-parts.js";
export * from "./palette.js";
export { seriesKind } from "./kinds/index.js";
export { chartConfig } from "./config.js";
export { axisTitle, evenTicks, logTicks } from "./axes.js";
export { chartFonts, drawingOf, seriesColor, type ChartFonts, type ChartLook, type Drawing } from "./drawing.js";
export { drawHeader, frameOf, legendAt, type Frame } from "./frame.js";
export { drawItem } from "./legend.js";
export { panelLayout, withAllSeries, withCommonAxes, type PanelLayout, type PlacedPanel } from "./panels.js";
export { fieldColor, fieldHex, fieldStops } from "./colormap.js";
export * from "./decimate.js";
export * from "./rich-text.js";
export * from "./short-names.js";
export { chartNumbers } from "./chart-numbers.js";
