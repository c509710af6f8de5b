import { randomUUID } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { z } from "zod";
import { diskReason, isAlive, isDiskError, keptNames, thisProcess } from "@oxtrum/engine";

/** The data folder cannot be used: why, and what to do. */
export class DataFolderError extends Error {
  override readonly name = "DataFolderError";
}

const markName = "oxtrum-data.json";
const lockName = "server.lock";
const lockSchema = z.object({ pid: z.number(), started: z.string(), key: z.string() });

/**
 * What the server and the command keep in a data folder; anything else in an unmarked one means that it is not ours.
 */
const ofServer = /^(?:oxtrum\.db(?:-wal|-shm|-journal)?|jobs|looks|set-aside|server\.lock|oxtrum-data\.json)$/;
const isOurs = (name: string): boolean => ofServer.test(name) || keptNames.includes(name);

/** A data folder held by this server; no other server can hold it. */
export interface DataFolder {
  readonly folder: string;
  /** Lets others have it. */
  release(): void;
}

/**
 * Takes a data folder for this server.
 *
 * @throws DataFolderError in one sentence when it cannot be written to, holds other things, or another server has it
 */
export function takeDataFolder(folder: string): DataFolder {
  try {
    fs.mkdirSync(folder, { recursive: true });
    const mark = path.join(folder, markName);
    if (!fs.existsSync(mark)) {
      const foreign = fs.readdirSync(folder).find((f) => !isOurs(f));
      if (foreign !== undefined)
        throw new DataFolderError(
          `${folder} holds other files (${foreign}) and is not a data folder of Oxtrum; set OXTRUM_DATA to an empty or a new folder.`,
        );
      fs.writeFileSync(mark, JSON.stringify({ oxtrum: "data folder" }) + "\n");
    }
    return { folder, release: lock(folder) };
  } catch (e) {
    if (isDiskError(e))
      throw new DataFolderError(
        `The data folder ${folder} cannot be used: ${diskReason(e)}. It is set by OXTRUM_DATA.`,
      );
    throw e;
  }
}

/** Writes the lock, with the process and its start time: a number that another process has by now does not count. */
function lock(folder: string): () => void {
  const file = path.join(folder, lockName);
  const key = randomUUID();
  const text = JSON.stringify({ ...thisProcess(), key }) + "\n";
  for (let k = 0; ; k++) {
    // Written under a temporary name and linked: a lock that is there is whole.
    const aside = `${file}.${key}`;
    fs.writeFileSync(aside, text);
    try {
      fs.linkSync(aside, file);
      return () => {
        if (readLock(file)?.key === key) fs.rmSync(file, { force: true });
      };
    } catch (e) {
      if (["EPERM", "ENOTSUP", "ENOSYS"].includes((e as NodeJS.ErrnoException).code ?? "") && !fs.existsSync(file)) {
        // A disk without links: the best that it can do.
        fs.writeFileSync(file, text, { flag: "wx" });
        return () => void (readLock(file)?.key === key && fs.rmSync(file, { force: true }));
      }
      if ((e as NodeJS.ErrnoException).code !== "EEXIST") throw e;
      const holder = readLock(file);
      if (holder && isAlive(holder))
        throw new DataFolderError(
          `Another server (process ${holder.pid}) uses the data folder ${folder}: stop it, or set OXTRUM_DATA to another folder.`,
        );
      if (k > 10) throw new DataFolderError(`The lock ${file} cannot be taken; remove it if no server runs.`);
      // Left by a server that was killed. Moved away first, so that of two who find it only one takes its place.
      const old = `${file}.${key}.old`;
      try {
        fs.renameSync(file, old);
        if (JSON.stringify(readLock(old)) !== JSON.stringify(holder)) fs.linkSync(old, file);
      } catch {
        continue;
      } finally {
        fs.rmSync(old, { force: true });
      }
    } finally {
      fs.rmSync(aside, { force: true });
    }
  }
}

function readLock(file: string): z.infer<typeof lockSchema> | undefined {
  try {
    return lockSchema.parse(JSON.parse(fs.readFileSync(file, "utf8")));
  } catch {
    return undefined;
  }
}
