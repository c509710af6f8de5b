import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { manifestDigest, manifestSchema, type Manifest } from "../record/manifest.js";
import { readPlainFile } from "@oxtrum/core/formats";

export const manifestName = "manifest.json";

/** A path that stays within its folder: parts of plain names, none of them empty or leading up. */
export const isInnerPath = (file: string): boolean =>
  file.length > 0 &&
  !file.includes("\\") &&
  !file.includes("\0") &&
  file.split("/").every((p) => p !== "" && p !== "." && p !== "..");

/**
 * The manifest of a folder that a job of ours wrote: it parses, its own digest agrees, and all files that it lists lie
 * in the folder. Undefined for any other file of that name.
 */
export function ownManifest(folder: string): Manifest | undefined {
  try {
    const json: unknown = JSON.parse(readPlainFile(path.join(folder, manifestName), { most: 1e9 }).toString("utf8"));
    const parsed = manifestSchema.safeParse(json);
    if (!parsed.success || parsed.data.digest !== manifestDigest(parsed.data)) return undefined;
    return listedFiles(parsed.data).every((f) => isInnerPath(f.file)) ? parsed.data : undefined;
  } catch {
    return undefined;
  }
}

/** All files that a manifest lists, but for itself. */
export const listedFiles = (m: Manifest): readonly { readonly file: string; readonly sha256: string }[] => [
  ...m.outputs.flatMap((o) => o.files),
  ...m.indexes,
];

/** The digest of a plain file that is not a link; undefined for anything else. */
export function digestOfPlain(file: string): string | undefined {
  let fd: number | undefined;
  try {
    fd = fs.openSync(file, fs.constants.O_RDONLY | fs.constants.O_NOFOLLOW | fs.constants.O_NONBLOCK);
    if (!fs.fstatSync(fd).isFile()) return undefined;
    const hash = createHash("sha256");
    const buffer = Buffer.allocUnsafe(1 << 20);
    for (let n = fs.readSync(fd, buffer); n > 0; n = fs.readSync(fd, buffer)) hash.update(buffer.subarray(0, n));
    return hash.digest("hex");
  } catch {
    return undefined;
  } finally {
    if (fd !== undefined) fs.closeSync(fd);
  }
}
