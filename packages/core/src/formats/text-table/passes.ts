import { takeRows, withColumns, type NumberColumn, type Table } from "../../tables/table.js";
import { formatNumber } from "../../tables/number-format.js";

export type Restart = "auto" | "keep-later" | "keep-all";

/**
 * Deals with an axis that steps back, as after a solver's restart.
 *
 * An axis that falls all the way is left alone. Otherwise every step back begins a new pass. After a repeated
 * header (`auto`), or when asked (`keep-later`), the rows that the new pass runs over again are dropped; without, all
 * rows stay and get a `pass` number from 1.
 */
export function separatePasses(table: Table, axis: string, headerBefore: readonly number[], restart: Restart): Table {
  const found = table.columns.find((c): c is NumberColumn => c.name === axis && c.kind === "number");
  if (!found || table.rows < 2) return table;
  const x = found.values;
  const starts: number[] = [];
  let rises = 0;
  let last = Number.NaN;
  for (let i = 0; i < x.length; i++) {
    if (x[i]! > last) rises++;
    if (x[i]! < last) starts.push(i);
    if (x[i]! === x[i]!) last = x[i]!;
  }
  // Runs down rather than up, or to and fro as a load cycle does: no restarts.
  if (starts.length === 0 || starts.length > rises / 2 || rises === 0) return table;
  const headers = new Set(headerBefore);
  const dropAt = starts.filter((s) => restart === "keep-later" || (restart === "auto" && headers.has(s)));
  const notes: string[] = [];
  let result = table;
  if (restart !== "keep-all" && dropAt.length > 0) {
    const keep = new Uint8Array(x.length).fill(1);
    for (const s of dropAt) {
      let dropped = 0;
      for (let i = s - 1; i >= 0 && x[i]! >= x[s]!; i--) {
        if (keep[i] === 1) dropped++;
        keep[i] = 0;
      }
      notes.push(
        `restart: "${axis}" steps back to ${formatNumber(x[s]!)}${headers.has(s) ? " after a repeated header" : ""}; ${dropped} earlier rows from there on are dropped`,
      );
    }
    const indices: number[] = [];
    for (let i = 0; i < keep.length; i++) if (keep[i] === 1) indices.push(i);
    result = takeRows(table, indices, notes);
  }
  const left = starts.filter((s) => !dropAt.includes(s) || restart === "keep-all");
  if (left.length === 0) return result;
  const values = (result.columns.find((c) => c.name === axis) as NumberColumn).values;
  const pass = new Float64Array(values.length);
  let k = 1;
  for (let i = 0; i < values.length; i++) {
    if (i > 0 && values[i]! < values[i - 1]!) k++;
    pass[i] = k;
  }
  const name = result.columns.some((c) => c.name === "pass") ? "pass#2" : "pass";
  return withColumns(
    result,
    [...result.columns, { kind: "number", name, unit: "1", values: pass }],
    [
      `"${axis}" steps back ${k - 1} time${k === 2 ? "" : "s"}: rows carry their pass, 1 to ${k}; keep one with .where({ pass: ${k} }), or read with { restart: "keep-later" }`,
    ],
  );
}
