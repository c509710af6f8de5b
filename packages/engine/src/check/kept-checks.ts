import { createHash } from "node:crypto";
import fs from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { z } from "zod";
import { readPlainFile } from "@oxtrum/core/formats";
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

const kept = z.object({
  key: z.string(),
  diagnostics: z.array(
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
  ),
  modules: z.record(z.string(), z.string()).optional(),
});

const MOST_KEPT = 300;
const MOST_BYTES = 50e6;
const here = fileURLToPath(new URL(".", import.meta.url));

let ownDigest: string | undefined;

/** A digest of all that a check depends on but the script and its studies: the checker, the compiler, the library. */
function checkerDigest(): string {
  if (ownDigest) return ownDigest;
  const h = createHash("sha256").update(libraryDeclarations());
  for (const f of fs.readdirSync(here).sort())
    if (f.endsWith(".js") && !f.includes(".test.")) h.update(fs.readFileSync(path.join(here, f)));
  h.update(fs.readFileSync(require.resolve("typescript/package.json")));
  return (ownDigest = h.digest("hex"));
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
/** Whether this thread has loaded the compiler. */
export const hasCompiler = (): boolean => require.cache[require.resolve("typescript")] !== undefined;

/**
 * Checks a script and makes it ready to run. What the same texts gave before, with the same studies, is taken from
 * `folder`: the compiler, which is large, is not even loaded then.
 *
 * @param types declarations of the studies, by their names
 * @param folder where checks are kept; undefined for nowhere
 */
export async function checkedScript(
  files: ScriptFiles,
  types: Readonly<Record<string, string>>,
  folder: string | undefined,
): Promise<CheckedScript> {
  const key = keyOf(files, types);
  const file = folder === undefined ? undefined : placeOf(folder, key);
  const known = file === undefined ? undefined : readKept(file, key);
  if (known) return known;
  const { compileScript, plainChecker } = await import("./index.js");
  const checker = plainChecker();
  checker.load(files, types);
  const found = checker.check();
  let checked: CheckedScript = { diagnostics: found };
  if (!found.some((d) => d.severity === "error")) {
    const compiled = compileScript(files);
    checked = {
      diagnostics: [...found, ...compiled.diagnostics],
      ...(compiled.modules && { modules: compiled.modules }),
    };
  }
  if (file !== undefined) {
    writeIfRoom(file, JSON.stringify({ key, ...checked }));
    forgetOldest(path.dirname(file), MOST_KEPT, /^[0-9a-f]{32}\.json$/);
  }
  return checked;
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
