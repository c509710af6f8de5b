import { exactNumber } from "../tables/number-format.js";
import type { Table } from "../tables/table.js";

/** A field as RFC 4180 wants it: quoted where it holds a comma, a quote or a line end. */
function field(text: string): string {
  return /[",\r\n]|^\s|\s$/.test(text) ? `"${text.replace(/"/g, '""')}"` : text;
}

/**
 * A table as CSV (RFC 4180 with line feeds): one head line `name [unit]`, then rows; missing values are blank.
 *
 * Numbers are the shortest texts that read back to the same bits. A dimensionless column has `[1]`, one of unknown
 * unit no brackets.
 */
export function toCsv(table: Table): string {
  const head = table.columns
    .map((c) => field(c.kind === "number" && c.unit !== null ? `${c.name} [${c.unit}]` : c.name))
    .join(",");
  const lines = [head];
  for (let i = 0; i < table.rows; i++) {
    let line = "";
    for (let k = 0; k < table.columns.length; k++) {
      const c = table.columns[k]!;
      line += (k === 0 ? "" : ",") + (c.kind === "number" ? exactNumber(c.values[i]!) : field(c.values[i]!));
    }
    lines.push(line);
  }
  return lines.join("\n") + "\n";
}
