import fs from "node:fs";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import type { JobEvent } from "@oxtrum/contract";
import { jobRequestSchema, type JobRequest } from "@oxtrum/engine";
import { smallStudy, type SmallStudy } from "@oxtrum/engine/testing";
import { JobProcesses } from "./process.js";

let s: SmallStudy;
let processes: JobProcesses;
beforeEach(() => {
  s = smallStudy();
  processes = new JobProcesses();
});
afterEach(() => {
  processes.close();
  s.remove();
});

const PEAKS = `import { study, emit } from "oxtrum";
emit.table("peaks", study("small").runs.rows((run) => ({ T: run.table("hall.csv").max("T") })));
`;
const ENDLESS = 'import { emit } from "oxtrum";\nfor (;;) {}\nemit.text("a", "b");\n';
const request = (text: string, out: string): JobRequest =>
  jobRequestSchema.parse({
    files: { "a.ts": text },
    main: "a.ts",
    // As the server does it: checked before.
    compiled: { "a.ts": text },
    mode: "run",
    workers: 2,
    studies: [{ name: "small", folder: s.folder }],
    dataFolder: s.out("data"),
    outFolder: s.out(out),
  });
const until = async (holds: () => boolean): Promise<void> => {
  while (!holds()) await new Promise((later) => setTimeout(later, 10));
};
/** Runs a job to its end: its exit code, and what was told. */
async function ran(text: string, out: string): Promise<{ exit: number | null; events: JobEvent[] }> {
  const events: JobEvent[] = [];
  const { exit } = await processes.start(request(text, out), (e) => events.push(e)).ended;
  return { exit, events };
}
const peaks = (out: string): number[] =>
  fs
    .readFileSync(`${s.out(out)}/peaks.csv`, "utf8")
    .trim()
    .split("\n")
    .slice(1)
    .map((row) => Number(row.split(",")[1]));

describe("processes of jobs", () => {
  it("take one job after the other, as if each were the first", async () => {
    const [first] = processes.pids;
    // T rises to fan/100 · 100 + door.
    const warmest = [51, 52, 53, 101, 102, 103];
    expect((await ran(PEAKS, "one")).exit).toBe(0);
    expect(peaks("one")).toEqual(warmest);
    expect((await ran(PEAKS.replace('max("T")', 'min("T")'), "two")).exit).toBe(0);
    expect(peaks("two")).toEqual([1, 2, 3, 1, 2, 3]);
    // A script's own mistake is not the process's.
    const wrong = await ran(`${PEAKS}throw new Error("mine");\n`, "three");
    expect([wrong.exit, fs.existsSync(s.out("three"))]).toEqual([1, false]);
    // A file that has changed between two jobs is read anew.
    fs.appendFileSync(`${s.folder}/runs/f050_d1/hall.csv`, "101,999,1\n");
    expect((await ran(PEAKS, "four")).exit).toBe(0);
    expect(peaks("four")).toEqual([999, ...warmest.slice(1)]);
    // What comes after a job's end does not reach the next one.
    const before = processes.start(request(PEAKS, "five"), () => undefined);
    await before.ended;
    const after = processes.start(request(PEAKS, "six"), () => undefined);
    before.stop();
    before.kill();
    expect(await after.ended).toEqual({ exit: 0 });
    // One more may have been got ready while the first job took its time.
    expect(processes.pids).toContain(first);
    expect(processes.pids.length).toBeLessThanOrEqual(2);
  });

  it("end with a job that is stopped, and with one that is killed; another one is there then", async () => {
    for (const end of ["stop", "kill"] as const) {
      const [before] = processes.pids;
      const events: JobEvent[] = [];
      const job = processes.start(request(ENDLESS, end), (e) => events.push(e));
      await until(() => events.some((e) => e.type === "stage" && e.stage === "script"));
      job[end]();
      const { exit } = await job.ended;
      expect(exit).toBe(end === "kill" ? null : 1);
      await until(() => !processes.pids.includes(before!) && processes.pids.length === 1);
    }
    expect((await ran(PEAKS, "again")).exit).toBe(0);
  });

  it("work side by side, tell each its own events, and two at most wait for more", async () => {
    const jobs = await Promise.all(["a", "b", "c"].map((out) => ran(PEAKS, out)));
    expect(jobs.map((j) => j.exit)).toEqual([0, 0, 0]);
    for (const { events } of jobs) expect(events.filter((e) => e.type === "done")).toHaveLength(1);
    expect(new Set(["a", "b", "c"].map((out) => peaks(out).join())).size).toBe(1);
    await until(() => processes.pids.length <= 2);
  });

  it("say why they ended where they could not read what they were asked", async () => {
    const events: JobEvent[] = [];
    const { exit } = await processes.start({} as JobRequest, (e) => events.push(e)).ended;
    expect([exit, events]).toEqual([
      null,
      [expect.objectContaining({ type: "message", level: "error", text: expect.stringMatching(/cannot be read/) })],
    ]);
  });
});
