import fs from "node:fs";
import path from "node:path";
import { unzipSync, zipSync, type Zippable } from "fflate";
import { stableJson } from "@oxtrum/core/exports";
import { inputText } from "./input-text.js";
import { readPlainFile } from "@oxtrum/core/formats";
import { followLinks, OutputFolderError, refuseStudies } from "../outputs/output-folder.js";
import { diskReason, isDiskError } from "../store/disk-errors.js";
import { isInnerPath, listedFiles } from "../outputs/own-outputs.js";
import { sha256 } from "../store/keys.js";
import { writeWhole } from "../store/write-whole.js";
import { manifestDigest, manifestSchema, type Manifest } from "../record/manifest.js";
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
  add("manifest.json", readPlainFile(path.join(folder, "manifest.json"), { most: MOST }));
  for (const [f, s] of Object.entries(m.script.files)) text(`script/${f}`, s.text);
  for (const s of m.studies) text(`studies/${s.name}/oxtrum.study.json`, stableJson(s.definition));
  for (const { file, sha256: digest } of listedFiles(m)) {
    if (!isInnerPath(file)) throw new Error(`${file} lies outside of the outputs' folder`);
    const full = path.join(folder, file);
    if (!fs.existsSync(full)) throw new Error(`${file} is gone from ${folder}`);
    const content = readPlainFile(full, { most: MOST, name: file });
    if (sha256(content) !== digest)
      throw new Error(`${file} was changed since the job wrote it; an archive would not hold what the manifest says`);
    add(`outputs/${file}`, content);
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
manifest.json  inputs, files read with their digests, excluded runs with reasons
outputs/     what it made; begin with outputs/index.html
`;

const MOST_ENTRIES = 100_000;
const MOST_SCRIPTS = 64e6;

/** Unpacks an archive, with limits on what it claims. @throws Error */
function unpacked(bytes: Uint8Array): Record<string, Uint8Array> {
  let total = 0;
  let small = 0;
  let count = 0;
  const entries = unzipSync(bytes, {
    filter: (f) => {
      if (f.name.endsWith("/")) return false;
      if (++count > MOST_ENTRIES) throw new Error(`it holds more than ${MOST_ENTRIES} files`);
      total += f.originalSize;
      if (total > MOST) throw new Error("it unpacks to more than 1 GB");
      if (!f.name.startsWith("outputs/")) small += f.originalSize;
      if (small > MOST_SCRIPTS) throw new Error("its scripts are larger than 64 MB");
      return true;
    },
  });
  return Object.assign(Object.create(null) as Record<string, Uint8Array>, entries);
}

/** Holds every file of an archive against the manifest in it. @throws Error naming the first that does not agree */
function checkDigests(m: Manifest, entries: Readonly<Record<string, Uint8Array>>): void {
  if (m.digest !== manifestDigest(m)) throw new Error("manifest.json was changed since the job wrote it");
  const agrees = (name: string, digest: string): void => {
    const content = entries[name];
    if (!content) throw new Error(`${name} is missing`);
    if (sha256(content) !== digest) throw new Error(`${name} is not what manifest.json says: its digest differs`);
  };
  for (const [f, s] of Object.entries(m.script.files)) {
    if (sha256(s.text) !== s.sha256) throw new Error(`the text of ${f} in manifest.json does not have its digest`);
    agrees(`script/${f}`, s.sha256);
  }
  for (const s of m.studies)
    agrees(`studies/${s.name}/oxtrum.study.json`, sha256(Buffer.from(stableJson(s.definition), "utf8")));
  for (const f of listedFiles(m)) agrees(`outputs/${f.file}`, f.sha256);
}

/**
 * Reads an archive and checks all its digests: nothing in it is used before.
 * @throws Error saying what is wrong with it
 */
export function readArchive(file: string): ArchivedJob {
  const name = path.basename(file);
  let entries: Record<string, Uint8Array>;
  try {
    entries = unpacked(readPlainFile(file, { most: MOST, name }));
  } catch (e) {
    throw new Error(`${name}: cannot be read as an archive: ${(e as Error).message}`);
  }
  const raw = entries["manifest.json"];
  if (!raw) throw new Error(`${name} is not the archive of a job: it has no manifest.json`);
  let json: unknown;
  try {
    json = JSON.parse(Buffer.from(raw).toString("utf8"));
  } catch (e) {
    throw new Error(`${name}: manifest.json is not JSON: ${(e as Error).message}`);
  }
  const parsed = manifestSchema.safeParse(json);
  if (!parsed.success)
    throw new Error(
      `${name}: manifest.json: ${parsed.error.issues[0]!.path.join(".")}: ${parsed.error.issues[0]!.message}`,
    );
  const m = parsed.data;
  try {
    checkDigests(m, entries);
  } catch (e) {
    throw new Error(`${name}: ${(e as Error).message}; nothing of it was run`);
  }
  return {
    main: m.script.main,
    files: Object.fromEntries(Object.entries(m.script.files).map(([f, s]) => [f, s.text])),
    inputs: Object.fromEntries(
      Object.entries(m.inputs)
        .filter(([, i]) => i.set)
        .map(([n, i]) => [n, inputText(i.value)]),
    ),
    runs: m.runsAsked ?? undefined,
    studies: m.studies.map((s) => ({ name: s.name, definition: s.definition })),
  };
}

/**
 * Makes sure that an archive may be written to a file: there is none of that name, or it is the archive of an earlier
 * job.
 *
 * @throws OutputFolderError saying what is in the way
 */
export function checkArchiveFile(
  file: string,
  studies: readonly { readonly name: string; readonly folder: string }[],
): void {
  const target = followLinks(file);
  refuseStudies(target, file, studies);
  const parent = path.dirname(target);
  if (!fs.existsSync(parent) || !fs.statSync(parent).isDirectory())
    throw new OutputFolderError(`${file}: there is no folder ${parent}`);
  if (!fs.existsSync(target)) return;
  try {
    readArchive(target);
  } catch (e) {
    throw new OutputFolderError(
      `${file} is there already and is not the archive of a job (${(e as Error).message}); it was not touched: choose another name`,
    );
  }
}

/** Writes the archive of a folder of outputs, whole or not at all. @throws OutputFolderError */
export function writeArchive(
  file: string,
  folder: string,
  studies: readonly { readonly name: string; readonly folder: string }[],
): void {
  checkArchiveFile(file, studies);
  try {
    writeWhole(followLinks(file), archiveJob(folder));
  } catch (e) {
    if (isDiskError(e)) throw new OutputFolderError(`${file} cannot be written: ${diskReason(e)}`);
    throw e;
  }
}
