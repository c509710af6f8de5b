import { unzipSync, zipSync, type Zippable } from "fflate";
import type { SheetData } from "write-excel-file/node";
import { TableError, type Table } from "../tables/table.js";
import { displayUnit } from "../tables/units.js";

/** What a workbook can hold. */
const MOST_ROWS = 1_048_576;
const MOST_COLUMNS = 16_384;
/** Cells that can be put together in memory. */
const MOST_CELLS = 10_000_000;

/** One sheet: its name, and the table on it. */
export interface WorkbookSheet {
  readonly name: string;
  readonly table: Table;
}

export interface WorkbookOptions {
  /** Significant digits that are shown; the cells hold the whole numbers. */
  readonly digits?: number | undefined;
  /** Lines of the sheet that says where all of it came from. */
  readonly about: readonly (readonly [what: string, text: string])[];
  /** Pictures on a sheet of their own, below each other; sizes in pixels of 1/96 inch. */
  readonly pictures?: readonly {
    readonly png: Buffer;
    readonly width: number;
    readonly height: number;
    readonly title: string;
  }[];
}

/** A format that shows so many digits of the largest number of a column. */
function formatOf(values: Float64Array, digits: number): string {
  let most = 0;
  for (const v of values) if (Number.isFinite(v) && Math.abs(v) > most) most = Math.abs(v);
  if (most === 0) return "0";
  const size = Math.floor(Math.log10(most));
  if (size > 9 || size < -5) return `0.${"0".repeat(Math.max(0, digits - 1))}E+00`;
  const decimals = Math.max(0, Math.min(30, digits - 1 - size));
  return decimals === 0 ? "0" : `0.${"0".repeat(decimals)}`;
}

/** Sheets' names as workbooks take them: 31 signs, none of []:*?/\, no two alike but for capitals. */
function sheetNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    const plain = name.replace(/[[\]:*?/\\]/g, "-").replace(/^'+|'+$/g, "") || "sheet";
    for (let k = 1; ; k++) {
      const end = k === 1 ? "" : ` ${k}`;
      const out = plain.length + end.length > 31 ? `${plain.slice(0, 30 - end.length)}…${end}` : plain + end;
      if (taken.has(out.toLowerCase())) continue;
      taken.add(out.toLowerCase());
      return out;
    }
  });
}

const INK = "#1F2629";
const head = { fontWeight: "bold" as const, bottomBorderColor: INK, bottomBorderStyle: "thin" as const };

/** XML takes no control signs, and a cell takes 32,767. */
const cellText = (t: string): string => {
  const plain = t.replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, "");
  return plain.length > 32_767 ? `${plain.slice(0, 32_766)}…` : plain;
};

function dataOf(table: Table, digits: number | undefined): SheetData {
  const formats = table.columns.map((c) =>
    c.kind === "number" && digits !== undefined ? formatOf(c.values, digits) : undefined,
  );
  const unit = (c: Table["columns"][number]): string =>
    c.kind === "number" && c.unit !== null ? displayUnit(c.unit) : "";
  const align = (c: Table["columns"][number]): "right" | "left" => (c.kind === "number" ? "right" : "left");
  const rows: SheetData = [
    table.columns.map((c) => ({ value: cellText(c.name), type: String, fontWeight: "bold" as const, align: align(c) })),
    table.columns.map((c) => ({
      value: unit(c),
      type: String,
      ...head,
      fontWeight: undefined as never,
      align: align(c),
    })),
  ];
  for (let i = 0; i < table.rows; i++)
    rows.push(
      table.columns.map((c, k) => {
        if (c.kind === "text") return c.values[i] === "" ? null : { value: cellText(c.values[i]!), type: String };
        const v = c.values[i]!;
        if (v !== v) return null;
        if (!Number.isFinite(v)) return { value: v > 0 ? "Inf" : "-Inf", type: String, align: "right" as const };
        return formats[k] === undefined ? { value: v, type: Number } : { value: v, type: Number, format: formats[k] };
      }),
    );
  return rows;
}

