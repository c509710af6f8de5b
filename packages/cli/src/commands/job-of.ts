import path from "node:path";
import { jobRequestSchema, type JobRequest, type JobRequestInput } from "@oxtrum/engine";
import type { CommandIo } from "../command-io.js";
import { archived, dataFolder, parseSettings, parseStudy, readScript, styleFor } from "../studies.js";

/** Options of `run` and `check`. */
export interface RunOptions {
  study: string[];
  out?: string;
  runs?: string;
  set: string[];
  workers?: number;
  cache: boolean;
  dry?: boolean;
  json?: boolean;
  memory?: string;
  style?: string;
  archive?: string;
  watch?: boolean;
  until?: "finished";
}

/** The job that a command line asks for. */
export function jobOf(script: string, o: RunOptions, mode: "run" | "dry", io: CommandIo): JobRequest {
  const job = script.endsWith(".zip")
    ? archived(script, o.study.map(parseStudy))
    : { ...readScript(script), studies: o.study.map(parseStudy), inputs: {} };
  const input: JobRequestInput = {
    ...job,
    style: styleFor(script, o.style),
    inputs: { ...job.inputs, ...parseSettings(o.set) },
    mode,
    cache: o.cache,
    dataFolder: dataFolder(io.env),
    ...(o.runs !== undefined && { runs: o.runs }),
    ...(o.workers !== undefined && { workers: o.workers }),
    ...(o.out !== undefined && mode === "run" && { outFolder: path.resolve(o.out) }),
    ...(o.memory !== undefined && { memory: Number(o.memory) * 1e6 }),
  };
  return jobRequestSchema.parse(input);
}
