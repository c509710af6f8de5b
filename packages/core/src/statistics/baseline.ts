import { column, makeTable, numbers, TableError, type Column, type NumberColumn, type Table } from "../tables/table.js";
import { nearly } from "../tables/nearly.js";
import { stepOf } from "../tables/units.js";

export type Key = Readonly<Record<string, string | number>>;

export interface CompareOptions {
  /** Columns that have to be equal between a row and its baseline. */
  readonly match?: readonly string[];
  /**
   * What to do when no row at all is the baseline: an error (default), or blank changes, as when its run was excluded.
   */
  readonly absent?: "error" | "blank";
}

const cell = (c: Column, i: number): string | number => c.values[i]!;
/** Values of keys may have been converted: numbers are alike within rounding. */
const same = (a: string | number, b: string | number): boolean =>
  typeof a === "number" && typeof b === "number" ? a === b || nearly(a, b) : a === b;

/**
 * Adds to each number column its change against a baseline row: `name.diff` (in the unit of a difference) and
 * `name.percent`.
 *
 * The baseline of a row is the one row that has the values of `baseline` and the row's own values in the `match`
 * columns. Percent of a temperature scale with its own zero, or of a baseline of zero, is missing.
 *
 * @throws TableError when no row, or for some row more than one, is the baseline.
 */
export function compareTo(table: Table, baseline: Key, options: CompareOptions = {}): Table {
  const match = options.match ?? [];
  const keys = Object.entries(baseline).map(([name, value]) => ({ c: column(table, name), value }));
  const matched = match.map((name) => column(table, name));
  const isBase = (i: number): boolean => keys.every(({ c, value }) => same(cell(c, i), value));
  const bases = Array.from({ length: table.rows }, (_, i) => i).filter(isBase);
  const said = Object.entries(baseline)
    .map(([k, v]) => `${k} = ${v}`)
    .join(", ");
  if (bases.length === 0 && options.absent !== "blank")
    throw new TableError(`no row has ${said}, so there is nothing to compare with`);
  const baseOf = Array.from({ length: table.rows }, (_, i) => {
    const found = bases.filter((b) => matched.every((c) => same(cell(c, b), cell(c, i))));
    if (found.length > 1)
      throw new TableError(
        `${found.length} rows have ${said}${match.length ? ` and the same ${match.join(", ")}` : ""}; ` +
          "name what tells them apart with { match: [...] }",
      );
    return found[0] ?? -1;
  });
  const skip = new Set([...Object.keys(baseline), ...match]);
  const unmatched = baseOf.filter((b) => b < 0).length;
  const columns: Column[] = table.columns.flatMap((c) =>
    c.kind === "text" || skip.has(c.name) ? [c] : [c, ...changes(numbers(table, c.name), baseOf)],
  );
  const notes = [
    `compared to ${said}${match.length ? `, same ${match.join(", ")}` : ""}${unmatched ? `; ${unmatched} rows without a baseline` : ""}`,
  ];
  return makeTable(columns, { axis: table.axis, notes: [...table.notes, ...notes] });
}

function changes(c: NumberColumn, baseOf: readonly number[]): NumberColumn[] {
  const { unit, factor, ownZero: offset } = stepOf(c.unit);
  const diff = Float64Array.from(baseOf, (b, i) => (b < 0 ? Number.NaN : (c.values[i]! - c.values[b]!) * factor));
  const percent = Float64Array.from(baseOf, (b, i) =>
    b < 0 || offset || c.values[b] === 0 ? Number.NaN : (100 * (c.values[i]! - c.values[b]!)) / Math.abs(c.values[b]!),
  );
  const label = c.label ?? c.name;
  const out: NumberColumn[] = [{ kind: "number", name: `${c.name}.diff`, label: `Δ ${label}`, unit, values: diff }];
  if (!offset) out.push({ kind: "number", name: `${c.name}.percent`, label: `Δ ${label}`, unit: "%", values: percent });
  return out;
}
