import { exactNumber } from "../tables/number-format.js";
import type { Column, Table } from "../tables/table.js";
import { displayUnit, plainUnit } from "../tables/units.js";

/** How the numbers of a table are written. */
export interface TextOptions {
  /** Significant digits; as many as read back to the same bits when not given. */
  readonly digits?: number | undefined;
  /**
   * Texts that a spreadsheet would take for a formula get an apostrophe before them, unless this says `keep`. Only in
   * formats that spreadsheets open as text: CSV, semicolons, tabs.
   */
  readonly formulas?: "text" | "keep" | undefined;
}

/**
 * A text as a spreadsheet keeps it: one that begins as a formula does (`=`, `+`, `-`, `@`, tab or return) gets an
 * apostrophe before it. Plain numbers, which begin so too, stay as they are.
 */
export const asText = (text: string, o: TextOptions): string =>
  o.formulas !== "keep" && /^[=+\-@\t\r]./s.test(text) && !/^[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?$/.test(text)
    ? `'${text}`
    : text;

/** A number as a table for reading has it: rounded to digits, no exponent between 1e-4 and 1e7. Missing is blank. */
export function roundedNumber(x: number, digits: number | undefined): string {
  if (x !== x) return "";
  if (digits === undefined || !Number.isFinite(x) || x === 0) return exactNumber(x);
  const rounded = Number(x.toPrecision(digits));
  const size = Math.abs(rounded);
  if (size < 1e-4 || size >= 1e7) return rounded.toExponential(digits - 1).replace("e+", "e");
  const decimals = Math.max(0, digits - 1 - Math.floor(Math.log10(size)));
  return rounded.toFixed(Math.min(100, decimals));
}

const cell = (c: Column, i: number, o: TextOptions): string =>
  c.kind === "number" ? roundedNumber(c.values[i]!, o.digits) : c.values[i]!;

const units = (c: Column): string => (c.kind === "number" && c.unit !== null ? displayUnit(c.unit) : "");

/** The heads of columns with their units in brackets. */
const headOf = (c: Column): string => `${c.label ?? c.name}${units(c) === "" ? "" : ` [${units(c)}]`}`;

const PART = 1 << 20;

/** Rows of text, gathered in parts: a text may not be as long as a table. */
function bytesOf(table: Table, first: string, row: (i: number) => string, last = ""): Uint8Array {
  const parts: Buffer[] = [];
  let text = first;
  for (let i = 0; i < table.rows; i++) {
    text += row(i);
    if (text.length > PART) {
      parts.push(Buffer.from(text, "utf8"));
      text = "";
    }
  }
  parts.push(Buffer.from(text + last, "utf8"));
  return new Uint8Array(Buffer.concat(parts));
}

/**
 * A table with tabs between the columns; tabs and line ends within words become blanks, as the format has no way to say
 * them.
 * @example toTsv(table) // "time [s]\tT [K]\n0\t280\n"
 */
export function toTsv(table: Table, o: TextOptions = {}): Uint8Array {
  const plain = (t: string): string => asText(t, o).replace(/[\t\r\n]+/g, " ");
  const head = table.columns.map((c) =>
    plain(c.kind === "number" && c.unit !== null ? `${c.name} [${plainUnit(c.unit)}]` : c.name),
  );
  return bytesOf(
    table,
    head.join("\t") + "\n",
    (i) => table.columns.map((c) => (c.kind === "number" ? cell(c, i, o) : plain(c.values[i]!))).join("\t") + "\n",
  );
}

/** A table with semicolons between the columns and a decimal comma, as spreadsheets of many countries read it. */
export function toSemicolon(table: Table, o: TextOptions = {}): Uint8Array {
  const field = (given: string): string => {
    const t = asText(given, o);
    return /[";\r\n]|^\s|\s$/.test(t) ? `"${t.replace(/"/g, '""')}"` : t;
  };
  const head = table.columns.map((c) =>
    field(c.kind === "number" && c.unit !== null ? `${c.name} [${plainUnit(c.unit)}]` : c.name),
  );
  const text = (c: Column, i: number): string =>
    c.kind === "number" ? cell(c, i, o).replace(".", ",") : field(cell(c, i, o));
  return bytesOf(table, head.join(";") + "\n", (i) => table.columns.map((c) => text(c, i)).join(";") + "\n");
}

/** A table as Markdown, numbers to the right; six digits unless said otherwise. */
export function toMarkdown(table: Table, o: TextOptions = {}): Uint8Array {
  const plain = (t: string): string =>
    t
      .replace(/\\/g, "\\\\")
      .replace(/\|/g, "\\|")
      .replace(/[\r\n]+/g, " ")
      .replace(/([*_`<>[\]#])/g, "\\$1");
  const digits = { digits: o.digits ?? 6 };
  const head =
    `| ${table.columns.map((c) => plain(headOf(c))).join(" | ")} |\n| ` +
    `${table.columns.map((c) => (c.kind === "number" ? "--:" : ":--")).join(" | ")} |\n`;
  return bytesOf(
    table,
    head,
    (i) =>
      `| ${table.columns.map((c) => (c.kind === "number" ? cell(c, i, digits) : plain(cell(c, i, digits)))).join(" | ")} |\n`,
  );
}

const latexSigns: Readonly<Record<string, string>> = {
  "\\": "\\textbackslash{}",
  "{": "\\{",
  "}": "\\}",
  $: "\\$",
  "&": "\\&",
  "#": "\\#",
  "%": "\\%",
  _: "\\_",
  "^": "\\textasciicircum{}",
  "~": "\\textasciitilde{}",
  "°": "$^\\circ$",
  "²": "$^2$",
  "³": "$^3$",
  "·": "$\\cdot$",
  µ: "$\\mu$",
  Δ: "$\\Delta$",
  "−": "$-$",
};

/** Text in which no sign does anything: `_{…}` and `^{…}` of labels lower and raise. */
function latexText(text: string): string {
  const escape = (t: string): string =>
    t.replace(/[\r\n]+/g, " ").replace(/[\\{}$&#%_^~°²³·µΔ−]/g, (s) => latexSigns[s]!);
  return text
    .split(/([_^]\{[^{}]*\})/)
    .map((part) => (/^[_^]\{/.test(part) ? `$${part[0]!}{\\mathrm{${escape(part.slice(2, -1))}}}$` : escape(part)))
    .join("");
}

/** A table as a LaTeX tabular with ruled head; six digits unless said otherwise. Powers of ten are set as such. */
export function toLatex(table: Table, o: TextOptions = {}): Uint8Array {
  const digits = { digits: o.digits ?? 6 };
  const number = (t: string): string =>
    t.replace(/^(.*)e(-?\d+)$/, "$$$1\\cdot 10^{$2}$$").replace(/^-(.*)$/, "$$-$$$1");
  const text = (c: Column, i: number): string =>
    c.kind === "number" ? number(cell(c, i, digits)) : latexText(cell(c, i, digits));
  const alignment = table.columns.map((c) => (c.kind === "number" ? "r" : "l")).join("");
  const heads = table.columns.map((c) => latexText(headOf(c))).join(" & ");
  const head = `\\begin{tabular}{${alignment}}\n\\hline\n${heads} \\\\\n\\hline\n`;
  return bytesOf(
    table,
    head,
    (i) => `${table.columns.map((c) => text(c, i)).join(" & ")} \\\\\n`,
    "\\hline\n\\end{tabular}\n",
  );
}

const htmlSigns: Readonly<Record<string, string>> = {
  "&": "&amp;",
  "<": "&lt;",
  ">": "&gt;",
  '"': "&quot;",
  "'": "&#39;",
};
const escapeHtml = (t: string): string => t.replace(/[&<>"']/g, (s) => htmlSigns[s]!);
const richHtml = (t: string): string =>
  escapeHtml(t)
    .replace(/_\{([^{}]*)\}/g, "<sub>$1</sub>")
    .replace(/\^\{([^{}]*)\}/g, "<sup>$1</sup>");

const style =
  "body{font:14px/1.45 system-ui,sans-serif;color:#1f2629;margin:24px}table{border-collapse:collapse}" +
  "caption{text-align:left;font-weight:600;padding-bottom:6px}" +
  "th{font-weight:500;color:#5f6b6d;text-align:left;border-bottom:1px solid #1f2629}" +
  "th,td{padding:3px 10px}td{border-bottom:1px solid #ede9df}.n{text-align:right;font-variant-numeric:tabular-nums}";

/**
 * A table as a page of its own that opens with no network; six digits unless said otherwise, the exact number on hover.
 */
export function toHtml(table: Table, title: string, o: TextOptions = {}): Uint8Array {
  const digits = { digits: o.digits ?? 6 };
  const n = (c: Column): string => (c.kind === "number" ? ' class="n"' : "");
  const td = (c: Column, i: number): string =>
    c.kind === "number" && c.values[i]! === c.values[i]!
      ? `<td class="n" title="${exactNumber(c.values[i]!)}">${cell(c, i, digits)}</td>`
      : `<td${n(c)}>${escapeHtml(cell(c, i, digits))}</td>`;
  const heads = table.columns.map((c) => `<th${n(c)}>${richHtml(headOf(c))}</th>`).join("");
  const head =
    `<!doctype html>\n<html lang="en"><head><meta ` +
    `charset="utf-8"><title>${escapeHtml(title)}</title><style>${style}</style></head><body>\n` +
    `<table><caption>${escapeHtml(title)}</caption>\n<thead><tr>${heads}</tr></thead>\n<tbody>\n`;
  const notes = table.notes.map((t) => `<p>${escapeHtml(t)}</p>\n`).join("");
  return bytesOf(
    table,
    head,
    (i) => `<tr>${table.columns.map((c) => td(c, i)).join("")}</tr>\n`,
    `</tbody></table>\n${notes}</body></html>\n`,
  );
}
