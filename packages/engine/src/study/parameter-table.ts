import path from "node:path";
import { openFile, readTextTable } from "@oxtrum/core/formats";
import {
  displayUnit,
  formatNumber,
  nearly,
  plainText,
  tryParseUnit,
  type Column,
  type Table,
} from "@oxtrum/core/tables";
import { convert, parseUnit, sameDimensions } from "@oxtrum/core/tables";
import type { Raw, RawParams } from "../definition/raw-parameters.js";

/** One row of a parameter table. */
export interface ParameterRow {
  /** Its number in the table, from 1. */
  readonly number: number;
  readonly key: string;
  readonly params: RawParams;
}

export interface ParameterTable {
  readonly file: string;
  /** What the keys are taken from: a column's name, or a template of columns. */
  readonly keyed: string;
  readonly rows: readonly ParameterRow[];
  /** What was found on reading it. */
  readonly problems: readonly string[];
}

/** `run_{case:3}`: names of columns in braces, with the digits that a number is filled up to. */
const placeholder = /\{\s*([^{}:]+?)\s*(?::\s*(\d+)\s*)?\}/g;

/**
 * Reads a parameter table. A row's key is what tells its run: the column called run, id, name, folder or case, else the
 * first text column, else the first; or the column or template that the definition names.
 *
 * @param key a column's name, or a template such as `run_{case:3}`
 * @throws Error when a column is not there
 */
export function readParameterTable(full: string, file: string, key: string | undefined): ParameterTable {
  const source = openFile(full, file);
  let table: Table;
  try {
    // Every row is a run: nothing is a restart here, and a last line without an end is one as well.
    table = readTextTable(source, undefined, { lastLine: "read" }, undefined, false).table;
  } finally {
    source.close();
  }
  const template = key?.includes("{") ? key : undefined;
  const column = template === undefined ? keyColumn(table, key) : undefined;
  const used = template === undefined ? [column!] : [...template.matchAll(placeholder)].map((m) => named(table, m[1]!));
  const text = (c: Column, i: number, digits = 0): string => {
    const v = c.values[i]!;
    return typeof v === "number" && digits > 0 ? String(v).padStart(digits, "0") : String(v);
  };
  const rows = Array.from({ length: table.rows }, (_, i): ParameterRow => {
    const params: RawParams = {};
    for (const c of table.columns) {
      if (used.includes(c) && template === undefined) continue;
      const v = c.values[i]!;
      if (v === "" || v !== v) continue;
      params[c.name] = { value: v, ...(c.kind === "number" && c.unit !== null && { unit: c.unit }) };
    }
    const own =
      template === undefined
        ? text(column!, i)
        : template.replace(placeholder, (_m, name: string, digits?: string) =>
            text(named(table, name), i, Number(digits ?? 0)),
          );
    return { number: i + 1, key: own, params };
  });
  const problems = (table.conditions ?? [])
    .filter((c) => c.kind !== "unfinished line")
    .map((c) => `is read, but ${c.text}`);
  return { file, keyed: template ?? column!.name, rows, problems };
}

function named(table: Table, name: string): Column {
  const c = table.columns.find((x) => x.name === name);
  if (!c) throw new Error(`it has no column "${name}"; there is ${table.columns.map((x) => `"${x.name}"`).join(", ")}`);
  return c;
}

function keyColumn(table: Table, name: string | undefined): Column {
  if (name !== undefined) return named(table, name);
  return (
    table.columns.find((c) => /^(?:run|id|name|folder|case)$/i.test(c.name)) ??
    table.columns.find((c) => c.kind === "text") ??
    table.columns[0]!
  );
}

/** The words and numbers of a name, whatever is between them: `Fan050-Door 1` is fan, 50, door, 1. */
const words = (name: string): string =>
  (name.toLowerCase().match(/\p{L}+|\d+(?:\.\d+)?/gu) ?? [])
    .map((w) => (/^\d/.test(w) ? String(Number(w)) : w))
    .join(" ");
const numbersIn = (name: string): string =>
  (name.match(/\d+(?:\.\d+)?/g) ?? []).map((n) => String(Number(n))).join(" ");

/** Which row belongs to which run, and what does not fit. */
export interface Matched {
  readonly rows: ReadonlyMap<string, ParameterRow>;
  /** Problems of the study, and of single runs. */
  readonly study: readonly string[];
  readonly ofRun: ReadonlyMap<string, string>;
}

