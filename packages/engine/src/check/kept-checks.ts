import { createHash } from "node:crypto";
import fs from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { z } from "zod";
import { readPlainFile } from "@oxtrum/core/formats";
import { bundled } from "../bundled.js";
import { forgetOldest } from "../store/forget-oldest.js";
import { sha256 } from "../store/keys.js";
import { writeIfRoom } from "../store/write-whole.js";
import { libraryDeclarations, type ScriptFiles } from "./library.js";
import type { ScriptDiagnostic } from "./messages.js";

/** What checking a script gave: what is to be said of it, and its modules as JavaScript unless there are errors. */
export interface CheckedScript {
  readonly diagnostics: readonly ScriptDiagnostic[];
  readonly modules?: Readonly<Record<string, string>>;
}

/** What is said of a script, as another process tells it or a file keeps it. */
export const diagnosticsSchema = z.array(
  z.object({
    file: z.string(),
    line: z.number(),
    column: z.number(),
    endLine: z.number(),
    endColumn: z.number(),
    severity: z.enum(["error", "warning"]),
    message: z.string(),
    fixes: z.array(z.string()),
  }),
);

const kept = z.object({
  key: z.string(),
  diagnostics: diagnosticsSchema,
  modules: z.record(z.string(), z.string()).optional(),
});

const MOST_KEPT = 300;
const MOST_BYTES = 50e6;
const here = fileURLToPath(new URL(".", import.meta.url));

let ownDigest: string | undefined;

/** A digest of all that a check depends on but the script and its studies: the checker, the compiler, the library. */
const checkerDigest = (): string => (ownDigest ??= keptDigest() ?? computedDigest());

/** That of a bundle, which was computed when it was made. */
function keptDigest(): string | undefined {
  const file = bundled("check.digest");
  return file && fs.readFileSync(file, "utf8");
}

/** As {@link checkerDigest}, from the files as they are now. */
export function computedDigest(): string {
  const h = createHash("sha256").update(libraryDeclarations());
  for (const f of fs.readdirSync(here).sort())
    if (f.endsWith(".js") && !f.includes(".test.")) h.update(fs.readFileSync(path.join(here, f)));
  h.update(fs.readFileSync(require.resolve("typescript/package.json")));
  return h.digest("hex");
}

const sorted = (o: Readonly<Record<string, string>>): [string, string][] =>
  Object.entries(o).sort(([a], [b]) => (a < b ? -1 : 1));

/** A digest of the script alone, then one of all: so it is seen whether a script was checked with any studies. */
const keyOf = (files: ScriptFiles, types: Readonly<Record<string, string>>): string =>
  scriptKey(files) + sha256(JSON.stringify([sorted(files), sorted(types)]));
const scriptKey = (files: ScriptFiles): string => sha256(JSON.stringify([checkerDigest(), sorted(files)]));

/** Whether a script's texts were checked before, with whatever studies. */
export function isKnownScript(files: ScriptFiles, folder: string | undefined): boolean {
  if (folder === undefined || !fs.existsSync(folder)) return false;
  const start = scriptKey(files).slice(0, 16);
  return fs.readdirSync(folder).some((name) => name.startsWith(start));
}

/** What was said of just these texts and studies before, if it was kept. */
export function knownCheck(
  files: ScriptFiles,
  types: Readonly<Record<string, string>>,
  folder: string | undefined,
): CheckedScript | undefined {
  if (folder === undefined) return undefined;
  const key = keyOf(files, types);
  return readKept(placeOf(folder, key), key);
}

const placeOf = (folder: string, key: string): string =>
  path.join(folder, `${key.slice(0, 16)}${key.slice(64, 80)}.json`);

const require = createRequire(import.meta.url);
/** Whether this process has loaded the compiler. */
export const hasCompiler = (): boolean => require.cache[require.resolve("typescript")] !== undefined;

/**
 * Checks a script and makes it ready to run. What the same texts gave before, with the same studies, is taken from
 * `folder`: the compiler, which is large, is not even loaded then.
 *
 * @param types declarations of the studies, by their names
 * @param folder where checks are kept; undefined for nowhere
 * @param beside what another process is finding; where it finds nothing out, the script is checked here
 */
export async function checkedScript(
  files: ScriptFiles,
  types: Readonly<Record<string, string>>,
  folder: string | undefined,
  beside?: Promise<CheckedScript | undefined>,
): Promise<CheckedScript> {
  const key = keyOf(files, types);
  const file = folder === undefined ? undefined : placeOf(folder, key);
  const known = file === undefined ? undefined : readKept(file, key);
  if (known) return known;
  const checked = (await beside) ?? (await checkedHere(files, types));
  if (file !== undefined) {
    writeIfRoom(file, JSON.stringify({ key, ...checked }));
    forgetOldest(path.dirname(file), MOST_KEPT, /^[0-9a-f]{32}\.json$/);
  }
  return checked;
}

async function checkedHere(files: ScriptFiles, types: Readonly<Record<string, string>>): Promise<CheckedScript> {
  const { compileScript, plainChecker } = await import("./index.js");
  const checker = plainChecker();
  checker.load(files, types);
  const diagnostics = checker.check();
  if (diagnostics.some((d) => d.severity === "error")) return { diagnostics };
  const compiled = compileScript(files);
  return {
    diagnostics: [...diagnostics, ...compiled.diagnostics],
    ...(compiled.modules && { modules: compiled.modules }),
  };
}

/** A kept check, if it is whole and of just this. */
function readKept(file: string, key: string): CheckedScript | undefined {
  let text: string;
  try {
    text = readPlainFile(file, { most: MOST_BYTES }).toString("utf8");
  } catch {
    return undefined;
  }
  try {
    const read = kept.safeParse(JSON.parse(text));
    if (!read.success || read.data.key !== key) return undefined;
    const { diagnostics, modules } = read.data;
    return { diagnostics, ...(modules && { modules }) };
  } catch {
    return undefined;
  }
}
