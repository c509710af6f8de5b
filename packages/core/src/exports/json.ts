import type { Table } from "../tables/table.js";
import { plainUnit } from "../tables/units.js";

/** JSON with keys in a fixed order and two blanks of indent; NaN is null, infinities are the texts "Inf", "-Inf". */
export function stableJson(value: unknown): string {
  return JSON.stringify(ordered(value), null, 2) + "\n";
}

/** Like {@link stableJson}, on one line: what digests are taken of. */
export function compactJson(value: unknown): string {
  return JSON.stringify(ordered(value));
}

function ordered(value: unknown): unknown {
  if (typeof value === "number")
    return value !== value ? null : value === Infinity ? "Inf" : value === -Infinity ? "-Inf" : value;
  if (ArrayBuffer.isView(value)) return Array.from(value as unknown as ArrayLike<number>, ordered);
  if (Array.isArray(value)) return value.map(ordered);
  if (value === null || typeof value !== "object") return value;
  const entries = Object.entries(value).filter(([, v]) => v !== undefined);
  entries.sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0));
  return Object.fromEntries(
    entries.map(([k, v]) => [k, k === "unit" && typeof v === "string" ? plainUnit(v) : ordered(v)]),
  );
}

/** A table as JSON: columns with name, unit and values, and the notes on how it came to be. */
export function tableToJson(table: Table): string {
  const columns = table.columns.map((c) => ({
    name: c.name,
    unit: c.kind === "number" ? c.unit : undefined,
    type: c.kind,
    label: c.label,
    values: c.values,
  }));
  return stableJson({ rows: table.rows, columns, notes: table.notes });
}
