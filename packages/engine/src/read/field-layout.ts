import fs from "node:fs";
import path from "node:path";
import { z } from "zod";
import { FormatError, openMesh, type MeshFile, type TimeCollection } from "@oxtrum/core/formats";
import { convert, formatNumber, glob, listNames } from "@oxtrum/core/tables";
import { fieldCollections, fieldEndings } from "../definition/field-name.js";
import type { SeriesTimes } from "../definition/definition.js";
import { Opened } from "./opened-files.js";

/** A file of a field: where it is in the run's folder, and the block that it is when several files make up one step. */
export interface FieldPart {
  readonly file: string;
  readonly block: string | undefined;
}

/** Which files make up a field, step by step. */
export interface FieldLayout {
  readonly axis: string;
  /** The unit of the times, where the study definition declares them with one. */
  readonly axisUnit?: string | null;
  readonly steps: readonly { readonly at: number | undefined; readonly parts: readonly FieldPart[] }[];
  /** Files that say so, and are therefore read themselves. */
  readonly heads: readonly string[];
  /** What was decided about times and files. */
  readonly notes: readonly string[];
}

type Locate = (relative: string) => string;

/**
 * Finds the files of a field by the name a script uses: a file, with or without its ending; a time collection; a
 * pattern whose stars are numbers (one file per step) or names (one file per block).
 *
 * @param locate gives the full path of a file in the run's folder, refusing what leads out of it
 * @param declared the times that the study definition gives to numbered files
 * @throws FormatError when there is no such file, or several with different endings
 */
export function fieldLayout(name: string, locate: Locate, declared?: SeriesTimes): FieldLayout {
  if (name.includes("*")) return patternLayout(name, locate, declared);
  const found = fileNamed(name, locate);
  if (/\.series$/i.test(found)) return collectionLayout(found, seriesSteps(found, locate));
  const opened = new Opened(locate);
  try {
    const file = openMesh(opened.source(found), opened.siblings(found));
    if (file.format === "collection") return collectionLayout(found, (file as TimeCollection).steps);
    const { time } = file as MeshFile;
    return { axis: "time", steps: [{ at: time, parts: [{ file: found, block: undefined }] }], heads: [], notes: [] };
  } finally {
    opened.close();
  }
}

/** The file that a field's name stands for; a pattern stands for itself. */
export const fileOf = (layout: FieldLayout, name: string): string =>
  name.includes("*") ? name : (layout.heads[0] ?? layout.steps[0]!.parts[0]!.file);

/** The file of a name: exactly that one, or the only one with an ending. @throws FormatError */
function fileNamed(name: string, locate: Locate): string {
  const isFile = (f: string): boolean => fs.existsSync(locate(f)) && fs.statSync(locate(f)).isFile();
  if (isFile(name)) return name;
  const candidates = fieldEndings.map((e) => name + e).filter(isFile);
  if (candidates.length === 0) throw new FormatError(name, `there is no ${name} in this run`);
  // A collection stands for the files that it names.
  const [first] = candidates;
  const behind =
    candidates.length > 1 && fieldCollections.some((e) => first!.endsWith(e))
      ? filesBehind(first!, locate)
      : new Set<string>();
  const others = candidates.slice(1).filter((f) => !behind.has(f));
  if (others.length > 0)
    throw new FormatError(
      name,
      `"${name}" can be ${listNames([first!, ...others])}`,
      {},
      "Write the whole name of the file, with its ending.",
    );
  return first!;
}

/** All files that a collection names, directly or through others. */
export function filesBehind(file: string, locate: Locate): ReadonlySet<string> {
  const folder = path.posix.dirname(file);
  if (/\.series$/i.test(file))
    return new Set(seriesSteps(file, locate).map((s) => path.posix.normalize(path.posix.join(folder, s.file))));
  const opened = new Opened(locate);
  try {
    const mesh = openMesh(opened.source(file), opened.siblings(file));
    const named =
      mesh.format === "collection"
        ? (mesh as TimeCollection).steps.map((s) => path.posix.normalize(path.posix.join(folder, s.file)))
        : [];
    return new Set([...opened.names, ...named]);
  } finally {
    opened.close();
  }
}

