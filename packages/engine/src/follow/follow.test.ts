import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { scanStudy } from "../study/catalogue.js";
import { LiveStudy, slopeOf, StudyWatch, type Followed, type LiveRunAnswer } from "./index.js";

let folder: string;
beforeEach(() => void (folder = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-follow-"))));
afterEach(() => fs.rmSync(folder, { recursive: true, force: true }));

/** Writes a file, with a time of its own. */
let clock = Date.parse("2026-01-01T00:00:00Z");
const put = (file: string, text: string, append = false): void => {
  const full = path.join(folder, file);
  fs.mkdirSync(path.dirname(full), { recursive: true });
  (append ? fs.appendFileSync : fs.writeFileSync)(full, text);
  clock += 1000;
  fs.utimesSync(full, clock / 1000, clock / 1000);
};
const cell = (t: number): string =>
  `<VTKFile type="UnstructuredGrid" version="0.1"><UnstructuredGrid><Piece NumberOfPoints="3" NumberOfCells="1">` +
  `<PointData><DataArray type="Float64" Name="temperature" format="ascii">${t} ${t} ${t}</DataArray></PointData>` +
  `<Points><DataArray type="Float64" NumberOfComponents="3" format="ascii">0 0 0 1 0 0 0 1 0</DataArray></Points>` +
  `<Cells><DataArray type="Int32" Name="connectivity" format="ascii">0 1 2</DataArray><DataArray type="Int32" ` +
  `Name="offsets" format="ascii">3</DataArray><DataArray type="UInt8" Name="types" format="ascii">5</DataArray></Cells>` +
  `</Piece></UnstructuredGrid></VTKFile>`;
const definition = {
  runs: { pattern: "runs/{fan:%}" },
  files: { hall: { path: "fields/hall_*.vtu", times: { step: "10 s" } } },
  units: { fields: { temperature: "K" }, "air.csv": { T: "K" } },
  names: { T: ["Temp"] },
  states: {
    finished: { file: "solver.log", text: "finished" },
    failed: [{ file: "solver.log", text: "stopped:" }],
    diverging: { lines: "solver.log", read: ["t {time:s} s | dT {dT}"], value: "last(dT)", above: 1000 },
    stalledAfter: "1 min",
    progress: { table: "air.csv", value: "last(time)", end: "1 min" },
  },
};
const air: Followed = { quantity: { kind: "table", file: "air.csv", column: "T" }, along: "axis" };
const residual: Followed = {
  quantity: { kind: "lines", file: "solver.log", patterns: ["t {time:s} s | dT {dT}"], column: "dT" },
  along: "row",
};
const field: Followed = {
  quantity: { kind: "field", file: "hall", field: "temperature", statistic: "mean" },
  along: "axis",
};

const open = async (): Promise<LiveStudy> => {
  const scanned = Date.now();
  return new LiveStudy("s", await scanStudy(folder), scanned, clock, "e");
};

describe("a study that is followed", () => {
  beforeEach(() => {
    put("oxtrum.study.json", JSON.stringify(definition));
    put("runs/050/air.csv", "time [s],Temp\n0,280\n10,281\n");
    put("runs/050/solver.log", "t 0 s | dT 1e-3\n");
    put("runs/050/fields/hall_000.vtu", cell(280));
    put("runs/100/case.txt", "");
  });

  it("gives quantities as far as they have come, in the names and units of the definition", async () => {
    const live = await open();
    const read = (have: Record<string, string> = {}): ReturnType<LiveStudy["read"]>[number] =>
      live.read({ runs: ["050"], quantities: [air, residual, field] }, have, clock).find((r) => r.id === "050")!;
    const first = read();
    expect(first.series.map((s) => [s.x, s.y, s.xName, s.xUnit, s.unit, s.last])).toEqual([
      [[0, 10], [280, 281], "time", "s", "K", 281],
      [[1], [1e-3], "row", "1", null, 1e-3],
      [[0], [280], "time", "s", "K", 280],
    ]);
    put("runs/050/air.csv", "20,282.5\n30,28", true);
    const late = live.read({ runs: ["050"], quantities: [air] }, {}, clock + 6000).find((r) => r.id === "050")!;
    expect(late.series[0]!.notes).toEqual(["the last line has no line end and is not read"]);
    put("runs/050/fields/hall_001.vtu", cell(290).slice(0, 500));
    const have = Object.fromEntries(first.series.map((s, k) => [`050/${k}`, s.version]));
    const second = read(have);
    expect([second.series[0]!.y, second.series[1]!.y]).toEqual([[280, 281, 282.5], undefined]);
    // Half a file counts once it is whole.
    expect(second.series[2]!.last).toBe(280);
    put("runs/050/fields/hall_001.vtu", cell(290));
    expect(read().series[2]!.y).toEqual([280, 290]);
    // A scan in between does not begin anew: what was known is known, and need not travel again.
    const known = read();
    const kept = Object.fromEntries(known.series.map((s, k) => [`050/${k}`, s.version]));
    const after = new LiveStudy("s", await scanStudy(folder), Date.now(), clock, "f", live);
    const same = after.read({ runs: ["050"], quantities: [air, residual, field] }, kept, clock);
    expect(same.find((r) => r.id === "050")!.series.map((s) => [s.version, s.y])).toEqual(
      known.series.map((s) => [s.version, undefined]),
    );
    // A file that cannot be read is told, and the others are drawn.
    put("runs/050/fields/hall_000.vtu", cell(280).slice(0, 400));
    const [, , damaged] = read().series;
    expect([damaged!.y, damaged!.unit]).toEqual([[290], "K"]);
    expect(damaged!.notes).toEqual([expect.stringMatching(/^not read: fields\/hall_000\.vtu: /)]);
    const none = { ...field.quantity, field: "none" } as Followed["quantity"];
    const asked = live.read({ runs: ["050"], quantities: [{ quantity: none, along: "axis" }] }, {}, clock);
    expect(asked.find((r) => r.id === "050")!.series[0]!.error).toMatch(/none/);
    fs.rmSync(path.join(folder, "runs/050/air.csv"));
    expect(read().series[0]!.error).toBe("there is no such file");
  });

  it("joins the parts of a table as scripts do, whichever of them grows", async () => {
    const parts = { files: { air: { path: ["air_1.csv", "air_2.csv"] }, log: { path: ["a.log", "b.log"] } } };
    put("oxtrum.study.json", JSON.stringify({ ...definition, ...parts }));
    put("runs/050/air_1.csv", "time [s],Temp\n0,280\n10,281\n20,282\n");
    put("runs/050/a.log", "t 0 s | dT 1\n");
    const live = await open();
    const quantities: Followed[] = [
      { quantity: { kind: "table", file: "air", column: "T" }, along: "axis" },
      { quantity: { ...residual.quantity, file: "log" } as Followed["quantity"], along: "axis" },
    ];
    const ys = (): unknown =>
      live
        .read({ runs: ["050"], quantities }, {}, clock)
        .find((r) => r.id === "050")!
        .series.map((s) => s.y);
    expect(ys()).toEqual([[280, 281, 282], [1]]);
    // The second part repeats a time of the first: the later row is kept.
    put("runs/050/air_2.csv", "time [s],Temp\n20,290\n30,291\n");
    put("runs/050/b.log", "t 1 s | dT 2\n");
    expect(ys()).toEqual([
      [280, 281, 290, 291],
      [1, 2],
    ]);
    put("runs/050/air_2.csv", "40,292\n", true);
    expect(ys()).toEqual([
      [280, 281, 290, 291, 292],
      [1, 2],
    ]);
  });

  it("says the state of each run, and what decided it", async () => {
    const live = await open();
    const state = (now = clock): unknown => {
      live.look(now);
      const r = live.read({ runs: [], quantities: [] }, {}, now).find((x) => x.id === "050")!;
      return [r.state, r.because];
    };
    expect(state(clock + 5000)).toEqual(["running", "a file was written 6 s ago"]);
    expect(state(clock + 90_000)).toEqual(["stalled", "no file was written for 91 s"]);
    put("runs/050/solver.log", "t 1 s | dT 5e3\n", true);
    expect(state()).toEqual(["diverging", expect.stringMatching(/^last\(dT\) is 5\s000, rule: > 1\s000$/)]);
    put("runs/050/solver.log", "t 2 s | dT nan\n", true);
    expect(state()).toEqual(["diverging", 'solver.log: the last "dT" is not a number']);
    put("runs/050/solver.log", "t 3 s | dT 1e-3\n", true);
    expect(state(clock + 1000)).toEqual(["running", "a file was written 1 s ago"]);
    put("runs/050/solver.log", "finished\n", true);
    expect(state()).toEqual(["finished", 'solver.log says "finished"']);
    put("runs/050/solver.log", "stopped: no memory\n", true);
    expect(state()).toEqual(["failed", 'solver.log says "stopped: no memory"']);
  });

  it("expects the end from the speed of the last minutes", async () => {
    const live = await open();
    const progress = (now: number): unknown => live.read({ runs: [], quantities: [] }, {}, now)[0]!.progress;
    expect(progress(clock)).toEqual({ value: 10, end: 60, unit: "s" });
    put("runs/050/air.csv", "20,282\n", true);
    live.look(clock);
    expect(progress(clock)).toMatchObject({ value: 20, end: 60 });
    put("runs/050/air.csv", "30,282\n", true);
    // 10 s of the run take 1 s: 30 s are left.
    const then = progress(clock) as { expected: number };
    expect(then.expected - clock).toBeCloseTo(3000, 0);
  });

  it("expects the end where finished runs ended, when there is no rule for it", async () => {
    const { progress, ...states } = definition.states;
    expect(progress).toBeDefined();
    put("oxtrum.study.json", JSON.stringify({ ...definition, states }));
    for (const [run, last] of [
      ["060", 80],
      ["070", 100],
      ["080", 90],
    ] as const) {
      put(`runs/${run}/air.csv`, `time [s],Temp\n0,280\n${last},281\n`);
      put(`runs/${run}/solver.log`, "t 0 s | dT 1e-3\nfinished\n");
    }
    const live = await open();
    const ask = (quantities: Followed[]): unknown =>
      live.read({ runs: ["050"], quantities }, {}, clock).find((r) => r.id === "050")!.progress;
    expect(ask([air])).toEqual({ value: 10, end: 90, unit: "s", byRuns: true });
    put("runs/050/air.csv", "20,282\n", true);
    live.look(clock);
    expect(ask([air])).toMatchObject({ value: 20, end: 90, expected: clock + 7000 });
    // Rows have no end that would be that of other runs.
    expect(ask([residual])).toBeNull();
    expect(ask([])).toBeNull();
  });

  it("tells once that a run has come to its end", async () => {
    const live = await open();
    live.look(clock);
    put("runs/050/solver.log", "t 1 s | dT 1e-4\n", true);
    expect(live.look(clock)).toMatchObject({ changed: ["050"], ended: [] });
    put("runs/050/solver.log", "finished\n", true);
    expect(live.look(clock)).toMatchObject({ changed: ["050"], ended: ["050"] });
    put("runs/050/air.csv", "20,282\n", true);
    expect(live.look(clock)).toMatchObject({ changed: ["050"], ended: [] });
  });

  it("knows how far runs are that did not change, after a scan and after many looks", async () => {
    const { progress: _, ...states } = definition.states;
    put("oxtrum.study.json", JSON.stringify({ ...definition, states }));
    put("runs/060/air.csv", "time [s],Temp\n0,280\n80,281\n");
    put("runs/060/solver.log", "t 0 s | dT 1e-3\nfinished\n");
    const live = await open();
    const ask = (s: LiveStudy, have: Record<string, string>): LiveRunAnswer =>
      s.read({ runs: ["050"], quantities: [air] }, have, clock).find((r) => r.id === "050")!;
    const first = ask(live, {});
    expect(first.progress).toEqual({ value: 10, end: 80, unit: "s", byRuns: true });
    const scanned = new LiveStudy("s", await scanStudy(folder), Date.now(), clock, "later", live);
    const again = ask(scanned, { "050/0": first.series[0]!.version });
    expect([again.series[0], again.progress]).toEqual([{ version: first.series[0]!.version }, first.progress]);
    fs.rmSync(path.join(folder, "runs/050/air.csv"));
    scanned.look(clock);
    expect(ask(scanned, {}).progress).toBeNull();
  });

  it("a table of several files says which of them are not there yet", async () => {
    put(
      "oxtrum.study.json",
      JSON.stringify({ ...definition, units: {}, files: { air: { path: ["air.csv", "air2.csv"] } } }),
    );
    const live = await open();
    const notes = (): unknown =>
      live.read(
        { runs: ["050"], quantities: [{ quantity: { kind: "table", file: "air", column: "T" }, along: "axis" }] },
        {},
        clock,
      )[0]!.series[0];
    expect(notes()).toMatchObject({ rows: 2, notes: [expect.stringContaining("air2.csv is not there yet")] });
    put("runs/050/air2.csv", "time [s],Temp\n20,283\n30,284\n");
    live.look(clock);
    const now = notes() as { rows: number; notes?: string[] };
    expect([now.rows, now.notes?.some((n) => n.includes("not there yet")) ?? false]).toEqual([4, false]);
  });

  it("a run without files waits; without rules, one that is quiet is finished, and says that there is no rule", async () => {
    put("oxtrum.study.json", JSON.stringify({ runs: { pattern: "runs/{fan:%}" } }));
    const live = await open();
    const [quiet] = live.read({ runs: [], quantities: [] }, {}, clock + 3_600_000);
    expect([quiet!.state, quiet!.because]).toEqual([
      "finished",
      "no file was written for 60 min; the study definition has no rule for when a run is finished",
    ]);
  });
});

describe("watching a folder", () => {
  it("finds what grew, was written again, came or went, at a bounded number of questions", async () => {
    for (let r = 0; r < 40; r++)
      for (let f = 0; f < 6; f++) put(`runs/${String(r).padStart(3, "0")}/f${f}.csv`, "time,T\n0,1\n1,2\n");
    put("oxtrum.study.json", JSON.stringify({ runs: { pattern: "runs/{n}" } }));
    const old = Date.now() - 60_000;
    const all = fs.readdirSync(folder, { recursive: true, encoding: "utf8" });
    for (const f of ["", ...all].filter((x) => fs.statSync(path.join(folder, x)).isDirectory()))
      fs.utimesSync(path.join(folder, f), old / 1000, old / 1000);
    let now = Date.now();
    const watch = new StudyWatch(await scanStudy(folder), now, now);
    const look = (): unknown => {
      const { changed, moved } = watch.look((now += 1000));
      return [changed, moved];
    };
    expect(look()).toEqual([[], false]);
    const before = watch.asked;
    expect(look()).toEqual([[], false]);
    // Of each run two folders at most, the four files written last and one of the others.
    expect(watch.asked - before).toBeLessThanOrEqual(40 * 7 + 4);
    put("runs/007/f5.csv", "2,3\n", true);
    expect(look()).toEqual([["007"], false]);
    put("runs/007/f0.csv", "2,3\n", true);
    expect(look()).toEqual([["007"], false]);
    // A file that has not been written for long is found in its turn; so is a change of the definition.
    put("runs/020/f0.csv", "2,3\n", true);
    const found = [look(), look(), look()] as [string[], boolean][];
    expect(found.flatMap(([changed]) => changed)).toContain("020");
    put("oxtrum.study.json", JSON.stringify({ runs: { pattern: "runs/{n}" }, title: "another" }));
    expect((look() as [unknown, boolean])[1]).toBe(true);
    put("runs/041/f0.csv", "time,T\n0,1\n");
    expect((look() as [unknown, boolean])[1]).toBe(true);
    fs.rmSync(path.join(folder, "runs/003/f5.csv"));
    expect(look()).toEqual([["003"], true]);
  });
});

describe("the slope of a series", () => {
  it("is that of the line through its last tenth, missing values apart", () => {
    const x = Array.from({ length: 100 }, (_, i) => i);
    expect(
      slopeOf(
        x,
        x.map((v) => (v < 90 ? 0 : 3 * v)),
      ),
    ).toBeCloseTo(3, 12);
    expect(
      slopeOf(
        x,
        x.map((v) => (v % 2 ? Number.NaN : 1e9 - 0.5 * v)),
      ),
    ).toBeCloseTo(-0.5, 9);
    expect(slopeOf([1, 1, 1], [1, 2, 3])).toBeNaN();
  });
});
