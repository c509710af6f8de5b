import {
  defaultSize,
  drawPng,
  tableToJson,
  toCsv,
  toHtml,
  toLatex,
  toMarkdown,
  toParquet,
  toPoints,
  toSemicolon,
  toTsv,
  toXlsx,
  type Block,
  type TextOptions,
} from "@oxtrum/core/exports";
import { displayUnit, drop, formatNumber, pick, takeRows, type Column, type Table } from "@oxtrum/core/tables";
import { drawnSize } from "../output-size.js";
import type { FileNames } from "../naming.js";

import type { Value } from "../../verbs/values.js";
import { packValue } from "../../store/serialize.js";
import { sha256 } from "../../store/keys.js";
import { outputKind, type Asked, type Content, type DrawnCharts } from "./output-kind.js";

type TableAsked = Asked<Extract<Value, { readonly kind: "table" }>>;

/** Formats of tables, with the endings of their files. */
const endings = {
  csv: "csv",
  tsv: "tsv",
  semicolon: "semicolon.csv",
  json: "json",
  xlsx: "xlsx",
  parquet: "parquet",
  md: "md",
  tex: "tex",
  html: "html",
  vtp: "vtp",
  vtu: "vtu",
} as const;
type TableFormat = keyof typeof endings;

/** One output may have many files, but not without end. */
const MOST_FILES = 5000;

interface Part {
  /** The run that it holds, where there is a file or a sheet for each. */
  readonly run: string | undefined;
  readonly table: Table;
}

/** The table, or with `layout: "each"` its runs one by one. */
function partsOf(e: TableAsked, table: Table): Part[] {
  if (e.options["layout"] !== "each") return [{ run: undefined, table }];
  const run = table.columns.find((c) => c.name === "run" && c.kind === "text");
  if (!run) throw new Error('layout "each": the table has no column "run" to tell its runs apart');
  const rows = new Map<string, number[]>();
  for (let i = 0; i < table.rows; i++) {
    const id = String(run.values[i]);
    const list = rows.get(id);
    if (list) list.push(i);
    else rows.set(id, [i]);
  }
  const rest = drop(table, ["run"]);
  return [...rows].map(([id, list]) => ({ run: id, table: takeRows(rest, list) }));
}

async function picturesFor(
  e: TableAsked,
  drawn: DrawnCharts,
): Promise<{ png: Buffer; width: number; height: number; title: string }[]> {
  const pictures = [];
  for (const name of (e.options["charts"] as string[] | undefined) ?? []) {
    const found = drawn.get(name);
    if (!found)
      throw new Error(
        `charts: there is no chart "${name}"${drawn.size > 0 ? `; there is ${[...drawn.keys()].map((n) => `"${n}"`).join(", ")}` : ""}`,
      );
    const size = drawnSize(found.options, defaultSize);
    pictures.push({ png: await drawPng(found.chart, size), width: size.width, height: size.height, title: name });
  }
  return pictures;
}

/** What the last sheet of a workbook says: where all of it came from. */
function aboutLines(e: TableAsked): [string, string][] {
  const { table, left = [], runs } = e.value;
  return [
    ["output", e.name],
    ["script", `line ${e.line}`],
    ...(runs ? ([["runs", `${runs.length}: ${runs.join(", ")}`]] as [string, string][]) : []),
    ...left.map((l): [string, string] => ["excluded", `${l.run}: ${l.reason}`]),
    ...table.notes.map((n): [string, string] => ["note", n]),
  ];
}

/**
 * The files of a table in the formats asked for: one for all, or one for each run (workbooks have a sheet for each
 * instead).
 *
 * @throws Error for a format that is not there, too many files, or two runs whose files would have one name
 */
