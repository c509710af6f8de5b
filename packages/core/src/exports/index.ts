/**
 * Exports: tables, charts and pictures go in, the bytes of files come out; the same input gives the same bytes. May
 * import all other parts of core; only the engine imports it.
 */
export * from "./csv.js";
export * from "./json.js";
export * from "./draw.js";
export { toPoints } from "./points.js";
export { roundedNumber, toHtml, toLatex, toMarkdown, toSemicolon, toTsv, type TextOptions } from "./table-text.js";
export { toParquet } from "./parquet.js";
export { toXlsx, type WorkbookSheet } from "./xlsx.js";
export { defaultPictureSize, pictureToAnimation, pictureToPdf, pictureToPng } from "./draw-picture.js";
export * from "./report/index.js";
