import { takeRows, withColumns, type NumberColumn, type Table } from "../../tables/table.js";
import { formatNumber } from "../../tables/number-format.js";

export type Restart = "auto" | "keep-later" | "keep-all";

/** Whether each value is larger than the one before: then there is nothing to treat. */
function risesAllAlong(x: Float64Array): boolean {
  for (let i = 1; i < x.length; i++) if (!(x[i]! > x[i - 1]!)) return false;
  return true;
}

/**
 * Treats an axis that steps back, as after a solver's restart.
 *
 * An axis that falls all the way is left alone. Otherwise every step back begins a new pass. At a step back after a
 * repeated header or at the start of a further file (`auto`), or at every step back when asked (`keep-later`), the rows
 * that the new pass repeats are dropped: the later ones are kept. Under `auto` a pass that returns to the start of the
 * axis is a new run over the whole axis, not a restart: its rows and those before it stay. Passes that stay beside each
 * other are numbered from 1 in a column `pass`.
 *
 * @param boundaries rows before which the header is repeated
 * @param files rows at which further files begin
 */
export function separatePasses(
  table: Table,
  axis: string,
  boundaries: readonly number[],
  restart: Restart,
  files: readonly number[] = [],
): Table {
  const found = table.columns.find((c): c is NumberColumn => c.name === axis && c.kind === "number");
  if (!found || table.rows < 2) return table;
  const x = found.values;
  if (risesAllAlong(x)) return table;
  const headers = new Set([...boundaries, ...files]);
  const starts: number[] = [];
  let rises = 0;
  let last = Number.NaN;
  for (let i = 0; i < x.length; i++) {
    if (x[i]! > last) rises++;
    // A restart may write the row that it starts from once more.
    if (x[i]! < last || (x[i] === last && headers.has(i))) starts.push(i);
    if (x[i]! === x[i]!) last = x[i]!;
  }
  const back = starts.filter((s) => !headers.has(s));
  // Runs down rather than up, or to and fro as a load cycle does: no restarts.
  if (starts.length === 0 || back.length > rises / 2 || rises === 0) return table;
  const keep = new Uint8Array(x.length).fill(1);
  const notes: string[] = [];
  const kept: number[] = [];
  let passStart = firstNumber(x, 0);
  for (const s of starts) {
    const boundary = headers.has(s);
    const restarted = restart === "keep-later" || (restart === "auto" && boundary && x[s]! > x[passStart]!);
    if (restart === "keep-all" || !restarted) {
      if (x[s]! < (lastKept(x, keep, s) ?? Number.NaN)) kept.push(s);
      passStart = s;
      continue;
    }
    let dropped = 0;
    for (let i = s - 1; i >= 0 && !(x[i]! < x[s]!); i--) {
      if (keep[i] === 1) dropped++;
      keep[i] = 0;
    }
    if (x[s]! <= x[passStart]!) passStart = s;
    notes.push(
      `restart: "${axis}" steps back to ` +
        `${formatNumber(x[s]!)}${files.includes(s) ? " in a further file" : boundary ? " after a repeated header" : ""}; ` +
        `${dropped} earlier rows from there on are dropped`,
    );
  }
  const indices: number[] = [];
  for (let i = 0; i < keep.length; i++) if (keep[i] === 1) indices.push(i);
  const result = notes.length > 0 ? takeRows(table, indices, notes) : table;
  return kept.length === 0 ? result : withPass(result, axis, indices, kept);
}

/** The table with the number of each row's pass. @param kept rows at which passes begin, before rows were dropped */
function withPass(result: Table, axis: string, indices: readonly number[], kept: readonly number[]): Table {
  const begins = new Set(kept);
  const pass = new Float64Array(indices.length);
  let k = 1;
  indices.forEach((i, row) => {
    if (begins.has(i)) k++;
    pass[row] = k;
  });
  const name = result.columns.some((c) => c.name === "pass") ? "pass#2" : "pass";
  return withColumns(
    result,
    [...result.columns, { kind: "number", name, unit: "1", values: pass }],
    [
      `"${axis}" steps back ${k - 1} time${k === 2 ? "" : "s"}: rows carry their pass, 1 to ${k}; keep ` +
        `one with .where({ pass: ${k} }), or read with { restart: "keep-later" }`,
    ],
  );
}

function firstNumber(x: Float64Array, from: number): number {
  for (let i = from; i < x.length; i++) if (x[i] === x[i]) return i;
  return from;
}

/** The axis at the last row before `row` that is kept. */
function lastKept(x: Float64Array, keep: Uint8Array, row: number): number | undefined {
  for (let i = row - 1; i >= 0; i--) if (keep[i] === 1 && x[i] === x[i]) return x[i];
  return undefined;
}