async function tableFiles(e: TableAsked, names: FileNames, drawn: DrawnCharts): Promise<Content[]> {
  const { table } = e.value;
  const formats = (e.options["formats"] as string[] | undefined) ?? ["csv"];
  const digits = e.options["digits"] as number | undefined;
  if (digits !== undefined && !(Number.isInteger(digits) && digits >= 1 && digits <= 17))
    throw new Error(`digits ${digits}: a whole number from 1 to 17`);
  const columns = e.options["columns"] as string[] | undefined;
  const parts = partsOf(
    e,
    columns ? pick(table, e.options["layout"] === "each" ? [...new Set(["run", ...columns])] : columns) : table,
  );
  if (parts.length * formats.length > MOST_FILES)
    throw new Error(
      `${parts.length * formats.length} files for one output are more than ${MOST_FILES}; leave out layout "each"`,
    );
  const formulas = e.options["formulas"] as "text" | "keep" | undefined;
  if (formulas !== undefined && formulas !== "text" && formulas !== "keep")
    throw new Error(`formulas "${String(formulas)}": use "text" or "keep"`);
  const base = names.path(e.name);
  const out: Content[] = [];
  const taken = new Map<string, string>();
  for (const f of formats) {
    if (!Object.hasOwn(endings, f))
      throw new Error(`format "${f}": use ${Object.keys(endings).slice(0, -1).join(", ")} or vtu`);
    if (f === "xlsx") {
      const sheets = parts.map((p) => ({ name: p.run ?? e.name, table: p.table }));
      out.push({
        file: `${base}.xlsx`,
        content: await toXlsx(sheets, { digits, about: aboutLines(e), pictures: await picturesFor(e, drawn) }),
      });
      continue;
    }
    for (const p of parts) {
      const file = `${p.run === undefined ? base : names.path(e.name, { run: p.run })}.${endings[f as TableFormat]}`;
      const other = taken.get(file.toLowerCase());
      if (other !== undefined)
        throw new Error(`the runs "${other}" and "${p.run ?? ""}" would have the same file name ${file}`);
      taken.set(file.toLowerCase(), p.run ?? "");
      out.push({
        file,
        content: await written(f as TableFormat, p.table, p.run === undefined ? e.name : `${e.name}, ${p.run}`, {
          digits,
          formulas,
        }),
      });
    }
  }
  return out;
}

async function written(
  format: TableFormat,
  table: Table,
  title: string,
  options: TextOptions,
): Promise<Uint8Array | string> {
  const { digits } = options;
  switch (format) {
    case "csv":
      return toCsv(table, options);
    case "tsv":
      return toTsv(table, options);
    case "semicolon":
      return toSemicolon(table, options);
    case "json":
      return tableToJson(table);
    case "parquet":
      return toParquet(table);
    case "md":
      return toMarkdown(table, { digits });
    case "tex":
      return toLatex(table, { digits });
    case "html":
      return toHtml(table, title, { digits });
    case "vtp":
    case "vtu":
      return toPoints(table, format);
    case "xlsx":
      throw new Error("workbooks hold several tables");
  }
}

const MOST_ROWS = 60;
const MOST_COLUMNS = 14;

function tableBlock(t: Table, caption: string): Block {
  const columns = t.columns.slice(0, MOST_COLUMNS);
  const head = (c: Column): string => {
    const unit = c.kind === "number" ? displayUnit(c.unit) : "";
    return `${(c.label ?? c.name).replace(/[_^]\{([^{}]*)\}/g, "$1")}${unit === "" ? "" : ` (${unit})`}`;
  };
  const rows = Array.from({ length: Math.min(t.rows, MOST_ROWS) }, (_, i) =>
    columns.map((c) => (c.kind === "number" ? formatNumber(c.values[i]!, 5) : c.values[i]!)),
  );
  const more = [
    ...(t.rows > MOST_ROWS ? [`${t.rows - MOST_ROWS} more rows`] : []),
    ...(t.columns.length > MOST_COLUMNS ? [`${t.columns.length - MOST_COLUMNS} more columns`] : []),
  ];
  return {
    kind: "table",
    head: columns.map(head),
    numeric: columns.map((c) => c.kind === "number"),
    rows,
    caption,
    ...(more.length > 0 && { more: `${more.join(" and ")} in the files` }),
  };
}

/** A table: files in many formats, rows in reports. */
export const table = outputKind("table", {
  kind: "table",
  needsCharts: (options) => options["charts"] !== undefined,
  files: tableFiles,
  told: ({ value }) => ({ rows: value.table.rows, notes: value.table.notes }),
  digest: ({ value }) => sha256(packValue({ ...value.table, notes: [] })),
  inReport: "outputs",
  blocks: ({ value, caption }) => [tableBlock(value.table, caption)],
  compares: "table",
});
