import fs from "node:fs";
import path from "node:path";
import { readPlainFile } from "@oxtrum/core/formats";
import {
  convert,
  displayUnit,
  glob,
  listNames,
  parseQuantity,
  parseUnit,
  sameDimensions,
  textPattern,
  tryParseUnit,
} from "@oxtrum/core/tables";
import { DefinitionError, type StudyDefinition } from "../definition/definition.js";
import { shortNames } from "../definition/short-names.js";
import type { Parameter, Raw, RawParams } from "../definition/raw-parameters.js";
import { disagreement, matchRows, readParameterTable, type ParameterTable } from "./parameter-table.js";
import { byCode, inside, type StudyTree } from "../definition/folders.js";

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

const CASE_NAMES = ["case.json", "params.json", "parameters.json", "run.json"];
const MOST_RUNS = 100_000;

/**
 * Finds a study's runs and their parameters: by the definition's pattern, by a parameter table, by a case file in each
 * folder; with no definition, by whichever of them is there.
 */
export function discoverRuns(tree: StudyTree, definition: StudyDefinition): Discovery {
  const folder = tree.root;
  const table =
    (definition.runs.table && wholeTableName(tree, definition, definition.runs.table)) ??
    (fs.existsSync(path.join(folder, "runs.csv")) ? "runs.csv" : undefined);
  const rows = table === undefined ? undefined : rowsOf(tree, table, definition);
  const keys = rows && new Set(rows.rows.map((r) => r.key));
  let how: string;
  let found: { id: string; folder: string; parts: RawParams }[];
  const caseName = definition.runs.case;
  if (definition.runs.pattern !== undefined) {
    found = byPattern(tree, definition.runs.pattern);
    how = `folders that fit ${definition.runs.pattern}`;
  } else {
    const guess = guessFolders(tree, keys, caseName);
    found = guess.found;
    how = guess.how;
  }
  const excluded = (definition.runs.exclude ?? []).map((p) => glob(p));
  found = onceEach(tree, found);
  found = found.filter((f) => !excluded.some((m) => m(f.id))).slice(0, MOST_RUNS);
  const matched = rows && matchRows(rows, found);
  for (const text of matched?.study ?? []) tree.note(table!, text);
  const raws = found.map((f) => {
    const { params, problems } = caseParams(tree, definition, f);
    const odd = matched?.ofRun.get(f.id);
    if (odd !== undefined) problems.push(odd);
    for (const [k, v] of Object.entries(matched?.rows.get(f.id)?.params ?? {})) {
      const differs = Object.hasOwn(params, k) ? disagreement(k, params[k]!, v, table!) : undefined;
      if (differs !== undefined) problems.push(differs);
      if (!Object.hasOwn(params, k)) params[k] = v;
    }
    return { ...f, params, problems };
  });
  const parameters = parameterHeads(
    raws.map((r) => r.params),
    definition,
  );
  const runs = raws.map((r): FoundRun => {
    const params = inOwnUnits(r.params, parameters, r.problems);
    return { id: r.id, folder: r.folder, params, problems: r.problems };
  });
  return { runs: runs.sort((a, b) => byCode(a.id, b.id)), parameters, how };
}

/** A run's parameters by its folder's name and its case file, and what is wrong with that file. */
function caseParams(
  { root }: StudyTree,
  definition: StudyDefinition,
  run: { folder: string; parts: RawParams },
): { params: RawParams; problems: string[] } {
  const params: RawParams = { ...run.parts };
  const problems: string[] = [];
  const caseName = definition.runs.case;
  const name = (caseName === undefined ? CASE_NAMES : [caseName]).find((n) =>
    fs.existsSync(path.join(root, run.folder, n)),
  );
  if (name === undefined) return { params, problems };
  try {
    const given = caseFile(inside(root, path.posix.join(run.folder, name), definition.links));
    for (const [k, v] of Object.entries(given)) params[k] = v;
  } catch (e) {
    problems.push(`${name}: ${(e as Error).message}`);
  }
  return { params, problems };
}

/** A run's parameters in the units of the study; what is missing or cannot be converted is a problem of the run. */
function inOwnUnits(
  given: RawParams,
  parameters: readonly Parameter[],
  problems: string[],
): Record<string, number | string> {
  const params: Record<string, number | string> = {};
  for (const p of parameters) {
    const raw = Object.hasOwn(given, p.name) ? given[p.name] : undefined;
    if (raw === undefined) {
      problems.push(`no parameter "${p.name}"`);
      continue;
    }
    if (p.type === "text") {
      params[p.name] = String(raw.value);
      continue;
    }
    const value = inUnit(Number(raw.value), raw.unit, p.unit);
    if (value !== undefined) params[p.name] = value;
    else
      problems.push(
        `parameter "${p.name}" is in ${raw.unit!}, ` +
          `which cannot be converted to ${displayUnit(p.unit) || "a plain number"}`,
      );
  }
  return params;
}

