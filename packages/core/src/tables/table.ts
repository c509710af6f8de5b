import { closest, distance } from "fastest-levenshtein";
import type { Condition } from "./condition.js";

/** A unit's canonical symbol; "1" is dimensionless, `null` is unknown. */
export type UnitSymbol = string | null;

interface ColumnHead {
  readonly name: string;
  /** What to print instead of the name. */
  readonly label?: string;
  /** Where the values come from, e.g. a file. */
  readonly source?: string;
}

/** Numbers with a unit; NaN is "missing". */
export interface NumberColumn extends ColumnHead {
  readonly kind: "number";
  readonly unit: UnitSymbol;
  readonly values: Float64Array;
}

/** Words. The empty string is "missing". */
export interface TextColumn extends ColumnHead {
  readonly kind: "text";
  readonly values: readonly string[];
}

export type Column = NumberColumn | TextColumn;

/**
 * Named columns of equal length. Tables are values: no verb changes one in place, and columns are shared between
 * tables wherever they are the same.
 */
export interface Table {
  readonly columns: readonly Column[];
  readonly rows: number;
  /** The column along which the rows are ordered, e.g. `time`; weights and look-ups use it. */
  readonly axis?: string;
  /** What was decided and left out on the way, in order. */
  readonly notes: readonly string[];
  /** What a reader knows of its worth; the engine takes it on from there. */
  readonly conditions?: readonly Condition[];
}

/** A mistake in what was asked of a table, in words for the person who asked. */
export class TableError extends Error {
  override readonly name = "TableError";
}

/** A name that a table does not have. */
export class NoSuchColumn extends TableError {
  constructor(
    readonly column: string,
    readonly available: readonly string[],
  ) {
    super(
      `no column "${column}"; there ${available.length === 1 ? "is" : "are"} ${listNames(available)}${suggestion(column, available)}`,
    );
  }
}

/** Builds a table and refuses what does not fit together. @throws TableError on unequal lengths or repeated names. */
export function makeTable(
  columns: readonly Column[],
  options: { axis?: string | undefined; notes?: readonly string[] } = {},
): Table {
  const rows = columns[0]?.values.length ?? 0;
  const seen = new Set<string>();
  for (const c of columns) {
    if (c.values.length !== rows)
      throw new TableError(`column "${c.name}" has ${c.values.length} rows, column "${columns[0]!.name}" has ${rows}`);
    if (seen.has(c.name)) throw new TableError(`two columns are called "${c.name}"`);
    seen.add(c.name);
  }
  const axis = options.axis !== undefined && seen.has(options.axis) ? { axis: options.axis } : {};
  return { columns, rows, ...axis, notes: options.notes ?? [] };
}

/** A number column. @example numberColumn("time", "s", [0, 1, 2]) */
export function numberColumn(
  name: string,
  unit: UnitSymbol,
  values: ArrayLike<number>,
  head: { label?: string | undefined; source?: string | undefined } = {},
): NumberColumn {
  return {
    kind: "number",
    name,
    unit,
    values: values instanceof Float64Array ? values : Float64Array.from(values),
    ...definedOnly(head),
  };
}

/** A text column. */
export function textColumn(name: string, values: readonly string[]): TextColumn {
  return { kind: "text", name, values };
}

/** A number column with one value per thing in a list. @example numbersOf(peaks, "height", "K", (p) => p.height) */
export const numbersOf = <T>(
  list: ArrayLike<T>,
  name: string,
  unit: UnitSymbol,
  of: (thing: T, k: number) => number,
  head?: { label?: string | undefined; source?: string | undefined },
): NumberColumn => numberColumn(name, unit, Float64Array.from(list, of), head);

/** A text column with one text per thing in a list. @example textsOf(peaks, "run", (p) => p.run) */
export const textsOf = <T>(list: readonly T[], name: string, of: (thing: T, k: number) => string): TextColumn =>
  textColumn(name, list.map(of));

function definedOnly(head: { label?: string | undefined; source?: string | undefined }): {
  label?: string;
  source?: string;
} {
  return {
    ...(head.label !== undefined && { label: head.label }),
    ...(head.source !== undefined && { source: head.source }),
  };
}

/** The column of that name. @throws NoSuchColumn with the nearest right names. */
export function column(table: Table, name: string): Column {
  const found = table.columns.find((c) => c.name === name);
  if (!found) throw new NoSuchColumn(name, columnNames(table));
  return found;
}

