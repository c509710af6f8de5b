import fs from "node:fs";
import path from "node:path";
import { ServerProcess } from "./endure.js";

/** What an hour of following was like. */
export interface FollowedLong {
  readonly minutes: number;
  /** MiB of the server's process, minute by minute. */
  readonly memory: readonly number[];
  /** Share of a core that the server used, minute by minute. */
  readonly share: readonly number[];
  /** From a write to the answer that holds it, asking each second as the page does: median and largest, ms. */
  readonly seen: { readonly median: number; readonly most: number };
  readonly broken: readonly string[];
}

interface Answer {
  readonly runs: readonly { readonly id: string; readonly series: readonly { rows?: number; version: string }[] }[];
}

const PATTERN = "t {time:s} s | it {it} | dT {dT} | dU {dU}";
const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));
const logLine = (t: number): string =>
  `t ${t} s | it 1 | dT ${(1e-3 / (t + 1)).toExponential(3)} | dU ${(1e-2 / (t + 1)).toExponential(3)} | wall ${t} s\n`;

/**
 * Lets a server follow runs that are written each second for many minutes, asked each second by one reader.
 *
 * @param base an empty folder
 * @param given rows that each file has at the beginning: what stands there after so many seconds
 * @param tell told each minute
 */
export async function endureFollowing(
  base: string,
  minutes: number,
  runs: number,
  tell: (text: string) => void,
  given = 1,
): Promise<FollowedLong> {
  const folder = path.join(base, "growing");
  const files: string[] = [];
  const before = Array.from({ length: given }, (_, t) => t);
  const rows = before.map((t) => `${t},${281 + (t % 7)},1,2\n`).join("");
  const lines = before.map(logLine).join("");
  const ids = Array.from({ length: runs }, (_, r) => `n${String(r).padStart(4, "0")}`);
  for (const id of ids) {
    const run = path.join(folder, "runs", id);
    fs.mkdirSync(path.join(run, "monitors"), { recursive: true });
    for (let k = 0; k < 4; k++) {
      fs.writeFileSync(path.join(run, "monitors", `m${k}.csv`), `time,T,p,q\n${rows}`);
      files.push(path.join(run, "monitors", `m${k}.csv`));
    }
    fs.writeFileSync(path.join(run, "solver.log"), lines);
  }
  fs.writeFileSync(path.join(folder, "oxtrum.study.json"), JSON.stringify({ runs: { pattern: "runs/{n}" } }));
  const server = new ServerProcess(path.join(base, "data"));
  const [memory, share, seen, broken]: [number[], number[], number[], string[]] = [[], [], [], []];
  await server.start();
  const stop = new AbortController();
  try {
    await server.ask("POST", "studies", { name: "growing", folder });
    // Somebody looks: the live stream is open, and read.
    const stream = await server.stream("events", stop.signal);
    void (async () => {
      for await (const part of stream) void part;
    })().catch(() => undefined);
    const body = {
      runs: ids,
      quantities: [
        { quantity: { kind: "table", file: "monitors/m0.csv", column: "T" }, along: "axis" },
        { quantity: { kind: "lines", file: "solver.log", patterns: [PATTERN], column: "dT" }, along: "axis" },
      ],
    };
    const have: Record<string, string> = {};
    const began = Date.now();
    // Shorter runs are one period of their own.
    const period = Math.min(60, 60 * minutes);
    let [minute, used] = [0, server.processor];
    for (let turn = 1; minute * period < 60 * minutes; turn++) {
      const time = given - 1 + turn;
      for (const f of files) fs.appendFileSync(f, `${time},${281 + (time % 7)},1,2\n`);
      for (const id of ids) fs.appendFileSync(path.join(folder, "runs", id, "solver.log"), logLine(time));
      const written = Date.now();
      await pause(Math.max(0, began + 1000 * turn - written - 500));
      const answer = await server.ask<Answer>("POST", "studies/growing/live", { ...body, have });
      seen.push(Date.now() - written);
      for (const run of answer.runs)
        run.series.forEach((s, k) => {
          const before = have[`${run.id}/${k}`];
          if (s.version === before) broken.push(`turn ${turn}: what was written to ${run.id} was not seen`);
          else if (s.rows !== undefined && s.rows !== time + 1)
            broken.push(`turn ${turn}: ${run.id} has ${s.rows} rows, and not ${time + 1}`);
          have[`${run.id}/${k}`] = s.version;
        });
      await pause(Math.max(0, began + 1000 * turn - Date.now()));
      if (Date.now() - began < 1000 * period * (minute + 1)) continue;
      minute++;
      memory.push(server.memory);
      share.push(Number(((server.processor - used) / period).toFixed(3)));
      used = server.processor;
      tell(
        `${minute} min: ${memory.at(-1)} MiB, ${(100 * share.at(-1)!).toFixed(0)} % of a core, ${broken.length} wrong`,
      );
    }
  } finally {
    stop.abort();
    await server.kill();
  }
  seen.sort((a, b) => a - b);
  return {
    minutes,
    memory,
    share,
    seen: { median: seen[seen.length >> 1]!, most: seen.at(-1)! },
    broken: broken.slice(0, 20),
  };
}
