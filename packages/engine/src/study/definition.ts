import fs from "node:fs";
import path from "node:path";
import { z } from "zod";

const readerChoices = z.object({
  delimiter: z.enum([",", ";", "\t", "|", "blanks"]).optional(),
  decimal: z.enum([".", ","]).optional(),
  header: z.number().int().min(0).optional(),
  names: z.array(z.string()).optional(),
  units: z.record(z.string(), z.string()).optional(),
  encoding: z.enum(["utf-8", "utf-16le", "utf-16be", "windows-1252"]).optional(),
  axis: z.string().optional(),
  restart: z.enum(["auto", "keep-later", "keep-all"]).optional(),
});

/** How a text table is to be read, where that is not to be found out. */
export type ReaderChoices = z.infer<typeof readerChoices>;
export const readerChoicesSchema = readerChoices;

const parameter = z.object({
  unit: z.string().optional(),
  label: z.string().optional(),
  type: z.enum(["number", "text"]).optional(),
});

const logicalFile = z.union([
  z.string(),
  z.object({
    path: z.union([z.string(), z.array(z.string())]),
    optional: z.boolean().optional(),
    read: readerChoices.optional(),
  }),
]);

/** The open format of `oxtrum.study.json`; docs/formats.md describes it. */
export const definitionSchema = z.object({
  oxtrum: z.literal(1).default(1),
  title: z.string().optional(),
  runs: z
    .object({
      pattern: z.string().optional(),
      table: z.string().optional(),
      case: z.string().optional(),
      exclude: z.array(z.string()).optional(),
    })
    .default({}),
  parameters: z.record(z.string(), parameter).default({}),
  files: z.record(z.string(), logicalFile).default({}),
  names: z.record(z.string(), z.array(z.string())).default({}),
  units: z.record(z.string(), z.record(z.string(), z.string())).default({}),
  runUnits: z
    .array(z.object({ run: z.string(), file: z.string(), units: z.record(z.string(), z.string()) }))
    .default([]),
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
    text = fs.readFileSync(file, "utf8");
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