const series = z.object({ files: z.array(z.object({ name: z.string().min(1), time: z.number() })).min(1) });
const MOST_SERIES = 50e6;

/** The steps of a `.series` file: JSON that gives each file its time. @throws FormatError */
function seriesSteps(file: string, locate: Locate): TimeCollection["steps"] {
  const full = locate(file);
  if (fs.statSync(full).size > MOST_SERIES) throw new FormatError(file, "the list of files is larger than 50 MB");
  let json: unknown;
  try {
    json = JSON.parse(fs.readFileSync(full, "utf8"));
  } catch (e) {
    throw new FormatError(file, `not JSON: ${(e as Error).message}`);
  }
  const read = series.safeParse(json);
  if (!read.success) {
    const issue = read.error.issues[0]!;
    throw new FormatError(
      file,
      `${issue.path.join(".") || "the list"}: ${issue.message}`,
      {},
      'A series is {"files": [{"name": "a.vtu", "time": 0}, …]}.',
    );
  }
  return read.data.files.map((f) => ({ time: f.time, file: f.name, part: undefined }));
}

/** Steps by time. A time listed again for the same part is a restart: the later file is taken. */
function collectionLayout(head: string, steps: TimeCollection["steps"]): FieldLayout {
  const byTime = new Map<number, Map<string, FieldPart>>();
  const again = new Set<number>();
  steps.forEach((s) => {
    const parts = byTime.get(s.time) ?? new Map<string, FieldPart>();
    byTime.set(s.time, parts);
    const part = s.part ?? "";
    const file = path.posix.join(path.posix.dirname(head), s.file);
    if (parts.has(part) && parts.get(part)!.file !== file) again.add(s.time);
    parts.set(part, { file, block: undefined });
  });
  const times = [...again].sort((a, b) => a - b).map((t) => formatNumber(t));
  const notes =
    times.length === 0
      ? []
      : [
          `${head} lists ${times.length} time${times.length === 1 ? "" : "s"} more than once ` +
            `(${times.slice(0, 5).join(", ")}${times.length > 5 ? " …" : ""}): the file listed last is taken`,
        ];
  return {
    axis: "time",
    steps: [...byTime].sort(([a], [b]) => a - b).map(([at, parts]) => ({ at, parts: [...parts.values()] })),
    heads: [head],
    notes,
  };
}

function patternLayout(pattern: string, locate: Locate, declared: SeriesTimes | undefined): FieldLayout {
  const folder = path.posix.dirname(pattern.slice(0, pattern.indexOf("*") + 1));
  const fits = glob(pattern);
  const there = fs.existsSync(locate(folder)) ? fs.readdirSync(locate(folder)) : [];
  const files = there
    .map((f) => path.posix.join(folder, f))
    .filter((f) => fits(f))
    .sort();
  if (files.length === 0) throw new FormatError(pattern, `no file of this run matches ${pattern}`);
  const [before, after] = [pattern.slice(0, pattern.indexOf("*")), pattern.slice(pattern.lastIndexOf("*") + 1)];
  const middle = files.map((f) => f.slice(before.length, f.length - after.length));
  const block = (file: string, k: number): FieldPart => ({ file, block: middle[k]! });
  const numbered = middle.every((m) => /^\d+$/.test(m));
  if (declared && !numbered) {
    const odd = files[middle.findIndex((m) => !/^\d+$/.test(m))]!;
    throw new FormatError(
      odd,
      `the study definition declares times for ${pattern}, and this file has no number in the place of the "*"`,
      {},
      "Write a pattern that only the numbered files fit, or take the times away.",
    );
  }
  if (!numbered) return { axis: "time", steps: [{ at: undefined, parts: files.map(block) }], heads: [], notes: [] };
  if (declared) {
    const steps = files.map((file, k) => ({ file, number: Number(middle[k]) }));
    return declaredLayout(pattern, declared, steps);
  }
  const times = timesOf(files, locate);
  const steps = files
    .map((file, k) => ({ at: times?.[k] ?? Number(middle[k]), parts: [{ file, block: undefined }] }))
    .sort((a, b) => a.at - b.at);
  return times
    ? { axis: "time", steps, heads: files, notes: [`times are those that the files of ${pattern} hold`] }
    : { axis: "step", steps, heads: [], notes: [] };
}

