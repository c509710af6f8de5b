export * from "./source.js";
export { detectDialect, type Dialect, type DialectColumn, type TextTableOptions } from "./text-table/dialect.js";
export { type SkippedLine, type Stretch } from "./text-table/body.js";
export * from "./text-table/reader.js";
export { byteText, type Encoding } from "./text-table/encoding.js";
export { type Delimiter } from "./text-table/split.js";
export * from "./lines/pattern.js";
export { readLargeTextTable } from "./text-table/parallel.js";
