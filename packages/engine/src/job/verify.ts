import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { readPlainFile } from "@oxtrum/core/formats";
import { digestOfPlain } from "../outputs/own-outputs.js";
import type { JobEvent } from "../record/events.js";
import { manifestDigest, manifestSchema, type Manifest } from "../record/manifest.js";
import { mathFingerprint } from "../record/fingerprint.js";
import { jobRequestSchema } from "../record/request.js";
import { runJob } from "./run-job.js";
import { inputText } from "./input-text.js";

/** An input file that is not what it was. */
export interface InputChange {
  readonly study: string;
  readonly path: string;
  readonly change: "changed" | "gone" | "new";
}

/** How a job that was run again compares with its manifest. */
export interface Verification {
  readonly same: boolean;
  readonly outputs: readonly {
    readonly name: string;
    readonly verdict: "same bytes" | "same values" | "differs" | "gone" | "new";
    readonly detail?: string;
  }[];
  readonly inputs: readonly InputChange[];
  readonly notes: readonly string[];
}

const MOST_MANIFEST = 1e9;

/** Reads a manifest. @throws Error saying what is wrong with it */
export function readManifest(file: string): Manifest {
  let json: unknown;
  try {
    json = JSON.parse(readPlainFile(file, { most: MOST_MANIFEST, name: path.basename(file) }).toString("utf8"));
  } catch (e) {
    throw new Error(`${path.basename(file)}: cannot be read as a manifest: ${(e as Error).message}`);
  }
  const parsed = manifestSchema.safeParse(json);
  if (!parsed.success)
    throw new Error(
      `${path.basename(file)} is not a manifest: ${parsed.error.issues[0]!.path.join(".")}: ${parsed.error.issues[0]!.message}`,
    );
  return parsed.data;
}

/**
 * Runs a manifest's job again with an empty cache and compares digest by digest, and the files beside the manifest
 * with what it says of them.
 *
 * @param folders where each study is now
 */
export async function verifyManifest(
  file: string,
  folders: Readonly<Record<string, string>>,
  options: { workers?: number; tell?: (e: JobEvent) => void; signal?: AbortSignal } = {},
): Promise<Verification> {
  const manifest = readManifest(file);
  const notes: string[] = [];
  for (const s of manifest.studies)
    if (!Object.hasOwn(folders, s.name))
      throw new Error(`the manifest needs the study "${s.name}"; say where it is with --study ${s.name}=FOLDER`);
  if (manifest.digest !== manifestDigest(manifest))
    notes.push("the manifest is not as the job wrote it: something in it was changed since");
  const sameMath = manifest.platform.mathematics === mathFingerprint();
  if (!sameMath)
    notes.push(
      "this machine's mathematics or drawing differ from those of the manifest: values and charts are " +
        "compared by what they hold, not by bytes",
    );
  const scratch = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-verify-"));
  try {
    const request = jobRequestSchema.parse({
      files: Object.fromEntries(Object.entries(manifest.script.files).map(([n, f]) => [n, f.text])),
      main: manifest.script.main,
      studies: manifest.studies.map((s) => ({ name: s.name, folder: folders[s.name]! })),
      inputs: Object.fromEntries(
        Object.entries(manifest.inputs)
          .filter(([, i]) => i.set)
          .map(([n, i]) => [n, inputText(i.value)]),
      ),
      ...(manifest.runsAsked !== null && { runs: manifest.runsAsked }),
      ...(manifest.style && { style: manifest.style }),
      cache: false,
      dataFolder: path.join(scratch, "data"),
      outFolder: path.join(scratch, "out"),
      ...(options.workers !== undefined && { workers: options.workers }),
    });
    const result = await runJob(request, options.tell ?? (() => undefined), options.signal);
    if (!result.manifest) throw new Error("the script does not run any more; see the messages");
    return compare(manifest, result.manifest, path.dirname(file), sameMath, notes);
  } finally {
    fs.rmSync(scratch, { recursive: true, force: true });
  }
}

function compare(then: Manifest, now: Manifest, folder: string, sameMath: boolean, notes: string[]): Verification {
  const outputs: { name: string; verdict: Verification["outputs"][number]["verdict"]; detail?: string }[] = [];
  for (const o of then.outputs) {
    const again = now.outputs.find((x) => x.name === o.name);
    if (!again) {
      outputs.push({ name: o.name, verdict: "gone", detail: "the script does not make it any more" });
      continue;
    }
    const damaged = o.files.find((f) => digestOfPlain(path.join(folder, f.file)) !== f.sha256);
    if (damaged) {
      outputs.push({ name: o.name, verdict: "differs", detail: `${damaged.file} is not the file that the job wrote` });
      continue;
    }
    const sameFiles =
      o.files.length === again.files.length &&
      o.files.every((f, k) => again.files[k]!.sha256 === f.sha256) &&
      o.failed === again.failed;
    if (sameFiles) outputs.push({ name: o.name, verdict: "same bytes" });
    else if (!sameMath && o.digest === again.digest) outputs.push({ name: o.name, verdict: "same values" });
    else
      outputs.push({
        name: o.name,
        verdict: "differs",
        detail:
          again.failed ??
          `${
            o.files
              .filter((f, k) => again.files[k]?.sha256 !== f.sha256)
              .map((f) => f.file)
              .join(", ") || "its files"
          } came out otherwise`,
      });
  }
  for (const o of now.outputs)
    if (!then.outputs.some((x) => x.name === o.name)) outputs.push({ name: o.name, verdict: "new" });
  const inputs = inputChanges(then, now);
  return {
    same: outputs.every((o) => o.verdict === "same bytes" || o.verdict === "same values"),
    outputs,
    inputs,
    notes,
  };
}

/**
 * Input files that came, went or changed between two jobs. Files known by other blocks cannot be compared with each
 * other.
 */
export function inputChanges(then: Manifest, now: Manifest): InputChange[] {
  const key = (f: { study: string; path: string }): string => `${f.study}\0${f.path}`;
  const before = new Map(then.files.map((f) => [key(f), f]));
  const after = new Map(now.files.map((f) => [key(f), f]));
  const out: InputChange[] = [];
  for (const [k, f] of before) {
    const other = after.get(k);
    if (!other) out.push({ study: f.study, path: f.path, change: "gone" });
    else if (other.size !== f.size || (other.sha256 !== f.sha256 && other.blocks === f.blocks))
      out.push({ study: f.study, path: f.path, change: "changed" });
  }
  for (const [k, f] of after) if (!before.has(k)) out.push({ study: f.study, path: f.path, change: "new" });
  return out;
}
