import fs from "node:fs";
import path from "node:path";
import { openFile, readPlainFile, readTextTable } from "@oxtrum/core/formats";
import {
  convert,
  displayUnit,
  glob,
  parseQuantity,
  parseUnit,
  sameDimensions,
  textPattern,
  tryParseUnit,
  type Table,
} from "@oxtrum/core/tables";
import { DefinitionError, type StudyDefinition } from "./definition.js";
import { byCode, inside, type StudyTree } from "./folders.js";

export interface Parameter {
  readonly name: string;
  readonly unit: string | null;
  readonly type: "number" | "text";
  readonly label?: string;
}

export interface FoundRun {
  readonly id: string;
  /** Its folder within the study's. */
  readonly folder: string;
  readonly params: Readonly<Record<string, number | string>>;
  readonly problems: readonly string[];
}

export interface Discovery {
  readonly runs: readonly FoundRun[];
  readonly parameters: readonly Parameter[];
  /** How the runs were found, in words. */
  readonly how: string;
}

interface Raw {
  readonly value: number | string;
  readonly unit?: string;
}

type RawParams = Record<string, Raw>;

const CASE_NAMES = ["case.json", "params.json", "parameters.json", "run.json"];
const MOST_RUNS = 100_000;

/**
 * Finds a study's runs and their parameters: by the definition's pattern, by a parameter table, by a case file in each
 * folder; with no definition, by whichever of them is there.
 */
export function discoverRuns(tree: StudyTree, definition: StudyDefinition): Discovery {
  const folder = tree.root;
  const table = definition.runs.table ?? (fs.existsSync(path.join(folder, "runs.csv")) ? "runs.csv" : undefined);
  const rows = table === undefined ? undefined : rowsOf(tree, table, definition);
  let how: string;
  let found: { id: string; folder: string; parts: RawParams }[];
  const caseName = definition.runs.case;
  if (definition.runs.pattern !== undefined) {
    found = byPattern(tree, definition.runs.pattern);
    how = `folders that fit ${definition.runs.pattern}`;
  } else {
    const guess = guessFolders(tree, rows, caseName);
    found = guess.found;
    how = guess.how;
  }
  const excluded = (definition.runs.exclude ?? []).map((p) => glob(p));
  found = onceEach(tree, found);
  found = found.filter((f) => !excluded.some((m) => m(f.id))).slice(0, MOST_RUNS);
  const raws = found.map((f) => {
    const problems: string[] = [];
    const params: RawParams = { ...f.parts };
    for (const name of caseName === undefined ? CASE_NAMES : [caseName]) {
      if (!fs.existsSync(path.join(folder, f.folder, name))) continue;
      try {
        const given = caseFile(inside(folder, path.posix.join(f.folder, name), definition.links));
        for (const [k, v] of Object.entries(given)) params[k] = v;
      } catch (e) {
        problems.push(`${name}: ${(e as Error).message}`);
      }
      break;
    }
    const row = rows?.get(f.id) ?? rows?.get(path.posix.basename(f.folder));
    if (row) for (const [k, v] of Object.entries(row)) if (!Object.hasOwn(params, k)) params[k] = v;
    return { ...f, params, problems };
  });
  const parameters = parameterHeads(
    raws.map((r) => r.params),
    definition,
  );
  const runs = raws.map((r): FoundRun => {
    const params: Record<string, number | string> = {};
    for (const p of parameters) {
      const raw = Object.hasOwn(r.params, p.name) ? r.params[p.name] : undefined;
      if (raw === undefined) {
        r.problems.push(`no parameter "${p.name}"`);
        continue;
      }
      if (p.type === "text") params[p.name] = String(raw.value);
      else {
        const value = inUnit(Number(raw.value), raw.unit, p.unit);
        if (value === undefined)
          r.problems.push(`parameter "${p.name}" is in ${raw.unit!}, which cannot be converted to ${displayUnit(p.unit) || "a plain number"}`); // prettier-ignore
        else params[p.name] = value;
      }
    }
    return { id: r.id, folder: r.folder, params, problems: r.problems };
  });
  return { runs: runs.sort((a, b) => byCode(a.id, b.id)), parameters, how };
}

/** The parameter table's rows; one that cannot be read is a problem of the study, and its runs are there all the same. */
function rowsOf(tree: StudyTree, table: string, definition: StudyDefinition): Map<string, RawParams> | undefined {
  let full: string;
  try {
    full = inside(tree.root, table, definition.links);
  } catch (e) {
    throw new DefinitionError(`runs.table: ${(e as Error).message}`);
  }
  try {
    return parameterTable(full, table);
  } catch (e) {
    const text = (e as NodeJS.ErrnoException).code === "ENOENT" ? "is not there" : `cannot be read: ${(e as Error).message}`; // prettier-ignore
    tree.note(table, `${text}; the parameters in it are missing`);
    return undefined;
  }
}

