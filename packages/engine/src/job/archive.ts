import fs from "node:fs";
import path from "node:path";
import { unzipSync, zipSync, type Zippable } from "fflate";
import { stableJson } from "@oxtrum/core/exports";
import { inputText } from "./input-text.js";
import { manifestSchema, type Manifest } from "./manifest.js";
import { readManifest } from "./verify.js";

/** The same for all: an archive says nothing of when it was made. */
const MTIME = new Date(1980, 0, 1, 12);
const MOST = 1e9;

/** What a script needs to be run again: from an archive, or from anywhere else. */
export interface ArchivedJob {
  readonly main: string;
  readonly files: Readonly<Record<string, string>>;
  readonly inputs: Readonly<Record<string, string>>;
  readonly runs: string | undefined;
  readonly studies: readonly { readonly name: string; readonly definition: unknown }[];
}

/**
 * A whole job as one archive: its scripts, study definitions, manifest and outputs. The same job gives the same bytes.
 *
 * @param folder where the outputs are
 * @throws Error where a file is gone or the whole is larger than 1 GB
 */
export function archiveJob(folder: string): Uint8Array {
  const m = readManifest(path.join(folder, "manifest.json"));
  const entries: Zippable = {};
  let size = 0;
  const add = (name: string, content: Uint8Array): void => {
    size += content.length;
    if (size > MOST) throw new Error("the job's outputs are larger than 1 GB: archive the folder itself");
    entries[name] = [content, { mtime: MTIME, level: /\.(?:png|xlsx|parquet|pdf)$/.test(name) ? 0 : 6 }];
  };
  const text = (name: string, content: string): void => add(name, Buffer.from(content, "utf8"));
  text("README.txt", readme(m));
  add("manifest.json", fs.readFileSync(path.join(folder, "manifest.json")));
  for (const [f, s] of Object.entries(m.script.files)) text(`script/${f}`, s.text);
  for (const s of m.studies) text(`studies/${s.name}/oxtrum.study.json`, stableJson(s.definition));
  const listed = [...m.outputs.flatMap((o) => o.files.map((f) => f.file)), "outputs.json", "index.html"];
  for (const f of listed) {
    const full = path.join(folder, f);
    if (!path.resolve(full).startsWith(path.resolve(folder) + path.sep))
      throw new Error(`${f} lies outside of the outputs' folder`);
    if (fs.existsSync(full)) add(`outputs/${f}`, fs.readFileSync(full));
    else if (f !== "outputs.json" && f !== "index.html") throw new Error(`${f} is gone from ${folder}`);
  }
  return zipSync(entries);
}

const readme = (
  m: Manifest,
): string => `A job of Oxtrum: the script, the definitions of its studies, what went in and what came out.

Run it again on the same or other results:
  oxtrum run THIS.zip ${m.studies.map((s) => `--study ${s.name}=FOLDER`).join(" ")} --out DIR

script/      the script and the modules beside it
studies/     how runs, parameters, names and units are found
manifest.json  inputs, files read with their digests, runs left out and why
outputs/     what it made; begin with outputs/index.html
`;

/** Reads an archive. @throws Error saying what is wrong with it */
export function readArchive(file: string): ArchivedJob {
  const name = path.basename(file);
  let entries: Record<string, Uint8Array>;
  try {
    let total = 0;
    entries = unzipSync(fs.readFileSync(file), {
      filter: (f) => {
        const wanted = f.name === "manifest.json" || f.name.startsWith("script/") || f.name.startsWith("studies/");
        if (wanted) total += f.originalSize;
        if (total > 64e6) throw new Error("its scripts are larger than 64 MB");
        return wanted;
      },
    });
  } catch (e) {
    throw new Error(`${name}: cannot be read as an archive: ${(e as Error).message}`);
  }
  const raw = entries["manifest.json"];
  if (!raw) throw new Error(`${name} is not the archive of a job: it has no manifest.json`);
  const parsed = manifestSchema.safeParse(JSON.parse(Buffer.from(raw).toString("utf8")));
  if (!parsed.success) throw new Error(`${name}: manifest.json: ${parsed.error.issues[0]!.path.join(".")}: ${parsed.error.issues[0]!.message}`); // prettier-ignore
  const m = parsed.data;
  return {
    main: m.script.main,
    files: Object.fromEntries(Object.entries(m.script.files).map(([f, s]) => [f, s.text])),
    inputs: Object.fromEntries(Object.entries(m.inputs).filter(([, i]) => i.set).map(([n, i]) => [n, inputText(i.value)])),
    runs: m.runsAsked ?? undefined,
    studies: m.studies.map((s) => ({ name: s.name, definition: s.definition })),
  }; // prettier-ignore
}
