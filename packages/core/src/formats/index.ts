/**
 * Readers: bytes of files go in, tables and grids come out, with what was odd about them as notes and conditions.
 * Text tables, log lines, meshes (`open-mesh.ts` lists their formats). Files come as a `ByteSource`: nothing here
 * opens one by its name but `source.ts`. May import tables only.
 */
export * from "./source.js";
export { countRoom, NoRoom } from "./room.js";
export { detectDialect, type Dialect, type DialectColumn, type TextTableOptions } from "./text-table/dialect.js";
export type { Chunk } from "./text-table/body.js";
export type { SkippedLine } from "./text-table/refused-lines.js";
export * from "./text-table/assemble.js";
export * from "./text-table/reader.js";
export { byteText, type Encoding } from "./text-table/encoding.js";
export { type Delimiter } from "./text-table/split.js";
export { compilePattern, type LinePattern, type PatternField } from "./lines/pattern.js";
export * from "./lines/line-kinds.js";
export { readLines, type LineOptions } from "./lines/read-lines.js";
export * from "./growing/index.js";
export { tableEnding, tableEndings } from "./text-table/endings.js";
export { separatePasses, type Restart } from "./text-table/passes.js";
export { readLargeTextTable } from "./text-table/parallel.js";
export * from "./mesh-data.js";
export { meshCollections, meshEndings, meshFormatOf, meshFormats, openMesh, type MeshFormat } from "./open-mesh.js";
export { distinctPoints } from "./distinct-points.js";
export { memoryGrid } from "./surfaces/surface-grid.js";