/** The steps of numbered files whose times the study definition declares. @throws FormatError where a file has none */
function declaredLayout(
  pattern: string,
  declared: SeriesTimes,
  files: readonly { readonly file: string; readonly number: number }[],
): FieldLayout {
  const { unit, timeOf, rule } = declaredTime(declared);
  const byTime = new Map<number, string>();
  const steps = files.map(({ file, number }) => {
    const at = timeOf(number);
    if (at === undefined)
      throw new FormatError(
        file,
        `the study definition gives no time to number ${number} of ${pattern}`,
        {},
        `Add "${number}": "… s" to "at", or use "step".`,
      );
    const other = byTime.get(at);
    if (other !== undefined)
      throw new FormatError(
        file,
        `has the same time as ${other}, ${formatNumber(at)}${unit === null ? "" : ` ${unit}`}`,
      );
    byTime.set(at, file);
    return { at, parts: [{ file, block: undefined }] };
  });
  return {
    axis: "time",
    ...(unit !== null && { axisUnit: unit }),
    steps: steps.sort((a, b) => a.at - b.at),
    heads: [],
    notes: [`times of ${pattern} are declared in the study definition: ${rule}`],
  };
}

/** Times by number, all in one unit; null where the definition gives bare numbers. */
function declaredTime(declared: SeriesTimes): {
  unit: string | null;
  timeOf: (number: number) => number | undefined;
  rule: string;
} {
  type Given = number | { readonly value: number; readonly unit: string | null };
  const unitOf = (g: Given): string | null => (typeof g === "number" ? null : g.unit);
  const text = (g: Given): string =>
    typeof g === "number" ? formatNumber(g) : `${formatNumber(g.value)}${g.unit === null ? "" : ` ${g.unit}`}`;
  const given: readonly Given[] =
    "step" in declared ? [declared.step, declared.start ?? 0] : Object.values(declared.at);
  const unit = given.map(unitOf).find((u) => u !== null) ?? null;
  const number = (g: Given): number => {
    if (typeof g === "number") return g;
    return g.unit === null || unit === null || g.unit === unit ? g.value : convert(g.value, g.unit, unit);
  };
  if ("step" in declared) {
    const [step, start] = [number(declared.step), number(declared.start ?? 0)];
    // Decimal steps give the decimal times that a reader expects: 0.3, not 0.30000000000000004.
    const timeOf = (n: number): number => Number((start + step * n).toPrecision(15));
    const from = declared.start === undefined ? "" : `${text(declared.start)} + `;
    return { unit, timeOf, rule: `${from}number × ${text(declared.step)}` };
  }
  const by = new Map(Object.entries(declared.at).map(([n, t]) => [Number(n), number(t)]));
  return { unit, timeOf: (n) => by.get(n), rule: "one for each number" };
}

/** The times that files of a series hold themselves; undefined when not all do, or two are the same. */
function timesOf(files: readonly string[], locate: Locate): number[] | undefined {
  const times: number[] = [];
  for (const f of files) {
    const opened = new Opened(locate);
    try {
      const file = openMesh(opened.source(f), opened.siblings(f));
      const time = file.format === "collection" ? undefined : (file as MeshFile).time;
      if (time === undefined) return undefined;
      times.push(time);
    } catch (e) {
      // A file that cannot be opened says so when it is read.
      if (e instanceof FormatError) return undefined;
      throw e;
    } finally {
      opened.close();
    }
  }
  return new Set(times).size === times.length ? times : undefined;
}
