import {
  column,
  makeTable,
  numberColumn,
  numbers,
  TableError,
  textColumn,
  type Column,
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
  const run = table.columns.find((c) => c.name === "run" && c.kind === "text");
  const index = new Map<string, number[]>();
  const key = (of: (c: Column) => number | string): string => keys.map((c) => String(of(c))).join("\u0000");
  for (let i = 0; i < table.rows; i++) {
    const k = key((c) => c.values[i]!);
    index.set(k, [...(index.get(k) ?? []), i]);
  }
  const found: { i: number; base: number; parameter: Column }[] = [];
  let alone = 0;
  for (const parameter of keys)
    for (let i = 0; i < table.rows; i++) {
      if (parameter.values[i] === baseline[parameter.name]) continue;
      const partners = index.get(key((c) => (c === parameter ? baseline[c.name]! : c.values[i]!))) ?? [];
      if (partners.length > 1)
        throw new TableError(
          `pairs: ${partners.length} rows have ${parameter.name} = ${String(baseline[parameter.name])} and ` +
            `agree with row ${i + 1} in the rest; name what tells them apart in the baseline`,
        );
      if (partners.length === 0) alone++;
      else found.push({ i, base: partners[0]!, parameter });
    }
  if (found.length === 0 && table.rows > 0)
    throw new TableError(
      `pairs: no two rows differ in one of ${keys.map((k) => k.name).join(", ")} alone, with the baseline on one side`,
    );
  const said = (v: number | string): string => (typeof v === "number" ? exactNumber(v) : v);
  const columns: Column[] = [
    ...(run
      ? [
          textColumn(
            "run",
            found.map((f) => String(run.values[f.i])),
          ),
          textColumn(
            "baseline",
            found.map((f) => String(run.values[f.base])),
          ),
        ]
      : []),
    textColumn(
      "parameter",
      found.map((f) => f.parameter.name),
    ),
    textColumn(
      "from",
      found.map((f) => said(f.parameter.values[f.base]!)),
    ),
    textColumn(
      "to",
      found.map((f) => said(f.parameter.values[f.i]!)),
    ),
    ...keys.map((k): Column =>
      k.kind === "text"
        ? textColumn(
            k.name,
            found.map((f) => k.values[f.i]!),
          )
        : { ...k, values: Float64Array.from(found, (f) => k.values[f.i]!) },
    ),
  ];
  for (const c of values) {
    const step = stepOf(c.unit);
    const change = found.map((f) => c.values[f.i]! - c.values[f.base]!);
    columns.push({ ...c, values: Float64Array.from(found, (f) => c.values[f.i]!) });
    columns.push(
      numberColumn(
        `${c.name}.diff`,
        step.unit,
        change.map((d) => d * step.factor),
        { label: `Δ ${c.label ?? c.name}` },
      ),
    );
    if (!step.ownZero)
      columns.push(
        numberColumn(
          `${c.name}.percent`,
          "%",
          found.map((f, k) => (c.values[f.base] === 0 ? Number.NaN : (100 * change[k]!) / Math.abs(c.values[f.base]!))),
          { label: `Δ ${c.label ?? c.name}` },
        ),
      );
  }
  const base = Object.entries(baseline)
    .map(([k, v]) => `${k} = ${v}`)
    .join(", ");
  return makeTable(columns, {
    notes: [
      ...table.notes,
      "each row with the one that differs from it in one parameter alone; baseline " +
        `${base}${alone > 0 ? `; ${alone} changes without a partner` : ""}`,
    ],
  });
}
