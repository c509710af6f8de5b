import fs from "node:fs";
import path from "node:path";
import { diskReason, isDiskError, isNoRoom } from "../store/disk-errors.js";
import { digestOfPlain, listedFiles, manifestName, ownManifest } from "./own-outputs.js";
import { isThere, removeFiles, sha256Of, Staging, tidyStaging } from "./staging.js";

/** A folder that outputs cannot go to: why, and what to do. */
export class OutputFolderError extends Error {
  override readonly name = "OutputFolderError";
}

interface OutputFile {
  readonly file: string;
  readonly content: Uint8Array | string;
}

/**
 * Where a path leads, links followed, whether or not its end is there.
 * @throws the system's error for links in a circle
 */
export function followLinks(given: string): string {
  let full = path.resolve(given);
  for (let k = 0; k < 40; k++) {
    try {
      return fs.realpathSync.native(full);
    } catch (e) {
      if ((e as NodeJS.ErrnoException).code !== "ENOENT") throw e;
    }
    const parent = path.dirname(full);
    const real = parent === full ? full : followLinks(parent);
    const here = path.join(real, path.basename(full));
    let link: string;
    try {
      link = fs.readlinkSync(here);
    } catch {
      return here;
    }
    full = path.resolve(real, link);
  }
  throw Object.assign(new Error("the path leads through links in a circle"), { code: "ELOOP", syscall: "readlink" });
}

const isWithin = (inner: string, outer: string): boolean =>
  inner === outer || inner.startsWith(outer.endsWith(path.sep) ? outer : outer + path.sep);

/**
 * Refuses a place that is a study, lies in one or contains one: outputs never mix with results.
 * @throws OutputFolderError
 */
export function refuseStudies(
  target: string,
  shown: string,
  studies: readonly { readonly name: string; readonly folder: string }[],
): void {
  for (const s of studies) {
    const folder = followLinks(s.folder);
    const how =
      target === folder
        ? "is"
        : isWithin(target, folder)
          ? "lies in"
          : isWithin(folder, target)
            ? "contains"
            : undefined;
    if (how !== undefined)
      throw new OutputFolderError(
        `${shown} ${how} the folder of the study "${s.name}"; outputs do not go there: name a folder elsewhere`,
      );
  }
}

/**
 * A folder that takes a job's outputs. They are written to a temporary folder one by one and placed together at the
 * end; files that are not an earlier job's own, or were changed since, stay as they are.
 */
export class OutputFolder {
  #staging: Staging | undefined;
  /** There was no room for some output. */
  #full = false;
  /** Sizes and digests of what has been written. */
  readonly #written = new Map<string, { readonly size: number; readonly sha256: string }>();

  private constructor(
    private readonly target: string,
    private readonly shown: string,
  ) {}

  /**
   * @param shown the folder as it was named
   * @throws OutputFolderError for a folder that holds other things, is a study's, or cannot be written to
   */
  static open(
    shown: string,
    studies: readonly { readonly name: string; readonly folder: string }[] = [],
  ): OutputFolder {
    try {
      const target = followLinks(shown);
      refuseStudies(target, shown, studies);
      const folder = new OutputFolder(target, shown);
      folder.#check();
      return folder;
    } catch (e) {
      if (isDiskError(e)) throw new OutputFolderError(`${shown} cannot take outputs: ${diskReason(e)}`);
      throw e;
    }
  }