/** Widths by what stands in the first rows. */
const widths = (table: Table): { width: number }[] =>
  table.columns.map((c) => {
    let most = Math.max(c.name.length, 9);
    if (c.kind === "text")
      for (let i = 0; i < Math.min(200, table.rows); i++) most = Math.max(most, c.values[i]!.length);
    return { width: Math.min(48, most + 2) };
  });

/** Pixels of a row of a sheet. */
const ROW = 20;

function picturesSheet(
  pictures: NonNullable<WorkbookOptions["pictures"]>,
  sheet: string,
): {
  data: SheetData;
  sheet: string;
  images: {
    content: Buffer;
    contentType: string;
    width: number;
    height: number;
    dpi: number;
    anchor: { row: number; column: number };
    title: string;
  }[];
} {
  let row = 1;
  const data: SheetData = [];
  const images = pictures.map((p) => {
    data[row - 1] = [{ value: cellText(p.title), type: String, fontWeight: "bold" as const }];
    const image = {
      content: p.png,
      contentType: "image/png",
      width: Math.round(p.width),
      height: Math.round(p.height),
      dpi: 96,
      anchor: { row: row + 1, column: 1 },
      title: p.title,
    };
    row += Math.ceil(p.height / ROW) + 3;
    return image;
  });
  return { data: Array.from(data, (r) => r ?? []), sheet, images };
}

/**
 * A workbook (ISO/IEC 29500): a sheet a table, names and units in the first two rows, which stay in sight, numbers as
 * numbers and words as words (never formulas), missing values empty; and a last sheet that says where it came from. The
 * same bytes each time.
 *
 * @throws TableError for more rows or columns than a sheet takes, saying what to use
 */
export async function toXlsx(sheets: readonly WorkbookSheet[], o: WorkbookOptions): Promise<Uint8Array> {
  let cells = 0;
  for (const { name, table } of sheets) {
    if (table.rows + 2 > MOST_ROWS)
      throw new TableError(
        `xlsx: "${name}" has ${table.rows} rows; a sheet takes ${MOST_ROWS - 2}: use csv or parquet`,
      );
    if (table.columns.length > MOST_COLUMNS)
      throw new TableError(
        `xlsx: "${name}" has ${table.columns.length} columns; a sheet takes ${MOST_COLUMNS}: use csv or parquet`,
      );
    cells += table.rows * table.columns.length;
  }
  if (cells > MOST_CELLS) throw new TableError(`xlsx: ${cells} cells are more than ${MOST_CELLS}: use csv or parquet`);
  const pictures = o.pictures ?? [];
  const names = sheetNames([...sheets.map((s) => s.name), ...(pictures.length > 0 ? ["charts"] : []), "where from"]);
  const about: SheetData = o.about.map(([what, text]) => [
    { value: cellText(what), type: String, fontWeight: "bold" as const, alignVertical: "top" as const },
    { value: cellText(text), type: String, wrap: true },
  ]);
  // Loaded when the first workbook is asked for: most jobs write none.
  const { default: writeWorkbook } = await import("write-excel-file/node");
  const written = await writeWorkbook([
    ...sheets.map((s, k) => ({
      data: dataOf(s.table, o.digits),
      sheet: names[k]!,
      stickyRowsCount: 2,
      columns: widths(s.table),
    })),
    ...(pictures.length > 0 ? [picturesSheet(pictures, names[sheets.length]!)] : []),
    { data: about, sheet: names[names.length - 1]!, columns: [{ width: 18 }, { width: 90 }] },
  ]).toBuffer();
  // The archive is packed anew with a fixed time, in order of the names.
  const files: Zippable = {};
  const parts = unzipSync(new Uint8Array(written));
  const first = "[Content_Types].xml";
  for (const name of Object.keys(parts).sort((a, b) => (a === first ? -1 : b === first ? 1 : a < b ? -1 : 1)))
    files[name] = [parts[name]!, { mtime: "1980-01-01T00:00:00" }];
  return zipSync(files, { level: 6 });
}
