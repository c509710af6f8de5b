import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "@jest/globals";
import { bundled } from "@oxtrum/engine/bundled";
import { bytesOf, smallStudy, type SmallStudy } from "@oxtrum/engine/testing";
import { main } from "./main.js";

/** A job that would write what is there already does not run; whatever its outputs depend on makes it run again. */
const peaks = `import { study, chart, emit, input, q } from "oxtrum";
const limit = input("limit", q("200 K"));
const t = study("small").runs.map((run) => run.table("hall.csv"));
const rows = t.rows((x, run) => ({ fan: run.params.fan, peak: x.max("T") }));
emit.table("peaks", rows);
emit.chart("air", chart.lines(t, { x: "time", y: "T", color: "fan" }), { formats: ["svg"] });
emit.check("cool", rows.max("peak"), { below: limit });
`;

let s: SmallStudy;
let base: string;
let out: string;
let script: string;
const now = Date.now;
beforeAll(() => {
  s = smallStudy();
  base = path.dirname(s.folder);
  out = path.join(base, "out");
  script = path.join(base, "peaks.ts");
  fs.writeFileSync(script, peaks);
  // Files that were written this very moment are not believed; a minute later they are.
  Date.now = () => now() + 60_000;
});
afterAll(() => {
  Date.now = now;
  s.remove();
});

interface Ran {
  readonly code: number;
  readonly out: string;
  /** Without the time that it took. */
  readonly told: string;
  readonly isSame: boolean;
}

async function run(folder: string, ...more: string[]): Promise<Ran> {
  let out = "";
  let err = "";
  const args = ["run", script, "--study", `small=${s.folder}`, "--out", folder, "--workers", "1", ...more];
  const io = {
    print: (line: string) => void (out += `${line}\n`),
    complain: (line: string) => void (err += `${line}\n`),
    progress: { write: (text: string) => void (err += text) },
    env: { ...process.env, OXTRUM_DATA: s.data },
    signal: new AbortController().signal,
  };
  const code = await main(args, io, "1.2.3");
  const remark = "; nothing has changed since the job before";
  return { code, out, told: err.replace(remark, "").replace(/[\d.e-]+ s$/m, "… s"), isSame: err.includes(remark) };
}

const hall = (run: string): string => path.join(s.folder, "runs", run, "hall.csv");
const edit = (file: string, change: (text: string) => string): void =>
  fs.writeFileSync(file, change(fs.readFileSync(file, "utf8")));
const options = { set: [] as string[] };

describe("a job into the folder of the one before", () => {
  it("does not run where nothing has changed, and tells the same", async () => {
    expect(bundled("process.cjs")).toBeDefined();
    const first = await run(out);
    const stamps = fs.readdirSync(out).map((f) => [f, fs.statSync(path.join(out, f)).mtimeMs]);
    const again = await run(out);
    expect([first.isSame, again.isSame]).toEqual([false, true]);
    expect({ ...again, isSame: false }).toEqual(first);
    expect(fs.readdirSync(out).map((f) => [f, fs.statSync(path.join(out, f)).mtimeMs])).toEqual(stamps);
    // Any number of workers gives the same numbers.
    expect((await run(out, "--workers", "2")).isSame).toBe(true);
    const json = [await run(out, "--json", "--no-cache"), await run(out, "--json")];
    expect(JSON.parse(json[1]!.out)).toEqual(JSON.parse(json[0]!.out));
  });

  it.each<readonly [what: string, change: () => void]>([
    [
      "a value of a file, with its length and time kept",
      () => {
        const { atime, mtime } = fs.statSync(hall("f050_d1"));
        edit(hall("f050_d1"), (t) => t.replace("\n100,51,", "\n100,57,"));
        fs.utimesSync(hall("f050_d1"), atime, mtime);
      },
    ],
    ["a file in its place", () => fs.copyFileSync(hall("f100_d3"), hall("f100_d2"))],
    [
      "a run that is new",
      () => fs.cpSync(path.join(s.folder, "runs/f100_d1"), path.join(s.folder, "runs/f100_d9"), { recursive: true }),
    ],
    ["a run that is gone", () => fs.rmSync(path.join(s.folder, "runs/f050_d3"), { recursive: true })],
    [
      "a parameter",
      () => edit(path.join(s.folder, "runs/f100_d9/case.json"), (t) => t.replace('"value":100', '"value":80')),
    ],
    ["a file that no job read", () => fs.writeFileSync(path.join(s.folder, "runs/f100_d1/new.csv"), "a,b\n1,2\n")],
    [
      "the study definition",
      () =>
        fs.writeFileSync(
          path.join(s.folder, "oxtrum.study.json"),
          JSON.stringify({ oxtrum: 1, units: { "hall.csv": { T: "mK" } } }),
        ),
    ],
    ["the script", () => edit(script, (t) => t.replace('emit.table("peaks"', 'emit.table("peaks again"'))],
    ["an input", () => void options.set.push("--set", "limit=90 K")],
    ["the choice of runs", () => void options.set.push("--runs", "fan=50")],
    ["the style", () => fs.writeFileSync(path.join(base, "oxtrum.style.json"), JSON.stringify({ theme: "print" }))],
    ["an output that was removed", () => fs.rmSync(path.join(out, "air.svg"))],
    [
      "what was kept, by a crash or a stranger",
      () => {
        const kept = path.join(s.data, "finished");
        for (const f of fs.readdirSync(kept)) edit(path.join(kept, f), (t) => t.replace('"exit":', '"exit" :'));
      },
    ],
  ])("runs again for %s, with the outputs of a job that knows nothing", async (_, change) => {
    // As the test before has left it.
    expect((await run(out, ...options.set)).isSame).toBe(true);
    change();
    const again = await run(out, ...options.set);
    const fresh = path.join(base, "fresh");
    fs.rmSync(fresh, { recursive: true, force: true });
    const other = await run(fresh, ...options.set, "--no-cache");
    expect([again.isSame, again.code, again.told]).toEqual([false, other.code, other.told]);
    expect(bytesOf(out)).toEqual(bytesOf(fresh));
  });

  it("does not take an output for its own that was changed by hand", async () => {
    expect((await run(out, ...options.set)).isSame).toBe(true);
    const whole = fs.readFileSync(path.join(out, "peaks-again.csv"));
    fs.appendFileSync(path.join(out, "peaks-again.csv"), " ");
    const refused = await run(out, ...options.set);
    expect([refused.isSame, refused.code]).toEqual([false, 1]);
    expect(refused.told).toMatch(/holds peaks-again.csv, which is not the earlier job's, or was changed since/);
    fs.writeFileSync(path.join(out, "peaks-again.csv"), whole);
  });

  it("runs where it had too little memory: another time there may be more", async () => {
    const short = path.join(base, "short");
    const twice = [await run(short, "--memory", "0.002"), await run(short, "--memory", "0.002")];
    expect(twice[0]!.told).toMatch(/MB more are needed/);
    expect(twice.map((r) => r.isSame)).toEqual([false, false]);
  });

  it("runs where a file was written just now: it may change again within the same moment", async () => {
    Date.now = now;
    try {
      fs.writeFileSync(path.join(s.folder, "runs/f100_d1/new.csv"), "a,b\n1,3\n");
      const twice = [await run(out), await run(out)];
      expect(twice.map((r) => [r.code, r.isSame])).toEqual([
        [0, false],
        [0, false],
      ]);
    } finally {
      Date.now = () => now() + 60_000;
    }
  });
});