/** The parameter table's file: one that is named without its ending is the only one that can be meant. */
function wholeTableName(tree: StudyTree, definition: StudyDefinition, name: string): string {
  const folder = path.posix.dirname(name);
  const here = folder === "." ? "" : folder;
  try {
    inside(tree.root, here, definition.links);
  } catch {
    return name;
  }
  const files = tree.entries(here).files.map((f) => (here === "" ? f : `${here}/${f}`));
  const meant = files.includes(name) ? [] : (shortNames(files).get(name) ?? []);
  if (meant.length > 1)
    throw new DefinitionError(`runs.table: "${name}" can be ${listNames(meant)}; write the whole name`);
  return meant[0] ?? name;
}

/**
 * The parameter table's rows; one that cannot be read is a problem of the study, and its runs are there all the same.
 */
function rowsOf(tree: StudyTree, table: string, definition: StudyDefinition): ParameterTable | undefined {
  let full: string;
  try {
    full = inside(tree.root, table, definition.links);
  } catch (e) {
    throw new DefinitionError(`runs.table: ${(e as Error).message}`);
  }
  try {
    return readParameterTable(full, table, definition.runs.key);
  } catch (e) {
    const text =
      (e as NodeJS.ErrnoException).code === "ENOENT" ? "is not there" : `cannot be read: ${(e as Error).message}`;
    tree.note(table, `${text}; the parameters in it are missing`);
    return undefined;
  }
}

/**
 * A parameter in the unit that it has in the study; undefined where it cannot be converted. A bare number is in that
 * unit.
 */
function inUnit(value: number, unit: string | undefined, wanted: string | null): number | undefined {
  const own = unit === undefined ? undefined : tryParseUnit(unit);
  if (own === undefined || own.symbol === wanted) return value;
  if (wanted === null) return undefined;
  const target = parseUnit(wanted);
  return sameDimensions(own, target) ? convert(value, own.symbol, target.symbol) : undefined;
}

