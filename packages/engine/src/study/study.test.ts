import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { StudyTree } from "../definition/folders.js";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { discoverRuns, inside, readDefinition, scanStudy } from "../index.js";
import { smallStudy, type SmallStudy } from "../testing/small-study.js";

let s: SmallStudy;
beforeEach(() => void (s = smallStudy()));
afterEach(() => s.remove());
const write = (file: string, text: string): void => {
  fs.mkdirSync(path.dirname(path.join(s.folder, file)), { recursive: true });
  fs.writeFileSync(path.join(s.folder, file), text);
};

describe("finding runs", () => {
  it("by a case file in each folder, parameters typed with units", async () => {
    const c = await scanStudy(s.folder);
    expect(c.runs.map((r) => r.id)).toEqual(["f050_d1", "f050_d2", "f050_d3", "f100_d1", "f100_d2", "f100_d3"]);
    expect(c.parameters).toEqual([
      { name: "fan", unit: "%", type: "number" },
      { name: "door", unit: "s", type: "number" },
      { name: "kind", unit: null, type: "text" },
    ]);
    expect(c.runs[3]!.params).toEqual({ fan: 100, door: 1, kind: "narrow" });
    expect(c.shapes[c.runs[0]!.files["hall.csv"]!.shape!]!.columns.map((x) => x.unit)).toEqual(["s", "K", "Pa"]);
  });
  it("by a pattern", () => {
    const d = {
      ...readDefinition(s.folder).definition,
      runs: { pattern: "runs/f{fan:%}_d{door:s}", case: "none.json" },
    };
    const found = discoverRuns(new StudyTree(s.folder, []), d);
    expect(found.runs[3]).toMatchObject({ id: "f100_d1", params: { fan: 100, door: 1 } });
    expect(found.parameters[0]).toEqual({ name: "fan", unit: "%", type: "number" });
  });
  it("by a table of runs, and by alike folders", () => {
    for (const f of fs.readdirSync(path.join(s.folder, "runs"))) fs.rmSync(path.join(s.folder, "runs", f, "case.json"));
    expect(discoverRuns(new StudyTree(s.folder, []), readDefinition(s.folder).definition).runs).toHaveLength(6);
    write("runs.csv", "run,speed [m/s]\nf050_d1,1.5\nf050_d2,2\n");
    const found = discoverRuns(new StudyTree(s.folder, []), readDefinition(s.folder).definition);
    expect(found.runs.map((r) => r.params)).toEqual([{ speed: 1.5 }, { speed: 2 }]);
  });
  it("finds none in an empty folder, and says so", () => {
    const empty = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-empty-"));
    expect(discoverRuns(new StudyTree(empty, []), readDefinition(empty).definition)).toMatchObject({
      runs: [],
      how: "no folders with results",
    });
    fs.rmSync(empty, { recursive: true });
  });
});

describe("problems", () => {
  it("are listed run by run", async () => {
    write("runs/f050_d1/hall.csv", "time [s],T [degC],p [Pa]\n0,1,2\n100,2,3\n");
    write("runs/f050_d2/hall.csv", "time [s],T [K],p [Pa]\n0,1,2\n50,2,3\n");
    write("runs/f050_d3/hall.csv", "time [s],T [K]\n0,1\n100,2\n");
    write("runs/f100_d1/hall.csv", "time [s],T [K],p [Pa]\n0,1,2\n100,2");
    fs.rmSync(path.join(s.folder, "runs/f100_d2/hall.csv"));
    const c = await scanStudy(s.folder);
    expect(c.runs.map((r) => r.problems.map((p) => p.text).join("; "))).toEqual([
      "T in °C here, K elsewhere",
      "hall.csv stops at 50 s",
      'hall.csv lacks "p"',
      "hall.csv is cut off in its last line",
      "no hall.csv",
      "",
    ]);
  });
  it("a definition that cannot be used says what is wrong where", () => {
    write("oxtrum.study.json", '{ "files": { "a": 5 } }');
    expect(() => readDefinition(s.folder)).toThrow(/oxtrum\.study\.json: files\.a/);
    write("oxtrum.study.json", "{");
    expect(() => readDefinition(s.folder)).toThrow(/not JSON/);
  });
});

describe("scanning again", () => {
  it("opens only what has changed", async () => {
    const first = await scanStudy(s.folder, { keepIn: s.data });
    // A file made unreadable but with the same stamp is not opened: its shape is known.
    const file = path.join(s.folder, "runs/f050_d1/hall.csv");
    const stamp = fs.statSync(file);
    fs.writeFileSync(file, "x".repeat(stamp.size));
    fs.utimesSync(file, stamp.atime, stamp.mtime);
    const second = await scanStudy(s.folder, { keepIn: s.data });
    expect(
      second.runs[0]!.files["hall.csv"]!.mtime === first.runs[0]!.files["hall.csv"]!.mtime
        ? second.runs[0]!.problems
        : [],
    ).toEqual([]);
    fs.utimesSync(file, new Date(), new Date());
    expect((await scanStudy(s.folder, { keepIn: s.data })).runs[0]!.problems[0]!.kind).toBe("unreadable");
  });
});

describe("a study's folder is not left", () => {
  it("by dots or by links", () => {
    expect(() => inside(s.folder, "../x")).toThrow(/leads out/);
    fs.symlinkSync("/etc", path.join(s.folder, "link"));
    expect(() => inside(s.folder, "link/hosts")).toThrow(/through a link/);
  });
});
