import { spawn } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { bytesOf, smallStudy, type SmallStudy } from "@oxtrum/engine/testing";
import { main } from "./main.js";

let s: SmallStudy;
beforeEach(() => void (s = smallStudy()));
afterEach(() => s.remove());

const script = `// @ts-nocheck
import { study, emit } from "oxtrum";
const rows = study("small").runs.rows((run) => ({ peak: run.table("hall.csv").max("T") }));
emit.table("peaks", rows);
emit.check("cool", rows.max("peak"), { below: "500 K" });
`;

/** A command line in this process; `line` hears what it says. */
function oxtrum(args: readonly string[], line: (text: string) => void, signal: AbortSignal): Promise<number> {
  const env = { ...process.env, OXTRUM_DATA: s.data };
  return main(args, { print: line, complain: line, progress: { write: line }, env, signal }, "1.2.3");
}

/** Of six runs the first is still being computed: its table has half of its rows. */
function unfinished(): { readonly file: string; readonly log: string; readonly rest: string } {
  const rules = { states: { finished: { file: "solver.log", text: "finished" } } };
  fs.writeFileSync(path.join(s.folder, "oxtrum.study.json"), JSON.stringify(rules));
  const runs = fs.readdirSync(path.join(s.folder, "runs"));
  for (const run of runs.slice(1)) fs.appendFileSync(path.join(s.folder, "runs", run, "solver.log"), "finished\n");
  const file = path.join(s.folder, "runs", runs[0]!, "hall.csv");
  const whole = fs.readFileSync(file, "utf8");
  const half = whole.indexOf("\n50,") + 1;
  fs.writeFileSync(file, whole.slice(0, half));
  return { file, log: path.join(s.folder, "runs", runs[0]!, "solver.log"), rest: whole.slice(half) };
}

describe("run --watch", () => {
  it("evaluates again what changed, leaves checks pending until runs are finished, and ends with the same bytes", async () => {
    const { file, log, rest } = unfinished();
    const main = s.out("peaks.ts");
    fs.writeFileSync(main, script);
    const lines: string[] = [];
    const hear = (text: string): void => {
      lines.push(text);
      if (text.startsWith("1: ")) {
        fs.appendFileSync(file, rest);
        fs.appendFileSync(log, "finished\n");
      }
    };
    const args = [
      "run",
      main,
      "--study",
      `small=${s.folder}`,
      "--out",
      s.out("watched"),
      "--watch",
      "--until",
      "finished",
    ];
    expect(await oxtrum(args, hear, new AbortController().signal)).toBe(0);
    expect(lines.filter((l) => /^(?:check|\d)|f050_d1/.test(l))).toEqual([
      expect.stringMatching(/^f050_d1: running, /),
      "check cool: undecided: 103 K, limit: < 500 K (pending: a run is not finished (f050_d1))",
      "1: 6 runs, 0 excluded, 2 of 2 outputs changed",
      'f050_d1: finished, solver.log says "finished"',
      "check cool: passed: 103 K, limit: < 500 K",
      "2: 6 runs, 0 excluded, 2 of 2 outputs changed",
    ]);
    const plain = ["run", main, "--study", `small=${s.folder}`, "--out", s.out("plain")];
    expect(await oxtrum(plain, () => undefined, new AbortController().signal)).toBe(0);
    expect(bytesOf(s.out("watched"))).toEqual(bytesOf(s.out("plain")));
  });

  it("ends by a signal with the outputs of the last evaluation whole", async () => {
    unfinished();
    const file = s.out("peaks.ts");
    fs.writeFileSync(file, script);
    const command = fileURLToPath(new URL("../bin/oxtrum.js", import.meta.url));
    const args = [command, "run", file, "--study", `small=${s.folder}`, "--out", s.out("out"), "--watch"];
    const child = spawn(process.execPath, args, {
      env: { ...process.env, OXTRUM_DATA: s.data },
      stdio: ["ignore", "pipe", "pipe"],
    });
    let said = "";
    child.stderr.on("data", (d: Buffer) => {
      said += d.toString();
      if (said.includes("\n1: ")) child.kill("SIGTERM");
    });
    const code = await new Promise((done) => child.on("close", done));
    // The check was undecided.
    expect([code, said.includes("1: 6 runs")]).toEqual([3, true]);
    expect(fs.readdirSync(s.out("out")).sort()).toEqual(
      expect.arrayContaining(["cool.json", "manifest.json", "outputs.json", "peaks.csv"]),
    );
  });

  it("refuses what it cannot do", async () => {
    const file = s.out("peaks.ts");
    fs.writeFileSync(file, script);
    const said: string[] = [];
    const run = (...more: string[]): Promise<number> =>
      oxtrum(
        ["run", file, "--study", `small=${s.folder}`, "--out", s.out("o"), ...more],
        (l) => said.push(l),
        new AbortController().signal,
      );
    expect([
      await run("--until", "finished"),
      await run("--watch", "--until", "tea"),
      await run("--watch", "--dry"),
    ]).toEqual([1, 1, 1]);
    expect(said.join("\n")).toMatch(/--until takes "finished", together with --watch[\s\S]*--watch goes with neither/);
  });
});