/** What a run is known by, way by way, and what a row's key is compared with then. */
const ways: ((run: { readonly id: string; readonly folder: string }) => string)[] = [
  (r) => r.id,
  (r) => path.posix.basename(r.folder),
  (r) => words(r.id),
  (r) => words(path.posix.basename(r.folder)),
  (r) => numbersIn(path.posix.basename(r.folder)),
];
const keys: ((row: ParameterRow) => string)[] = [
  (r) => r.key,
  (r) => r.key,
  (r) => words(r.key),
  (r) => words(r.key),
  (r) => (/^\d+(?:\.\d+)?$/.test(r.key) ? String(Number(r.key)) : ""),
];

/**
 * Brings rows and runs together: by the run's name or its folder's; else by the words and numbers in both; else, where
 * keys are plain numbers, by the only number in the run's name. A way is taken when it gives each row at most one run.
 */
export function matchRows(
  table: ParameterTable,
  runs: readonly { readonly id: string; readonly folder: string }[],
): Matched {
  const rows = new Map<string, ParameterRow>();
  const again = new Map<string, ParameterRow[]>();
  const taken = new Set<ParameterRow>();
  for (let w = 0; w < ways.length; w++) {
    const open = runs.filter((r) => !rows.has(r.id));
    const byKey = new Map<string, (typeof runs)[number][]>();
    for (const r of open) byKey.set(ways[w]!(r), [...(byKey.get(ways[w]!(r)) ?? []), r]);
    for (const row of table.rows) {
      if (taken.has(row)) continue;
      const key = keys[w]!(row);
      const found = key === "" ? undefined : byKey.get(key);
      if (found?.length !== 1) continue;
      const { id } = found[0]!;
      taken.add(row);
      if (rows.has(id)) again.set(id, [...(again.get(id) ?? []), row]);
      else rows.set(id, row);
    }
  }
  const ofRun = new Map<string, string>();
  for (const r of runs) if (!rows.has(r.id)) ofRun.set(r.id, `${table.file} has no row for this run`);
  for (const [id, more] of again)
    ofRun.set(
      id,
      `${table.file} has ${more.length + 1} rows for this run ` +
        `(${[rows.get(id)!, ...more].map((r) => r.number).join(", ")}); row ${rows.get(id)!.number} is ` +
        "used",
    );
  const lost = table.rows.filter((r) => !taken.has(r));
  const study: string[] = [...table.problems];
  const list = (shown: readonly ParameterRow[]): string =>
    `${shown
      .slice(0, 5)
      .map((r) => `${r.number} ("${plainText(r.key)}")`)
      .join(", ")}${shown.length > 5 ? " …" : ""}`;
  if (rows.size === 0 && table.rows.length > 0)
    study.push(
      `has no row that fits a run: the keys of ${table.keyed} are ${list(table.rows)}, the runs are ${runs
        .slice(0, 3)
        .map((r) => r.id)
        .join(", ")}; name the key column or a template of columns as runs.key, such as "run_{${table.keyed}}"`,
    );
  else if (lost.length > 0)
    study.push(`has ${lost.length} row${lost.length === 1 ? "" : "s"} without a run: ${list(lost)}`);
  return { rows, study, ofRun };
}

/** Why a value of the table is another than the run's own; undefined when they agree. */
export function disagreement(name: string, own: Raw, row: Raw, file: string): string | undefined {
  const say = (r: Raw): string =>
    `${typeof r.value === "number" ? formatNumber(r.value) : r.value}${r.unit === undefined ? "" : ` ${displayUnit(r.unit)}`}`;
  if (typeof own.value === "number" && typeof row.value === "number") {
    const [a, b] = [own.unit, row.unit].map((u) => (u === undefined ? undefined : tryParseUnit(u)?.symbol));
    let value = row.value;
    if (a !== undefined && b !== undefined && a !== b)
      value = sameDimensions(parseUnit(a), parseUnit(b)) ? convert(row.value, b, a) : Number.NaN;
    if (value === own.value || nearly(value, own.value)) return undefined;
  } else if (String(own.value) === String(row.value)) return undefined;
  return `"${name}" is ${say(own)} by the run's name or case file and ${say(row)} in ${file}; the former is used`;
}
