import { availableParallelism } from "node:os";
import {
  byteText,
  FormatError,
  openFile,
  readLargeTextTable,
  type SkippedLine,
  type TextTableOptions,
} from "@oxtrum/core/formats";
import type { Table } from "@oxtrum/core/tables";

/** What is in one file. */
export interface ShownFile {
  readonly kind: "table";
  readonly rows: number;
  readonly columns: readonly {
    readonly name: string;
    readonly unit: string | null;
    readonly type: "number" | "text";
    readonly min: number | null;
    readonly max: number | null;
    readonly missing: number;
  }[];
  readonly skipped: readonly SkippedLine[];
  readonly notes: readonly string[];
  readonly axis: string | null;
  readonly table: Table;
}

/** Reads a file whole and tells what it holds. @throws FormatError */
export function showFile(file: string, shown = file, options: TextTableOptions = {}): ShownFile {
  const source = openFile(file, shown);
  try {
    if (
      source.size > 0 &&
      isBinary(source.read(0, 4096)) &&
      byteText(source).encoding === "utf-8" &&
      byteText(source).source === source
    )
      throw new FormatError(shown, "this is not a text file", { offset: 0 }, "Only text tables can be shown.");
    const { table, skipped, skippedCount } = readLargeTextTable(
      file,
      shown,
      source.size,
      undefined,
      options,
      undefined,
      availableParallelism(),
    );
    const conditions = (table.conditions ?? []).filter((c) => c.kind !== "restart").map((c) => c.text);
    const more =
      skippedCount > skipped.length ? [`${skippedCount} lines are skipped in all; ${skipped.length} are listed`] : [];
    const notes = [...table.notes, ...conditions, ...more];
    return {
      kind: "table",
      rows: table.rows,
      columns: table.columns.map(columnFacts),
      skipped,
      notes,
      axis: table.axis ?? null,
      table,
    };
  } finally {
    source.close();
  }
}

function isBinary(head: Uint8Array): boolean {
  return head.includes(0);
}

function columnFacts(c: Table["columns"][number]): ShownFile["columns"][number] {
  if (c.kind === "text")
    return {
      name: c.name,
      unit: null,
      type: "text",
      min: null,
      max: null,
      missing: c.values.filter((v) => v === "").length,
    };
  let min = Infinity;
  let max = -Infinity;
  let missing = 0;
  for (const x of c.values) {
    if (x !== x) missing++;
    else {
      if (x < min) min = x;
      if (x > max) max = x;
    }
  }
  const present = missing < c.values.length;
  return { name: c.name, unit: c.unit, type: "number", min: present ? min : null, max: present ? max : null, missing };
}