/** The number column of that name. @throws TableError when it is missing or holds text. */
export function numbers(table: Table, name: string): NumberColumn {
  const found = column(table, name);
  if (found.kind !== "number") throw new TableError(`column "${name}" holds text, not numbers`);
  return found;
}

export const columnNames = (table: Table): string[] => table.columns.map((c) => c.name);

/** The axis of a table, or the one named. @throws TableError when the table has none. */
export function axisOf(table: Table, name?: string): NumberColumn {
  const axis = name ?? table.axis;
  if (axis === undefined)
    throw new TableError(`this table has no axis of its own; name one of ${listNames(columnNames(table))}`);
  return numbers(table, axis);
}

/** The same table with other columns (equal length), notes added. */
export function withColumns(table: Table, columns: readonly Column[], notes: readonly string[] = []): Table {
  return makeTable(columns, { axis: table.axis, notes: notes.length ? [...table.notes, ...notes] : table.notes });
}

/** The rows at the given indices, in that order. */
export function takeRows(table: Table, indices: Uint32Array | readonly number[], notes: readonly string[] = []): Table {
  const n = indices.length;
  const columns = table.columns.map((c): Column => {
    if (c.kind === "text") return { ...c, values: Array.from(indices, (i) => c.values[i]!) };
    const values = new Float64Array(n);
    for (let k = 0; k < n; k++) values[k] = c.values[indices[k]!]!;
    return { ...c, values };
  });
  return { ...withColumns(table, columns, notes), rows: n };
}

/** The rows from `start` to `end` (excluded), sharing memory with the table. */
export function sliceRows(table: Table, start: number, end: number, notes: readonly string[] = []): Table {
  if (start === 0 && end === table.rows && notes.length === 0) return table;
  const columns = table.columns.map((c): Column =>
    c.kind === "text" ? { ...c, values: c.values.slice(start, end) } : { ...c, values: c.values.subarray(start, end) },
  );
  return { ...withColumns(table, columns, notes), rows: Math.max(0, end - start) };
}

/** Up to eight names in quotes, for messages. */
export function listNames(names: readonly string[]): string {
  if (names.length === 0) return "none";
  const shown = names
    .slice(0, 8)
    .map((n) => `"${n}"`)
    .join(", ");
  return names.length > 8 ? `${shown} and ${names.length - 8} more` : shown;
}

/** The names most like the one given, nearest first; none when nothing is near. */
export function nearestNames(name: string, available: readonly string[], most = 3): string[] {
  const wanted = name.toLowerCase();
  return (
    available
      .map((a) => {
        const candidate = a.toLowerCase();
        const contains = candidate.includes(wanted) || wanted.includes(candidate);
        return { a, d: distance(wanted, candidate) - (contains ? Math.min(wanted.length, candidate.length) : 0) };
      })
      // Names without a letter in common are not meant, however short they are.
      .filter(
        ({ a, d }) => d <= Math.max(2, Math.min(a.length, name.length) / 2) && d < Math.max(a.length, name.length),
      )
      .sort((x, y) => x.d - y.d || sharedLetters(y.a, name) - sharedLetters(x.a, name) || (x.a < y.a ? -1 : 1))
      .slice(0, most)
      .map(({ a }) => a)
  );
}

/** How many letters two names have in common, wherever they stand: tells swapped letters from wrong ones. */
function sharedLetters(a: string, b: string): number {
  const rest = [...b];
  let n = 0;
  for (const c of a) {
    const at = rest.indexOf(c);
    if (at >= 0) {
      rest.splice(at, 1);
      n++;
    }
  }
  return n - Math.abs(a.length - b.length);
}

/** ` Did you mean "T_mean"?` or nothing. */
export function suggestion(name: string, available: readonly string[]): string {
  const near =
    nearestNames(name, available, 1)[0] ??
    (available.length > 0 && name.length > 3 ? maybeClosest(name, available) : undefined);
  return near === undefined ? "" : `. Did you mean "${near}"?`;
}

function maybeClosest(name: string, available: readonly string[]): string | undefined {
  const near = closest(name, available as string[]);
  return distance(name, near) <= Math.max(name.length, near.length) * 0.6 ? near : undefined;
}
