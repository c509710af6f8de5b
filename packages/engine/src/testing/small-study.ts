import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import {
  jobRequestSchema,
  runJob,
  type JobEvent,
  type JobRequestInput,
  type JobResult,
  type OutputRecord,
} from "../index.js";
// With the compiler in this thread, jobs check here what a new process would check in a thread of its own.
import "../check/index.js";
import { runHere } from "./run-here.js";

/** A study of six runs in a folder of its own: fan 50 or 100 %, doors 1 to 3, with `T = fan/100 · time + door`. */
export interface SmallStudy {
  readonly folder: string;
  readonly data: string;
  readonly out: (name: string) => string;
  remove(): void;
}

export const runNames = ["f050_d1", "f050_d2", "f050_d3", "f100_d1", "f100_d2", "f100_d3"] as const;

export function smallStudy(): SmallStudy {
  const base = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-small-"));
  const folder = path.join(base, "study");
  for (const run of runNames) {
    const fan = Number(run.slice(1, 4));
    const door = Number(run.slice(6));
    const rows = Array.from({ length: 101 }, (_, t) => `${t},${(fan / 100) * t + door},${door}`);
    fs.mkdirSync(path.join(folder, "runs", run), { recursive: true });
    fs.writeFileSync(
      path.join(folder, "runs", run, "case.json"),
      JSON.stringify({ fan: { value: fan, unit: "%" }, door: `${door} s`, kind: door === 3 ? "wide" : "narrow" }),
    );
    fs.writeFileSync(path.join(folder, "runs", run, "hall.csv"), `time [s],T [K],p [Pa]\n${rows.join("\n")}\n`);
    fs.writeFileSync(path.join(folder, "runs", run, "extra.csv"), "time [s],q [W]\n0,1\n1,2\n");
    fs.writeFileSync(
      path.join(folder, "runs", run, "solver.log"),
      "Time = 0 s\n  residual 1e-3\nTime = 1 s\n  residual 1e-5\n",
    );
  }
  return {
    folder,
    data: path.join(base, "data"),
    out: (name) => path.join(base, name),
    remove: () => fs.rmSync(base, { recursive: true, force: true }),
  };
}

export interface Ran extends JobResult {
  readonly events: readonly JobEvent[];
  readonly output: (name: string) => OutputRecord;
  readonly errors: readonly string[];
  readonly warnings: readonly string[];
}

/** A request for {@link runScript}; what is not said is as in a job. */
export interface TestRequest extends Partial<JobRequestInput> {
  /**
   * A job as users have it: types checked, evaluated in threads. Without, neither is started, which takes seconds; with
   * `workers` only the threads are.
   */
  readonly asUsers?: boolean;
}

/** Runs a script on the study, with the library's names imported. */
export async function runScript(s: SmallStudy, body: string, request: TestRequest = {}): Promise<Ran> {
  const { asUsers = false, ...more } = request;
  const events: JobEvent[] = [];
  const unchecked = "// @ts-nocheck\n";
  const library = 'import { study, across, chart, emit, input, q } from "oxtrum";\n';
  const text = body.startsWith(unchecked) ? unchecked + library + body.slice(unchecked.length) : library + body;
  const run = asUsers || more.workers !== undefined ? runJob : runHere;
  const result = await run(
    jobRequestSchema.parse({
      files: { "main.ts": text },
      main: "main.ts",
      studies: [{ name: "small", folder: s.folder }],
      dataFolder: s.data,
      workers: 2,
      ...(!asUsers && { compiled: { "main.ts": text } }),
      ...more,
    }),
    (e) => events.push(e),
  );
  const diagnostics = events.flatMap((e) => (e.type === "diagnostics" ? e.diagnostics : []));
  const told = events.flatMap((e) => (e.type === "message" && e.level === "error" ? [e.text] : []));
  return {
    ...result,
    events,
    errors: [
      ...diagnostics.filter((d) => d.severity === "error").map((d) => `${d.file}:${d.line} ${d.message}`),
      ...told,
    ],
    warnings: diagnostics.filter((d) => d.severity === "warning").map((d) => `${d.file}:${d.line} ${d.message}`),
    output: (name) => {
      const found = result.outputs.find((o) => o.name === name);
      if (!found)
        throw new Error(
          `no output "${name}"; there are ${result.outputs.map((o) => o.name).join(", ")}; ` +
            `${told.join("; ")} ${diagnostics.map((d) => d.message).join("; ")}`,
        );
      return found;
    },
  };
}

/** Names and digests of all files in a folder. */
export function bytesOf(folder: string): Record<string, string> {
  return Object.fromEntries(
    fs
      .readdirSync(folder)
      .sort()
      .map((f) => [f, fs.readFileSync(path.join(folder, f)).toString("base64")]),
  );
}