/** A parameter in the unit that it has in the study; undefined where it cannot be converted. A bare number is in that unit. */
function inUnit(value: number, unit: string | undefined, wanted: string | null): number | undefined {
  const own = unit === undefined ? undefined : tryParseUnit(unit);
  if (own === undefined || own.symbol === wanted) return value;
  if (wanted === null) return undefined;
  const target = parseUnit(wanted);
  return sameDimensions(own, target) ? convert(value, own.symbol, target.symbol) : undefined;
}

/** A link to a folder that is a run already is no further run: its numbers would count twice. */
function onceEach<T extends { readonly id: string; readonly folder: string }>(
  tree: StudyTree,
  found: readonly T[],
): T[] {
  if (!tree.hasLinkedFolders) return [...found];
  const own = new Map<string, T>();
  const reals = found.map((f) => tree.realOf(f.folder));
  // The folder itself comes before links to it.
  found.forEach((f, k) => {
    const real = reals[k]!;
    if (!own.has(real) || path.join(tree.realOf(""), f.folder) === real) own.set(real, f);
  });
  return found.filter((f, k) => {
    const first = own.get(reals[k]!)!;
    if (first === f) return true;
    tree.skip(f.folder);
    tree.note(f.folder, `is a link to the run ${first.id}; it does not count a second time`);
    return false;
  });
}

/** `{fan:%}_{doorOpen:s}_{curtain}` below a folder: each part of the path is matched by name. */
function byPattern(tree: StudyTree, wanted: string): { id: string; folder: string; parts: RawParams }[] {
  let level: { folder: string; parts: RawParams }[] = [{ folder: "", parts: {} }];
  for (const part of wanted.split("/").filter((p) => p !== "")) {
    const fields: { name: string; unit: string | undefined }[] = [];
    const { any, capture, literal, sequence, set, some, TextPattern } = textPattern;
    const inName = set((c) => c !== 47);
    const pieces = part.split(/(\{[^{}]*\}|\*)/).map((piece) => {
      if (piece === "*") return any(inName);
      const m = /^\{\s*([\w.-]+)\s*(?::\s*([^{}]+?)\s*)?\}$/.exec(piece);
      if (!m) return literal(piece);
      if (m[2] !== undefined && m[2] !== "text" && !tryParseUnit(m[2]))
        throw new DefinitionError(`runs.pattern: "${m[2]}" is not a unit`);
      fields.push({ name: m[1]!, unit: m[2] });
      return capture(some(inName, true));
    });
    if (fields.length > 50) throw new DefinitionError("runs.pattern: there are more than 50 parameters in it");
    const pattern = new TextPattern(sequence(...pieces));
    level = level.flatMap((l) =>
      tree.entries(l.folder).folders.flatMap((name) => {
        const m = pattern.whole(name);
        if (!m) return [];
        const parts = { ...l.parts };
        fields.forEach((f, i) => (parts[f.name] = fromText(m[i]!, f.unit)));
        return [{ folder: l.folder === "" ? name : `${l.folder}/${name}`, parts }];
      }),
    );
  }
  return level
    .map((l) => ({ id: path.posix.basename(l.folder), folder: l.folder, parts: l.parts }))
    .map((f, _, all) => (all.filter((o) => o.id === f.id).length > 1 ? { ...f, id: f.folder } : f));
}

function fromText(text: string, unit: string | undefined): Raw {
  if (unit === "text") return { value: text };
  const number = /^[+-]?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?$/.test(text) ? Number(text) : undefined;
  if (number !== undefined) return { value: number, ...(unit !== undefined && { unit }) };
  return { value: text };
}

/** Where the runs are, when nobody says: the folders with a case file, those a table names, or alike siblings. */
function guessFolders(
  tree: StudyTree,
  rows: Map<string, RawParams> | undefined,
  caseName: string | undefined,
): { found: { id: string; folder: string; parts: RawParams }[]; how: string } {
  const names = caseName === undefined ? CASE_NAMES : [caseName];
  const folder = tree.root;
  const parents = [
    "",
    ...tree.entries("").folders,
    ...tree.entries("").folders.flatMap((f) => tree.entries(f).folders.map((g) => `${f}/${g}`)),
  ].slice(0, 2000);
  const item = (parent: string, name: string): { id: string; folder: string; parts: RawParams } => ({
    id: name,
    folder: parent === "" ? name : `${parent}/${name}`,
    parts: {},
  });
  let best: { parent: string; names: string[]; weight: number; how: string } | undefined;
  for (const parent of parents) {
    const children = tree.entries(parent).folders;
    if (children.length === 0) continue;
    const withCase = children.filter((c) => names.some((n) => fs.existsSync(path.join(folder, parent, c, n))));
    const inTable = rows ? children.filter((c) => rows.has(c)) : [];
    const consider = (list: string[], weight: number, how: string): void => {
      if (list.length > 0 && (best === undefined || weight > best.weight)) best = { parent, names: list, weight, how };
    };
    if (withCase.length > 0)
      consider(
        alike(tree, parent, children, withCase[0]!),
        3_000_000 + withCase.length,
        `folders with a ${names.find((n) => fs.existsSync(path.join(folder, parent, withCase[0]!, n)))}`,
      );
    if (inTable.length > 0) consider(inTable, 2_000_000 + inTable.length, "folders that the parameter table names");
    if (withCase.length === 0 && inTable.length === 0 && children.length > 1) {
      const list = alike(tree, parent, children, children[0]!);
      if (list.length > 1) consider(list, list.length, "folders that hold the same files");
    }
  }
  if (!best) {
    const here = tree.entries("");
    if (here.files.length > 0)
      return {
        found: [{ id: path.basename(folder), folder: "", parts: {} }],
        how: "the folder itself, as a single run",
      };
    return { found: [], how: "no folders with results" };
  }
  const { parent, names: list, how } = best;
  return { found: list.map((n) => item(parent, n)), how };
}