  #check(): void {
    const { target, shown } = this;
    this.#tidy();
    if (!fs.existsSync(target)) {
      // The nearest folder that is there has to be one, and writable.
      let parent = path.dirname(target);
      while (!fs.existsSync(parent)) parent = path.dirname(parent);
      if (!fs.statSync(parent).isDirectory())
        throw new OutputFolderError(`${shown} cannot take outputs: ${parent} is a file, not a folder`);
      fs.accessSync(parent, fs.constants.W_OK);
      return;
    }
    if (!fs.statSync(target).isDirectory())
      throw new OutputFolderError(`${shown} is a file; name a folder for the outputs`);
    fs.accessSync(target, fs.constants.W_OK);
    const own = this.#staging && path.basename(this.#staging.folder);
    if (fs.readdirSync(target).every((n) => n === own) || ownManifest(target)) return;
    throw new OutputFolderError(
      isThere(path.join(target, manifestName))
        ? `${shown} holds a ${manifestName} that no job wrote, or that was changed since; nothing there ` +
            "was touched: name an empty or a new folder"
        : `${shown} holds other files and no manifest of an earlier job; nothing there was touched: name an empty or a new folder`,
    );
  }

  #tidy(): void {
    if (tidyStaging(this.target, this.#staging?.folder))
      throw new OutputFolderError(
        `another job is writing its outputs to ${this.shown}; wait for its end, or name another folder`,
      );
  }

  #begin(): Staging {
    if (this.#staging) return this.#staging;
    this.#tidy();
    const there = fs.existsSync(this.target);
    const within = there ? this.target : path.dirname(this.target);
    fs.mkdirSync(within, { recursive: true });
    return (this.#staging = Staging.begin(within, this.target));
  }

  /** Writes the files of one output to the temporary folder, all of them or none. @throws the system's error */
  write(files: readonly OutputFile[]): void {
    const done: string[] = [];
    try {
      for (const f of files) {
        this.#begin().write(f.file, f.content);
        done.push(f.file);
        const size = typeof f.content === "string" ? Buffer.byteLength(f.content) : f.content.length;
        this.#written.set(f.file, { size, sha256: sha256Of(f.content) });
      }
    } catch (e) {
      this.drop(done);
      if (isNoRoom(e)) this.#full = true;
      throw e;
    }
  }

  /** Takes files back that were written. */
  drop(files: readonly string[]): void {
    this.#staging?.remove(files);
    for (const f of files) this.#written.delete(f);
  }

  /**
   * Places what was written, the manifest among it, in place of what an earlier job left there.
   *
   * @throws OutputFolderError when a name is taken by a file that is not the earlier job's, or was changed since
   */
  place(): void {
    this.#check();
    const earlier = ownManifest(this.target);
    // A part of the new outputs is not a reason to lose the whole of the earlier ones.
    if (earlier && this.#full)
      throw new OutputFolderError(
        `there is no room for the outputs in ${this.shown}; the earlier ones are still there, whole: ` +
          "free some space, or name another folder",
      );
    const old = new Map(earlier ? listedFiles(earlier).map((f) => [f.file, f.sha256]) : []);
    const manifest = digestOfPlain(path.join(this.target, manifestName));
    if (earlier && manifest !== undefined) old.set(manifestName, manifest);
    const taken: string[] = [];
    const place: { file: string; sha256: string; was?: string }[] = [];
    const same: string[] = [];
    for (const [file, { sha256 }] of this.#written) {
      const is = this.#stateOf(file);
      if (is === undefined) place.push({ file, sha256 });
      else if (old.get(file) !== is) taken.push(file);
      else if (is === sha256) same.push(file);
      else place.push({ file, sha256, was: is });
    }
    if (taken.length > 0) {
      const list = taken.slice(0, 3).join(", ") + (taken.length > 3 ? ` and ${taken.length - 3} more` : "");
      throw new OutputFolderError(
        `${this.shown} holds ${list}, which ${taken.length === 1 ? "is" : "are"} not the earlier job's, ` +
          `or ${taken.length === 1 ? "was" : "were"} changed since; nothing there was touched: move ` +
          `${taken.length === 1 ? "it" : "them"} away, or name another folder`,
      );
    }
    const remove = [...old].flatMap(([file, sha256]) =>
      this.#written.has(file) && file !== manifestName ? [] : [{ file, sha256 }],
    );
    if (place.length === 0 && remove.every((r) => r.file === manifestName)) {
      this.discard();
      return;
    }
    const staging = this.#begin();
    staging.remove(same);
    staging.commit({ remove, place });
    this.#staging = undefined;
  }

  /**
   * The digest of what has that name now; undefined when nothing has, "" for what is not a plain file of the folder
   * itself.
   */
  #stateOf(file: string): string | undefined {
    let folder = this.target;
    for (const part of file.split("/").slice(0, -1)) {
      folder = path.join(folder, part);
      if (!isThere(folder)) return undefined;
      if (!fs.lstatSync(folder).isDirectory()) return "";
    }
    const full = path.join(this.target, file);
    return isThere(full) ? (digestOfPlain(full) ?? "") : undefined;
  }

  /** Takes away all that was written and not placed. */
  discard(): void {
    this.#staging?.discard();
    this.#staging = undefined;
    this.#written.clear();
  }
}

/** Removes the outputs of a job of ours from a folder: the files its manifest lists, as far as they are unchanged. */
export function removeOutputs(folder: string): void {
  tidyStaging(folder);
  const manifest = ownManifest(folder);
  if (!manifest) return;
  const own = listedFiles(manifest).filter((f) => digestOfPlain(path.join(folder, f.file)) === f.sha256);
  fs.rmSync(path.join(folder, manifestName), { force: true });
  removeFiles(
    folder,
    own.map((f) => f.file),
  );
  try {
    fs.rmdirSync(folder);
  } catch {
    // Holds something else: left alone.
  }
}
