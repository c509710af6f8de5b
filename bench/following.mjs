// Measurements of logs and of simulations that are followed.
import fs from "node:fs";
import path from "node:path";
import { compilePattern, GrowingLines, openFile, readLines } from "@oxtrum/core/formats";
import { LiveStudy, scanStudy } from "@oxtrum/engine";
import { endureFollowing } from "../packages/server/dist/testing/endure-following.js";
import { full, scratch, seconds } from "./data.mjs";

const PATTERN = "t {time:s} s | it {it} | dT {dT} | dU {dU}";
const steps = (from, count) => {
  let text = "";
  for (let t = from; t < from + count; t++)
    text +=
      `t ${t} s | it 1 | dT ${(1e-3 / (t + 1)).toExponential(3)} | dU ${(1e-2 / (t + 1)).toExponential(3)} | ` +
      `wall ${(t * 0.3).toFixed(2)} s\n` +
      `  pressure loop 12 iterations, final 2.31e-7\n  continuity: sum local 1.2e-9, global 3.4e-11\n`;
  return text;
};

/** A solver's log of about so many megabytes: a third of its lines hold what is looked for. */
function logFile(mb) {
  const file = path.join(scratch, `solver-${mb}.log`);
  if (fs.existsSync(file)) return file;
  const fd = fs.openSync(`${file}.part`, "w");
  for (let at = 0, bytes = 0; bytes < mb * 1e6; at += 5000) bytes += fs.writeSync(fd, steps(at, 5000));
  fs.closeSync(fd);
  fs.renameSync(`${file}.part`, file);
  return file;
}

const used = () => process.cpuUsage().user / 1e6 + process.cpuUsage().system / 1e6;

/** A study of runs with so many tables each, and a log. */
function liveStudy(runs, tables) {
  const folder = path.join(scratch, `live-${runs}-${tables}`);
  fs.rmSync(folder, { recursive: true, force: true });
  const head = `time,T,p,q\n${Array.from({ length: 200 }, (_, t) => `${t},${280 + t / 100},1,2`).join("\n")}\n`;
  for (let r = 0; r < runs; r++) {
    const run = path.join(folder, "runs", `n${String(r).padStart(4, "0")}`);
    fs.mkdirSync(path.join(run, "monitors"), { recursive: true });
    for (let k = 0; k < tables; k++) fs.writeFileSync(path.join(run, "monitors", `m${k}.csv`), head);
    fs.writeFileSync(path.join(run, "solver.log"), steps(0, 20));
  }
  const states = { finished: { file: "solver.log", text: "finished" } };
  fs.writeFileSync(path.join(folder, "oxtrum.study.json"), JSON.stringify({ runs: { pattern: "runs/{n}" }, states }));
  return folder;
}

const open = async (folder) => {
  const began = Date.now();
  return new LiveStudy("live", await scanStudy(folder), began, began, "bench");
};

export const following = {
  async log() {
    const file = logFile(full ? 1000 : 200);
    const size = fs.statSync(file).size;
    const [whole, table] = seconds(() => {
      const source = openFile(file, "solver.log");
      try {
        return readLines(source, [compilePattern(PATTERN)]);
      } finally {
        source.close();
      }
    });
    const growing = new GrowingLines(file, "solver.log", [compilePattern(PATTERN)]);
    growing.update();
    const before = growing.file.bytesRead;
    const more = steps(table.rows, 10);
    fs.appendFileSync(file, more);
    const [part] = seconds(() => growing.update());
    const read = growing.file.bytesRead - before;
    fs.truncateSync(file, size);
    return {
      "MB, a solver's log": size / 1e6,
      "s, values of its lines by a pattern": whole,
      "MB/s": size / 1e6 / whole,
      "ms, ten steps appended": part * 1000,
      "bytes read for an append of": read,
      "bytes appended": Buffer.byteLength(more),
    };
  },
  async seen() {
    const base = fs.mkdtempSync(path.join(scratch, "seen-"));
    const r = await endureFollowing(base, full ? 1 : 0.25, 50, () => undefined);
    fs.rmSync(base, { recursive: true });
    if (r.broken.length > 0) throw new Error(r.broken[0]);
    return {
      "ms, from a write to the answer that has it, asked each second (50 runs)": r.seen.median,
      "ms, the latest of them": r.seen.most,
      "% of a core, the whole server": 100 * r.share.at(-1),
      "MiB of memory, the server's process": r.memory.at(-1),
    };
  },
  async follow() {
    const [runs, tables] = [200, 4];
    const folder = liveStudy(runs, tables);
    const live = await open(folder);
    const ids = live.catalogue.runs.map((r) => r.id);
    const quantities = [
      { quantity: { kind: "table", file: "monitors/m0.csv", column: "T" }, along: "axis" },
      { quantity: { kind: "lines", file: "solver.log", patterns: [PATTERN], column: "dT" }, along: "axis" },
    ];
    let have = {};
    const turns = full ? 60 : 20;
    let [spent, slowest] = [0, 0];
    let now = Date.now();
    live.read({ runs: ids, quantities }, have, now);
    for (let turn = 0; turn < turns; turn++) {
      for (const id of ids) {
        for (let k = 0; k < tables; k++)
          fs.appendFileSync(path.join(folder, "runs", id, "monitors", `m${k}.csv`), `${200 + turn},281,1,2\n`);
        fs.appendFileSync(path.join(folder, "runs", id, "solver.log"), steps(20 + turn, 1));
      }
      now += 1000;
      const start = used();
      live.look(now);
      const answer = live.read({ runs: ids, quantities }, have, now);
      JSON.stringify(answer);
      have = Object.fromEntries(answer.flatMap((r) => r.series.map((s, k) => [`${r.id}/${k}`, s.version])));
      spent += used() - start;
      slowest = Math.max(slowest, used() - start);
    }
    const idle = liveStudy(2000, 3);
    const old = Date.now() / 1000 - 3600;
    for (const f of fs.readdirSync(idle, { recursive: true })) fs.utimesSync(path.join(idle, f), old, old);
    const quiet = await open(idle);
    const start = used();
    for (let k = 0; k < 20; k++) quiet.look(Date.now() + 1000 * k);
    const looks = used() - start;
    fs.rmSync(idle, { recursive: true });
    fs.rmSync(folder, { recursive: true });
    return {
      "% of a core, 200 runs × 5 files written each second, 400 curves": (100 * spent) / turns,
      "s of processor time, the slowest second": slowest,
      "% of a core, 2,000 runs in which nothing happens": (100 * looks) / 20,
    };
  },
};
