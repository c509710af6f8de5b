import fs from "node:fs";
import path from "node:path";
import { isDiskError } from "./disk-errors.js";

/** Writes under a temporary name and renames, so that a reader sees the old file or the new one, never half of it. */
export function writeWhole(file: string, content: string | Uint8Array): void {
  fs.mkdirSync(path.dirname(file), { recursive: true });
  const aside = `${file}.${process.pid}.part`;
  try {
    fs.writeFileSync(aside, content);
    fs.renameSync(aside, file);
  } catch (e) {
    fs.rmSync(aside, { force: true });
    throw e;
  }
}

/** The same for what can be made again: a full or read-only disk costs the memory, not the work. */
export function writeIfRoom(file: string, content: string | Uint8Array): void {
  try {
    writeWhole(file, content);
  } catch (e) {
    if (!isDiskError(e)) throw e;
  }
}
