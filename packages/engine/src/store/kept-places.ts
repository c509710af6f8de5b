import path from "node:path";

/**
 * What the engine keeps in a data folder, by its name there. Whoever writes takes its place from here, so that a folder
 * that only the command has used is known as a data folder by the server too.
 */
const names = {
  /** Results of nodes. */
  cache: "cache",
  /** What scans of studies found. */
  catalogues: "catalogues",
  /** Checked texts of scripts. */
  checks: "checks",
  /** Drawn charts and pictures. */
  drawings: "drawings",
  /** What finished jobs told, by the folder of their outputs. */
  finished: "finished",
  /** Digests of files. */
  identities: "identities.jsonl",
} as const;

/** Where something is kept in a data folder. */
export const keptPlace = (dataFolder: string, what: keyof typeof names): string => path.join(dataFolder, names[what]);

/** All names that the engine may have made in a data folder. */
export const keptNames: readonly string[] = Object.values(names);
