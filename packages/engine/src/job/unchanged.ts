import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { stableJson } from "@oxtrum/core/exports";
import { readPlainFile } from "@oxtrum/core/formats";
import { bundled } from "../bundled.js";
import { followLinks } from "../outputs/output-folder.js";
import { digestOfPlain, listedFiles, ownManifest } from "../outputs/own-outputs.js";
import type { JobEvent } from "../record/events.js";
import type { JobRequest } from "../record/request.js";
import { forgetOldest } from "../store/forget-oldest.js";
import { stampOf } from "../store/identity.js";
import { keptPlace } from "../store/kept-places.js";
import { writeIfRoom } from "../store/write-whole.js";
import { runJob, type JobResult } from "./run-job.js";

/**
 * A job into the folder of the one before, where nothing has changed: the script and all that was asked, every file of
 * its studies by size, times and place on the disk, this program, and the bytes of every output. Then the outputs are
 * what the job would write, and what it told is told again.
 */

/** Files of studies at most that are looked at: with more, looking takes as long as scanning. */
const MOST_FILES = 200_000;
/** A file that was written just now may change again without its times telling so. */
const YOUNG = 10_000;
const MOST_KEPT = 20e6;
const MOST_JOBS = 200;

interface FinishedJob {
  /** What was asked, of which program and which files. */
  readonly key: string;
  readonly manifest: string;
  readonly events: readonly JobEvent[];
  readonly result: Omit<JobResult, "manifest">;
}

/**
 * Runs a job unless it would write what is there already.
 *
 * @param tell receives what happens, in either case the same lines; `cells` and `grid` only of a job that ran
 * @returns the job's result, and whether it is that of the job before
 */
export async function runUnlessUnchanged(
  request: JobRequest,
  tell: (e: JobEvent) => void,
  signal?: AbortSignal,
): Promise<JobResult & { readonly unchanged: boolean }> {
  const start = performance.now();
  const key = keyOf(request);
  const before = key === undefined ? undefined : finishedJob(request, key);
  if (before) {
    const seconds = (performance.now() - start) / 1000;
    const summary = { ...before.result.summary, seconds };
    for (const e of before.events) tell(e.type === "done" ? { ...e, summary } : e);
    return { ...before.result, summary, manifest: ownManifest(request.outFolder!), unchanged: true };
  }
  const events: JobEvent[] = [];
  const result = await runJob(
    request,
    (e) => {
      if (key !== undefined && e.type !== "cells" && e.type !== "grid") events.push(e);
      tell(e);
    },
    signal,
  );
  if (key !== undefined && mayBeKept(result) && keyOf(request) === key) keep(request, key, events, result);
  return { ...result, unchanged: false };
}

/** What may be otherwise the next time, with the same files: memory that was short, a disk that failed. */
const passing = /MB more are needed|changed while it was being read|became shorter while|the disk reports an error/;

/** Whether a job came to its end, and nothing in it went wrong that may go well next time. */
const mayBeKept = ({ manifest, exit, outputs, summary }: JobResult): boolean =>
  manifest !== undefined &&
  exit !== 1 &&
  ![...summary.left, ...outputs.flatMap((o) => o.left)].some((l) => passing.test(l.reason)) &&
  !outputs.some((o) => o.failed !== undefined && passing.test(o.failed));

/** Everything that a job's outputs depend on; undefined where that cannot be told. */
function keyOf(request: JobRequest): string | undefined {
  const program = bundled("process.cjs");
  if (!request.cache || request.mode !== "run" || request.outFolder === undefined || program === undefined)
    return undefined;
  const hash = createHash("sha256");
  // The number of workers changes no number.
  hash.update(stableJson({ ...request, workers: 0, program: program.href, node: process.version }));
  const looked = { files: 0, youngest: 0 };
  try {
    for (const s of request.studies) {
      if (!stampTree(fs.realpathSync.native(s.folder), "", hash, looked)) return undefined;
      if (s.definitionFile !== undefined) stampFile(s.definitionFile, s.definitionFile, hash, looked);
    }
  } catch {
    return undefined;
  }
  return Date.now() - looked.youngest > YOUNG ? hash.digest("hex") : undefined;
}

type Looked = { files: number; youngest: number };
type Hash = ReturnType<typeof createHash>;

function stampFile(file: string, shown: string, hash: Hash, looked: Looked): void {
  const { size, mtime, ctime, inode, modified } = stampOf(file);
  hash.update(`${shown}\0${size} ${mtime} ${ctime} ${inode}\n`);
  looked.youngest = Math.max(looked.youngest, modified);
  looked.files++;
}

/** Takes all entries of a folder into a digest. False where there are too many, or links to folders. */
function stampTree(root: string, inner: string, hash: Hash, looked: Looked): boolean {
  const entries = fs.readdirSync(path.join(root, inner), { withFileTypes: true });
  for (const e of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
    const name = path.join(inner, e.name);
    const full = path.join(root, name);
    if (looked.files > MOST_FILES) return false;
    if (e.isDirectory()) {
      hash.update(`${name}/\n`);
      if (!stampTree(root, name, hash, looked)) return false;
    } else if (e.isSymbolicLink()) {
      const real = fs.realpathSync.native(full);
      if (!fs.statSync(real).isFile()) return false;
      stampFile(full, `${name}\0${real}`, hash, looked);
    } else if (e.isFile()) stampFile(full, name, hash, looked);
    else hash.update(`${name}\0of another kind\n`);
  }
  return true;
}

const placeOf = (request: JobRequest): string => {
  const folder = createHash("sha256").update(followLinks(request.outFolder!)).digest("hex");
  return path.join(keptPlace(request.dataFolder, "finished"), `${folder.slice(0, 24)}.json`);
};

/** The job that was finished under a key, if all that it wrote is still there byte by byte. */
function finishedJob(request: JobRequest, key: string): FinishedJob | undefined {
  try {
    const text = readPlainFile(placeOf(request), { most: MOST_KEPT * 2 }).toString("utf8");
    const end = text.indexOf("\n");
    const body = text.slice(end + 1);
    // What a crash or a stranger left is not believed.
    if (createHash("sha256").update(body).digest("hex") !== text.slice(0, end)) return undefined;
    const job = JSON.parse(body) as FinishedJob;
    const manifest = job.key === key ? ownManifest(request.outFolder!) : undefined;
    if (manifest?.digest !== job.manifest) return undefined;
    const folder = followLinks(request.outFolder!);
    const isWhole = listedFiles(manifest).every((f) => digestOfPlain(path.join(folder, f.file)) === f.sha256);
    return isWhole ? job : undefined;
  } catch {
    return undefined;
  }
}

function keep(request: JobRequest, key: string, events: readonly JobEvent[], result: JobResult): void {
  const { manifest, ...rest } = result;
  const body = JSON.stringify({ key, manifest: manifest!.digest, events, result: rest } satisfies FinishedJob);
  if (body.length > MOST_KEPT) return;
  const place = placeOf(request);
  writeIfRoom(place, `${createHash("sha256").update(body).digest("hex")}\n${body}`);
  if (fs.existsSync(place)) forgetOldest(path.dirname(place), MOST_JOBS, /^[0-9a-f]{24}\.json$/);
}
