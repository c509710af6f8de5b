/**
 * Files that other programs are writing: what was appended is read, once, and what was cut, replaced or written again
 * is noticed and read anew. Built on the readers of tables and lines, whose results these give at every step; used
 * by what follows simulations.
 */
export { GrowingFile, type Growth } from "./growing-file.js";
export { GrowingTable } from "./growing-table.js";
export { GrowingLines } from "./growing-lines.js";
