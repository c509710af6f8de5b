import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { readPlainFile } from "@oxtrum/core/formats";
import { readArchive, readStyle, styleFile, type HouseStyle } from "@oxtrum/engine";

/** Where the cache, catalogues and memories are kept: OXTRUM_DATA, or a folder in the home folder. */
export const dataFolder = (env: Readonly<Record<string, string | undefined>>): string =>
  env["OXTRUM_DATA"] ?? path.join(os.homedir(), ".oxtrum");

/** `NAME=FOLDER`, or a folder whose last part is the name. @throws Error when it is not a folder */
export function parseStudy(text: string): { name: string; folder: string } {
  const at = text.indexOf("=");
  const folder = path.resolve(at < 0 ? text : text.slice(at + 1));
  const name = at < 0 ? path.basename(folder) : text.slice(0, at);
  if (!/^[\p{L}\p{N}._-]{1,100}$/u.test(name))
    throw new Error(`--study: "${name}" is not a name; use letters, digits, dots and dashes`);
  if (!fs.existsSync(folder) || !fs.statSync(folder).isDirectory())
    throw new Error(`--study ${name}: there is no folder ${folder}`);
  return { name, folder };
}

/** `NAME=VALUE` pairs. */
export function parseSettings(list: readonly string[]): Record<string, string> {
  return Object.fromEntries(
    list.map((t) => {
      const at = t.indexOf("=");
      if (at < 1) throw new Error(`--set ${t}: write NAME=VALUE`);
      return [t.slice(0, at), t.slice(at + 1)];
    }),
  );
}

const MOST_MODULE = 1_000_000;

/** A script and the modules beside it, by file name. */
export function readScript(file: string): { main: string; files: Record<string, string> } {
  const full = path.resolve(file);
  if (!fs.existsSync(full)) throw new Error(`there is no script ${file}`);
  const folder = path.dirname(full);
  const files: Record<string, string> = {};
  const add = (name: string): void => {
    if (Object.hasOwn(files, name)) return;
    const p = path.join(folder, name);
    const text = readPlainFile(p, { most: MOST_MODULE, name }).toString("utf8");
    files[name] = text;
    for (const m of text.matchAll(/(?:import|export)[^"';]*?from\s*["']\.\/([\w.-]+)["']/g)) {
      const found = [m[1]!, `${m[1]!}.ts`, m[1]!.replace(/\.js$/, ".ts")].find((n) =>
        fs.existsSync(path.join(folder, n)),
      );
      if (found !== undefined) add(found);
    }
  };
  add(path.basename(full));
  return { main: path.basename(full), files };
}

/** A script from a job's archive, with the definitions that its studies had. */
export function archived(
  file: string,
  studies: readonly { name: string; folder: string }[],
): {
  main: string;
  files: Record<string, string>;
  inputs: Record<string, string>;
  runs?: string;
  studies: { name: string; folder: string; definitionFile: string }[];
} {
  const a = readArchive(file);
  const keep = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-archive-"));
  process.on("exit", () => fs.rmSync(keep, { recursive: true, force: true }));
  const known = a.studies.map((s, k) => {
    const given =
      studies.find((x) => x.name === s.name) ??
      (studies.length === 1 && a.studies.length === 1 ? { ...studies[0]!, name: s.name } : undefined);
    if (!given)
      throw new Error(
        `${path.basename(file)} needs the study "${s.name}"; say where it is with --study ${s.name}=FOLDER`,
      );
    const definitionFile = path.join(keep, `${k}.json`);
    fs.writeFileSync(definitionFile, JSON.stringify(s.definition));
    return { ...given, definitionFile };
  });
  return {
    main: a.main,
    files: { ...a.files },
    inputs: { ...a.inputs },
    ...(a.runs !== undefined && { runs: a.runs }),
    studies: known,
  };
}

/** The house style: the file that is named, or the one beside the script. */
export function styleFor(script: string, named: string | undefined): HouseStyle {
  if (named !== undefined) return readStyle(named);
  const beside = path.join(path.dirname(path.resolve(script)), styleFile);
  return fs.existsSync(beside) ? readStyle(beside) : {};
}
