import type { Table } from "../tables/table.js";
import { plainUnit } from "../tables/units.js";

/**
 * A table as Apache Parquet: numbers as 64-bit floats, missing ones as null, words as UTF-8; units under the key
 * `units` and the notes under `notes` of the file's own metadata, as JSON. Pages are packed with Snappy.
 *
 * @example toParquet(table)
 */
export async function toParquet(table: Table): Promise<Uint8Array> {
  const { parquetWriteBuffer } = await import("hyparquet-writer");
  const units = Object.fromEntries(
    table.columns.flatMap((c) => (c.kind === "number" && c.unit !== null ? [[c.name, plainUnit(c.unit)]] : [])),
  );
  return new Uint8Array(
    parquetWriteBuffer({
      columnData: table.columns.map((c) =>
        c.kind === "text"
          ? { name: c.name, data: c.values as string[], type: "STRING" as const, nullable: false }
          : c.values.some((v) => v !== v)
            ? { name: c.name, data: Array.from(c.values, (v) => (v === v ? v : null)), type: "DOUBLE" as const }
            : { name: c.name, data: c.values, type: "DOUBLE" as const, nullable: false },
      ),
      kvMetadata: [
        { key: "units", value: JSON.stringify(units) },
        { key: "notes", value: JSON.stringify(table.notes) },
      ],
      createdBy: "oxtrum",
    }),
  );
}
