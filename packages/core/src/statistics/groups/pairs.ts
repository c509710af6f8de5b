import {
  column,
  makeTable,
  numberColumn,
  numbers,
  TableError,
  textsOf,
  type Column,
  type NumberColumn,
  type Table,
} from "../../tables/table.js";
import { exactNumber } from "../../tables/number-format.js";
import { stepOf } from "../../tables/units.js";
import type { Key } from "../baseline.js";

/**
 * What changing one parameter alone does: each row is paired with the row that has the baseline's value of one
 * parameter and agrees in all the others named. A row of the outcome says which `parameter` went `from` the baseline's
 * value `to` the row's, and for each other number column `name` (the row's), `name.diff` and `name.percent`. A row that
 * differs in two parameters is in two pairs, if their partners are there; rows without a partner are counted in the
 * notes.
 *
 * @throws TableError when a partner is not unique, or there is no pair at all
 * @example pairs(peaks, { fan: 75, open: 80 })
 */
export function pairs(table: Table, baseline: Key, names: readonly string[] = []): Table {
  const keys = Object.keys(baseline).map((n) => column(table, n));
  if (keys.length === 0) throw new TableError("pairs: give the baseline's value of each parameter");
  const values =
    names.length > 0
      ? names.map((n) => numbers(table, n))
      : table.columns.flatMap((c) => (c.kind === "number" && !Object.hasOwn(baseline, c.name) ? [c] : []));
  const { found, alone } = partners(table, keys, baseline);
  if (found.length === 0 && table.rows > 0)
    throw new TableError(
      `pairs: no two rows differ in one of ${keys.map((k) => k.name).join(", ")} alone, with the baseline on one side`,
    );
  const base = Object.entries(baseline)
    .map(([k, v]) => `${k} = ${v}`)
    .join(", ");
  return makeTable([...whatDiffers(table, keys, found), ...values.flatMap((c) => changes(c, found))], {
    notes: [
      ...table.notes,
      "each row with the one that differs from it in one parameter alone; baseline " +
        `${base}${alone > 0 ? `; ${alone} changes without a partner` : ""}`,
    ],
  });
}

/** A row, the row of the baseline that it is compared with, and the parameter in which they differ. */
interface Pair {
  readonly i: number;
  readonly base: number;
  readonly parameter: Column;
}

/** All pairs, and how many rows have no partner. @throws TableError where a partner is not unique */
function partners(table: Table, keys: readonly Column[], baseline: Key): { found: Pair[]; alone: number } {
  const index = new Map<string, number[]>();
  const key = (of: (c: Column) => number | string): string => keys.map((c) => String(of(c))).join("\u0000");
  for (let i = 0; i < table.rows; i++) {
    const k = key((c) => c.values[i]!);
    const same = index.get(k);
    if (same) same.push(i);
    else index.set(k, [i]);
  }
  const found: Pair[] = [];
  let alone = 0;
  for (const parameter of keys)
    for (let i = 0; i < table.rows; i++) {
      if (parameter.values[i] === baseline[parameter.name]) continue;
      const there = index.get(key((c) => (c === parameter ? baseline[c.name]! : c.values[i]!))) ?? [];
      if (there.length > 1)
        throw new TableError(
          `pairs: ${there.length} rows have ${parameter.name} = ${String(baseline[parameter.name])} and ` +
            `agree with row ${i + 1} in the rest; name what tells them apart in the baseline`,
        );
      if (there.length === 0) alone++;
      else found.push({ i, base: there[0]!, parameter });
    }
  return { found, alone };
}

/** Columns that say which rows are compared, in what they differ, and the parameters of the row. */
function whatDiffers(table: Table, keys: readonly Column[], found: readonly Pair[]): Column[] {
  const run = table.columns.find((c) => c.name === "run" && c.kind === "text");
  const said = (v: number | string): string => (typeof v === "number" ? exactNumber(v) : v);
  const text = (name: string, of: (f: Pair) => string): Column => textsOf(found, name, of);
  return [
    ...(run ? [text("run", (f) => String(run.values[f.i])), text("baseline", (f) => String(run.values[f.base]))] : []),
    text("parameter", (f) => f.parameter.name),
    text("from", (f) => said(f.parameter.values[f.base]!)),
    text("to", (f) => said(f.parameter.values[f.i]!)),
    ...keys.map((k): Column =>
      k.kind === "text"
        ? text(k.name, (f) => k.values[f.i]!)
        : { ...k, values: Float64Array.from(found, (f) => k.values[f.i]!) },
    ),
  ];
}

/** A column's values in the rows, their differences, and these in percent of the baseline's. */
function changes(c: NumberColumn, found: readonly Pair[]): Column[] {
  const step = stepOf(c.unit);
  const label = { label: `Δ ${c.label ?? c.name}` };
  const change = found.map((f) => c.values[f.i]! - c.values[f.base]!);
  const differences = change.map((d) => d * step.factor);
  const percent = found.map((f, k) => {
    const base = c.values[f.base]!;
    return base === 0 ? Number.NaN : (100 * change[k]!) / Math.abs(base);
  });
  return [
    { ...c, values: Float64Array.from(found, (f) => c.values[f.i]!) },
    numberColumn(`${c.name}.diff`, step.unit, differences, label),
    // Of a temperature on a scale with a zero of its own there is no percentage.
    ...(step.ownZero ? [] : [numberColumn(`${c.name}.percent`, "%", percent, label)]),
  ];
}
