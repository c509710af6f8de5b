import path from "node:path";
import { z } from "zod";
import { dictionary } from "../dictionary.js";
import { readPlainFile } from "@oxtrum/core/formats";
import { limitSchema, ruleSchema } from "./rule-schema.js";
import { statesSchema } from "./states.js";
import { tryParseUnit } from "@oxtrum/core/tables";

/** A unit that is known: one that is not would be without effect. */
const unitText = z.string().refine((text) => tryParseUnit(text) !== undefined, {
  error: (issue) => `"${String(issue.input)}" is not a known unit`,
});

const readerChoices = z.object({
  delimiter: z.enum([",", ";", "\t", "|", "blanks"]).optional(),
  decimal: z.enum([".", ","]).optional(),
  header: z.number().int().min(0).optional(),
  names: z.array(z.string()).optional(),
  units: dictionary(unitText).optional(),
  encoding: z.enum(["utf-8", "utf-16le", "utf-16be", "windows-1252"]).optional(),
  axis: z.string().optional(),
  restart: z.enum(["auto", "keep-later", "keep-all"]).optional(),
  lastLine: z.enum(["auto", "read", "skip"]).optional(),
});

/** How lines that patterns match become rows. */
export const lineOptionsSchema = z.strictObject({
  several: z.enum(["first", "last", "all", "rows"]).optional(),
  carry: z.array(z.string()).optional(),
  increments: z.array(z.string()).optional(),
  count: dictionary(z.string().min(1)).optional(),
});

/** How a text table is to be read, where that is not to be found out. */
export type ReaderChoices = z.infer<typeof readerChoices>;
export const readerChoicesSchema = readerChoices;

const parameter = z.object({
  unit: unitText.optional(),
  label: z.string().optional(),
  type: z.enum(["number", "text"]).optional(),
});

/** The times of numbered files: by the number in a file's name, or one for each number. */
const seriesTimes = z
  .union([
    z.strictObject({ step: limitSchema, start: limitSchema.optional() }),
    z.strictObject({ at: dictionary(limitSchema) }),
  ])
  .refine((t) => {
    const given = "step" in t ? [t.step, ...(t.start === undefined ? [] : [t.start])] : Object.values(t.at);
    const withUnit = given.filter((g) => typeof g !== "number" && g.unit !== null).length;
    return withUnit === 0 || withUnit === given.length;
  }, "give all times with their unit, or none")
  .refine(
    (t) => !("at" in t) || Object.keys(t.at).every((n) => /^\d+$/.test(n)),
    'names in "at" are the numbers of files',
  )
  .refine(
    (t) => !("step" in t) || (typeof t.step === "number" ? t.step : t.step.value) !== 0,
    "a step of 0 gives all files one time",
  );

/** How the number in a file's name gives its time. */
export type SeriesTimes = z.infer<typeof seriesTimes>;

const logicalFile = z.union([
  z.string(),
  z
    .object({
      path: z.union([z.string(), z.array(z.string())]),
      optional: z.boolean().optional(),
      read: readerChoices.optional(),
      times: seriesTimes.optional(),
    })
    .refine(
      (f) => f.times === undefined || (typeof f.path === "string" && f.path.includes("*")),
      'times are those of numbered files: the path needs one "*" for the number',
    ),
]);

/** The open format of `oxtrum.study.json`; docs/formats.md describes it. */
export const definitionSchema = z.object({
  oxtrum: z.literal(1).default(1),
  title: z.string().optional(),
  runs: z
    .object({
      pattern: z.string().optional(),
      table: z.string().optional(),
      /** The column of the table that names the runs, or a template of columns such as `run_{case:3}`. */
      key: z.string().optional(),
      case: z.string().optional(),
      exclude: z.array(z.string()).optional(),
    })
    .default({}),
  parameters: dictionary(parameter).default({}),
  files: dictionary(logicalFile).default({}),
  names: dictionary(z.array(z.string())).default({}),
  units: dictionary(dictionary(unitText)).default({}),
  runUnits: z.array(z.object({ run: z.string(), file: z.string(), units: dictionary(unitText) })).default([]),
  accept: dictionary(ruleSchema).default({}),
  /** When runs are finished, failed, diverging or stalled. */
  states: statesSchema.optional(),
  /** Folders outside the study into which symbolic links may lead. */
  links: z.array(z.string().min(1)).default([]),
});

export type StudyDefinition = z.infer<typeof definitionSchema>;

export const definitionName = "oxtrum.study.json";

/** A study definition that cannot be used. */
export class DefinitionError extends Error {
  override readonly name = "DefinitionError";
}

/** Reads a folder's definition; an empty one when there is none. @throws DefinitionError saying what is wrong where */
export function readDefinition(
  folder: string,
  file = path.join(folder, definitionName),
): { definition: StudyDefinition; found: boolean } {
  let text: string;
  try {
    text = readPlainFile(file, { most: 10e6, name: definitionName }).toString("utf8");
  } catch (e) {
    if ((e as NodeJS.ErrnoException).code === "ENOENT") return { definition: definitionSchema.parse({}), found: false };
    throw e;
  }
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (e) {
    throw new DefinitionError(`${definitionName}: not JSON: ${(e as Error).message}`);
  }
  const parsed = definitionSchema.safeParse(json);
  if (!parsed.success) {
    const first = parsed.error.issues[0]!;
    throw new DefinitionError(`${definitionName}: ${first.path.join(".") || "the whole"}: ${first.message}`);
  }
  return { definition: parsed.data, found: true };
}

/** The paths, within a run's folder, that a file name in a script stands for, and how to read them. */
export function resolveFile(
  definition: StudyDefinition,
  file: string,
): { paths: string[]; optional: boolean; read: ReaderChoices } {
  const entry = Object.hasOwn(definition.files, file) ? definition.files[file]! : file;
  if (typeof entry === "string") return { paths: [entry], optional: false, read: {} };
  return {
    paths: Array.isArray(entry.path) ? entry.path : [entry.path],
    optional: entry.optional ?? false,
    read: entry.read ?? {},
  };
}

/** The times that a definition gives to the numbered files of a pattern. */
export function declaredTimes(definition: StudyDefinition, pattern: string): SeriesTimes | undefined {
  for (const entry of Object.values(definition.files))
    if (typeof entry !== "string" && entry.path === pattern && entry.times !== undefined) return entry.times;
  return undefined;
}

/** The name that a definition gives to one file or pattern; the file itself where it gives none. */
export function logicalName(definition: StudyDefinition, file: string): string {
  const found = Object.entries(definition.files).find(
    ([, entry]) => (typeof entry === "string" ? entry : entry.path) === file,
  );
  return found?.[0] ?? file;
}
