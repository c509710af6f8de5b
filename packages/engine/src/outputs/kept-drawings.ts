import { createRequire } from "node:module";
import fs from "node:fs";
import path from "node:path";
import { readPlainFile } from "@oxtrum/core/formats";
import { bundled } from "../bundled.js";
import type { JobRequest } from "../record/request.js";
import { forgetOldest } from "../store/forget-oldest.js";
import { keptPlace } from "../store/kept-places.js";
import { sha256 } from "../store/keys.js";
import { writeIfRoom } from "../store/write-whole.js";

/** Draws in a format, or takes what was drawn of the same before. */
export type Draw = (format: string, size: object, draw: () => Buffer | Promise<Buffer>) => Promise<Buffer>;

/** Draws in any case. */
export const drawNow: Draw = async (_, __, draw) => draw();

const MOST_KEPT = 1000;
const MOST_BYTES = 20e6;
const DIGEST = 64;

/**
 * Drawings of earlier jobs. One is known by the digest of all that it shows, its format and size, and by what drew it:
 * so a script that is changed in one place draws anew what has changed. A file begins with the digest of what follows;
 * one that is not whole counts for nothing.
 */
export class KeptDrawings {
  /** @param program what draws: drawings of another one are not taken */
  constructor(
    private readonly folder: string,
    private readonly program: string,
  ) {}

  /** Those of a job; undefined where nothing is kept, or where it is not known which program it is. */
  static of(request: JobRequest): KeptDrawings | undefined {
    const program = request.cache ? bundled("process.cjs") : undefined;
    if (!program) return undefined;
    const { version } = createRequire(import.meta.url)("@napi-rs/canvas/package.json") as { version: string };
    const platform = `${process.platform} ${process.arch} ${process.version}`;
    return new KeptDrawings(keptPlace(request.dataFolder, "drawings"), `${program.href} ${version} ${platform}`);
  }

  /** Draws what has a digest. */
  drawerOf(digest: string): Draw {
    return async (format, size, draw) => {
      const name = sha256(JSON.stringify([this.program, digest, format, Object.entries(size).sort()]));
      const file = path.join(this.folder, name);
      const known = readWhole(file);
      if (known) return known;
      const bytes = await draw();
      if (bytes.length < MOST_BYTES) writeIfRoom(file, Buffer.concat([Buffer.from(sha256(bytes), "latin1"), bytes]));
      return bytes;
    };
  }

  /** Removes what was drawn longest ago, as far as there is too much. */
  forget(): void {
    if (fs.existsSync(this.folder)) forgetOldest(this.folder, MOST_KEPT, /^[0-9a-f]{64}$/);
  }
}

function readWhole(file: string): Buffer | undefined {
  try {
    const all = readPlainFile(file, { most: MOST_BYTES + DIGEST });
    const bytes = all.subarray(DIGEST);
    return bytes.length > 0 && all.toString("latin1", 0, DIGEST) === sha256(bytes) ? bytes : undefined;
  } catch {
    return undefined;
  }
}