/** The children that share at least one file (or folder) name with the model. */
function alike(tree: StudyTree, parent: string, children: readonly string[], model: string): string[] {
  const look = (c: string): string[] => {
    const e = tree.entries(parent === "" ? c : `${parent}/${c}`);
    return [...e.files, ...e.folders.map((d) => d + "/")];
  };
  const wanted = new Set(look(model));
  return children.filter((c) => c === model || look(c).some((n) => wanted.has(n)));
}

const word = /^[\p{L}\w.-]+$/u;

/** Parameters of a case file: numbers, words, `{ "value": 50, "unit": "%" }` or `"50 %"`; nested names are joined by a dot. */
function caseFile(file: string): RawParams {
  const json = JSON.parse(readPlainFile(file, { most: 1e6, name: path.basename(file) }).toString("utf8")) as Record<
    string,
    unknown
  >;
  if (json === null || typeof json !== "object" || Array.isArray(json)) throw new Error("is not an object");
  const out: RawParams = {};
  const walk = (o: Record<string, unknown>, prefix: string): void => {
    for (const [k, v] of Object.entries(o)) {
      const name = prefix + k;
      if (!word.test(name)) continue;
      if (typeof v === "number" || typeof v === "boolean")
        out[name] = { value: typeof v === "boolean" ? (v ? "yes" : "no") : v };
      else if (typeof v === "string") out[name] = worded(v);
      else if (v !== null && typeof v === "object" && !Array.isArray(v)) {
        const q = v as { value?: unknown; unit?: unknown };
        if (typeof q.value === "number")
          out[name] = { value: q.value, ...(typeof q.unit === "string" && { unit: q.unit }) };
        else if (typeof q.value === "string") out[name] = { value: q.value };
        else walk(v as Record<string, unknown>, name === "parameters" || name === "params" ? "" : `${name}.`);
      }
    }
  };
  walk(json, "");
  return out;
}

function worded(text: string): Raw {
  try {
    const q = parseQuantity(text);
    return { value: q.value, ...(q.unit !== null && q.unit !== "1" && { unit: q.unit }) };
  } catch {
    return { value: text };
  }
}

/** The rows of a parameter table by run: its first text column, or the one called run, id, name or folder. */
function parameterTable(full: string, file: string): Map<string, RawParams> {
  let table: Table;
  const source = openFile(full, file);
  try {
    table = readTextTable(source).table;
  } finally {
    source.close();
  }
  const key =
    table.columns.find((c) => /^(?:run|id|name|folder|case)$/i.test(c.name)) ??
    table.columns.find((c) => c.kind === "text") ??
    table.columns[0];
  const out = new Map<string, RawParams>();
  for (let i = 0; i < table.rows; i++) {
    const row: RawParams = {};
    for (const c of table.columns) {
      if (c === key) continue;
      const v = c.values[i]!;
      if (v === "" || v !== v) continue;
      row[c.name] = { value: v, ...(c.kind === "number" && c.unit !== null && { unit: c.unit }) };
    }
    out.set(String(key!.values[i]), row);
  }
  return out;
}

function parameterHeads(all: readonly RawParams[], definition: StudyDefinition): Parameter[] {
  const names: string[] = [];
  for (const p of all) for (const k of Object.keys(p)) if (!names.includes(k)) names.push(k);
  return names.map((name): Parameter => {
    const declared = Object.hasOwn(definition.parameters, name) ? definition.parameters[name]! : {};
    const values = all.flatMap((p) => (Object.hasOwn(p, name) ? [p[name]!] : []));
    const type = declared.type ?? (values.every((v) => typeof v.value === "number") ? "number" : "text");
    const unitText = declared.unit ?? values.find((v) => v.unit !== undefined)?.unit;
    const unit = type === "text" ? null : unitText === undefined ? null : (tryParseUnit(unitText)?.symbol ?? null);
    return { name, unit, type, ...(declared.label !== undefined && { label: declared.label }) };
  });
}
