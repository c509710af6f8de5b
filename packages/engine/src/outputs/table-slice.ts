import { exactNumber, plainUnit, type Table } from "@oxtrum/core/tables";

/** A number as JSON can hold it. */
const shown = (x: number): number | string | null => (Number.isFinite(x) ? x : x !== x ? null : exactNumber(x));

/** A table's rows for the screen: missing numbers are null, infinite ones the texts that files have for them. */
export function tableSlice(
  table: Table,
  from: number,
  to: number,
): {
  rows: number;
  columns: { name: string; label?: string; unit: string | null; kind: string; values: (number | string | null)[] }[];
  notes: readonly string[];
} {
  const a = Math.max(0, Math.min(from, table.rows));
  const b = Math.max(a, Math.min(to, table.rows));
  return {
    rows: table.rows,
    notes: table.notes,
    columns: table.columns.map((c) => ({
      name: c.name,
      ...(c.label !== undefined && { label: c.label }),
      unit: c.kind === "number" ? plainUnit(c.unit) : null,
      kind: c.kind,
      values: c.kind === "number" ? Array.from(c.values.subarray(a, b), shown) : c.values.slice(a, b),
    })),
  };
}