/** A link to a folder that is a run already is not a further run: its numbers would count twice. */
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
  // A slash in braces belongs to a unit.
  for (const part of wanted.match(/(?:\{[^{}]*\}|[^/])+/g) ?? []) {
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

type Found = { id: string; folder: string; parts: RawParams };

const DEEPEST = 6;
const MOST_FOLDERS = 20_000;

/** All folders of a study, each before those in it, down to a depth. */
function allFolders(tree: StudyTree): string[] {
  const out = [""];
  let level = [""];
  for (let depth = 0; depth < DEEPEST && level.length > 0 && out.length < MOST_FOLDERS; depth++) {
    level = level.flatMap((f) => tree.entries(f).folders.map((name) => (f === "" ? name : `${f}/${name}`)));
    out.push(...level.slice(0, MOST_FOLDERS - out.length));
  }
  return out;
}

const parentOf = (folder: string): string => (folder.includes("/") ? folder.slice(0, folder.lastIndexOf("/")) : "");

/** Runs by the last part of their path, or by all of it where that is not enough. */
const asRuns = (folders: readonly string[]): Found[] => {
  const count = new Map<string, number>();
  for (const f of folders) count.set(path.posix.basename(f), (count.get(path.posix.basename(f)) ?? 0) + 1);
  return folders.map((folder) => {
    const own = path.posix.basename(folder);
    return { id: count.get(own)! > 1 ? folder : own, folder, parts: {} };
  });
};

/** Where the runs are, when nobody says: the folders with a case file, those a table names, or alike siblings. */
function guessFolders(
  tree: StudyTree,
  rows: ReadonlySet<string> | undefined,
  caseName: string | undefined,
): { found: Found[]; how: string } {
  const names = caseName === undefined ? CASE_NAMES : [caseName];
  const itself = {
    found: [{ id: path.basename(tree.root), folder: "", parts: {} }],
    how: "the folder itself, as a single run",
  };
  const caseIn = (f: string): string | undefined => names.find((n) => tree.entries(f).files.includes(n));
  const all = allFolders(tree);
  const withCase = all.filter((f) => f !== "" && caseIn(f) !== undefined);
  // A run has no runs in it.
  const outer = withCase.filter((f) => !withCase.some((o) => f.startsWith(`${o}/`)));
  if (outer.length > 0) {
    const parents = [...new Set(outer.map(parentOf))];
    const found = parents.flatMap((p) => {
      const children = tree.entries(p).folders;
      const join = (c: string): string => (p === "" ? c : `${p}/${c}`);
      const model = children.find((c) => outer.includes(join(c)))!;
      // Siblings without a case file are runs all the same, but not the folders in which other runs are.
      return alike(tree, p, children, model)
        .map(join)
        .filter((f) => outer.includes(f) || !outer.some((o) => o.startsWith(`${f}/`)));
    });
    const deep = new Set(found.map((f) => f.split("/").length)).size > 1;
    return { found: asRuns(found), how: `folders with a ${caseIn(outer[0]!)!}${deep ? ", at several depths" : ""}` };
  }
  if (caseIn("") !== undefined) return itself;
  const named = rows ? all.filter((f) => f !== "" && rows.has(path.posix.basename(f))) : [];
  if (named.length > 0) return { found: asRuns(named), how: "folders that the parameter table names" };
  let best: { parent: string; names: string[] } | undefined;
  for (const parent of all.filter((f) => f.split("/").length < 3).slice(0, 2000)) {
    const children = tree.entries(parent).folders;
    if (children.length < 2) continue;
    const list = alike(tree, parent, children, children[0]!);
    if (list.length > 1 && list.length > (best?.names.length ?? 1)) best = { parent, names: list };
  }
  if (!best) {
    noteFlatFiles(tree);
    return tree.entries("").files.length > 0 || all.length > 1 ? itself : { found: [], how: "no folders with results" };
  }
  const { parent } = best;
  const found = best.names.map((n) => (parent === "" ? n : `${parent}/${n}`));
  noteUncovered(tree, all, found);
  return { found: asRuns(found), how: "folders that hold the same files" };
}

/** Says which folders hold the same files as the runs but are none, with a pattern that covers them. */
function noteUncovered(tree: StudyTree, all: readonly string[], found: readonly string[]): void {
  const files = new Set(found.flatMap((f) => tree.entries(f).files));
  const inside = (f: string): boolean => found.some((r) => f === r || f.startsWith(`${r}/`) || r.startsWith(`${f}/`));
  const others = all.filter((f) => f !== "" && !inside(f) && tree.entries(f).files.some((n) => files.has(n)));
  if (others.length === 0) return;
  const depths = [...new Set([...found, ...others].map((f) => f.split("/").length))].sort((a, b) => a - b);
  const pattern = (d: number): string => [...Array<string>(d - 1).fill("*"), "{name:text}"].join("/");
  const cure =
    depths.length === 1
      ? `"runs": { "pattern": "${pattern(depths[0]!)}" } finds them too`
      : "they lie at different depths: put a case file into each run, or move them to one depth for " +
        `"runs": { "pattern": "${pattern(depths[0]!)}" }`;
  const more =
    others.length === 1
      ? ""
      : ` (as do ${others.slice(1, 5).join(", ")}${others.length > 5 ? ` and ${others.length - 5} more` : ""})`;
  tree.note(others[0]!, `holds the same files as the runs but is not taken for one${more}; ${cure}`);
}

/** Says when a folder seems to hold one file per run. */
function noteFlatFiles(tree: StudyTree): void {
  const groups = new Map<string, string[]>();
  for (const f of tree.entries("").files) {
    const m = /^(.*?)\d[\d._-]*(.*?)(\.\w+)$/.exec(f);
    if (m) groups.set(`${m[1]} ${m[3]}`, [...(groups.get(`${m[1]} ${m[3]}`) ?? []), f]);
  }
  const [largest] = [...groups.values()].sort((a, b) => b.length - a.length);
  if (!largest || largest.length < 2) return;
  const ending = path.posix.extname(largest[0]!);
  tree.note(
    "",
    `holds ${largest.length} files such as ${largest.slice(0, 3).join(", ")}, which look like one ` +
      "file per run; it is taken as one run. A run is a folder: move each file into a folder of its " +
      `own, e.g. ${path.posix.basename(largest[0]!, ending)}/result${ending}, and "runs": { "pattern": ` +
      `"{name:text}" } finds them`,
  );
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

/**
 * Parameters of a case file: numbers, words, `{ "value": 50, "unit": "%" }` or `"50 %"`; nested names are joined by a
 * dot.
 */
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
