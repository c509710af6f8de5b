import { execFileSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { threadSeconds } from "@oxtrum/core/testing/thread-seconds";
import { countRoom } from "@oxtrum/core/formats";
import { Budget } from "../read/budget.js";
import { FileReader } from "../read/read-files.js";
import { smallStudy, type SmallStudy } from "../testing/small-study.js";
import { scanStudy } from "./catalogue.js";
import type { Catalogue } from "../definition/catalogue-model.js";

let s: SmallStudy;
beforeEach(() => void (s = smallStudy()));
afterEach(() => s.remove());
const at = (...p: string[]): string => path.join(s.folder, ...p);
const write = (file: string, text: string): void => {
  fs.mkdirSync(path.dirname(at(file)), { recursive: true });
  fs.writeFileSync(at(file), text);
};
const problems = (c: Catalogue): string[] =>
  [...c.problems, ...c.runs.flatMap((r) => r.problems)].map((p) => `${p.run}: ${p.text}`);

describe("a folder of any kind is listed as far as it can be, and the rest is said", () => {
  it("pipes, in place of parameter files, tables and definitions, do not hold anything up", async () => {
    for (const f of ["runs/f050_d1/case.json", "runs/f050_d2/hall.csv"]) {
      fs.rmSync(at(f));
      execFileSync("mkfifo", [at(f)]);
    }
    execFileSync("mkfifo", [at("notes")]);
    const c = await scanStudy(s.folder);
    expect(c.runs).toHaveLength(6);
    expect(problems(c)).toEqual(
      expect.arrayContaining([
        ": notes is a pipe, not a plain file",
        "f050_d1: case.json: this is not a plain file",
        "f050_d2: hall.csv is a pipe, not a plain file",
        "f050_d2: no hall.csv",
      ]),
    );
    execFileSync("mkfifo", [at("oxtrum.study.json")]);
    await expect(scanStudy(s.folder)).rejects.toThrow(/not a plain file/);
  });
  it("names that are not UTF-8", async () => {
    fs.writeFileSync(
      Buffer.concat([Buffer.from(at("runs/f050_d1/")), Buffer.from([0x61, 0xff, 0x2e, 0x63, 0x73, 0x76])]),
      "t,a\n0,1\n",
    );
    const c = await scanStudy(s.folder);
    expect(problems(c)).toEqual([
      "f050_d1: a\uFFFD.csv has a name that is not UTF-8 text and cannot be opened by it; rename it",
    ]);
  });
  it("links: inside the study followed, out of it only where the definition allows, in circles not", async () => {
    fs.mkdirSync(path.join(s.folder, "../shared"));
    fs.writeFileSync(path.join(s.folder, "../shared/out.csv"), "t,a\n0,1\n1,2\n");
    fs.symlinkSync("../f050_d2/hall.csv", at("runs/f050_d1/alias.csv"));
    fs.symlinkSync(path.join(s.folder, "../shared/out.csv"), at("runs/f050_d1/out.csv"));
    fs.symlinkSync("nowhere", at("runs/f050_d1/gone.csv"));
    fs.symlinkSync("..", at("runs/f050_d1/up"));
    fs.symlinkSync("f050_d3", at("runs/latest"));
    fs.symlinkSync("/", at("runs/f999_disk"));
    const c = await scanStudy(s.folder);
    expect(c.runs.map((r) => r.id)).toHaveLength(6);
    expect(Object.keys(c.runs[0]!.files)).toContain("alias.csv");
    expect(problems(c).join("\n")).toMatch(/f050_d1: gone\.csv is a link that leads nowhere/);
    expect(problems(c).join("\n")).toMatch(/f050_d1: out\.csv is a link that leads out of the study.*"links"/);
    expect(problems(c).join("\n")).toMatch(/f050_d1: up is a link to a folder that it lies in/);
    expect(problems(c).join("\n")).toMatch(/latest is a link to the run f050_d3; it does not count a second time/);
    expect(problems(c).join("\n")).toMatch(/f999_disk is a link that leads out of the study/);
    write("oxtrum.study.json", JSON.stringify({ links: ["../shared"] }));
    const allowed = await scanStudy(s.folder);
    expect(Object.keys(allowed.runs[0]!.files)).toContain("out.csv");
  });
  it("a definition from elsewhere, as of an archive, does not say which folders outside may be read", async () => {
    fs.writeFileSync(path.join(s.folder, "../d.json"), JSON.stringify({ links: ["/"] }));
    expect((await scanStudy(s.folder, { definitionFile: path.join(s.folder, "../d.json") })).definition.links).toEqual(
      [],
    );
  });
  it.each([
    ["a parameter table outside", { runs: { table: "../secret.csv" } }, /runs\.table: .*leads out/],
    ["a parameter table by its full path", { runs: { table: "/etc/passwd" } }, /runs\.table: .*leads out/],
  ])("%s is refused", async (_, definition, message) => {
    fs.writeFileSync(path.join(s.folder, "../secret.csv"), "run,key\nf050_d1,7\n");
    write("oxtrum.study.json", JSON.stringify(definition));
    await expect(scanStudy(s.folder)).rejects.toThrow(message);
  });
  it("parameter files outside, by name or through a link, are a problem of their run", async () => {
    fs.writeFileSync(path.join(s.folder, "../secret.json"), '{"key": 7}');
    write("oxtrum.study.json", JSON.stringify({ runs: { case: "../../../secret.json", pattern: "runs/*" } }));
    const byName = await scanStudy(s.folder);
    expect(byName.parameters.map((p) => p.name)).not.toContain("key");
    expect(problems(byName).join()).toMatch(/secret\.json: .*leads out of the folder/);
    fs.rmSync(at("oxtrum.study.json"));
    fs.rmSync(at("runs/f050_d1/case.json"));
    fs.symlinkSync(path.join(s.folder, "../secret.json"), at("runs/f050_d1/case.json"));
    const byLink = await scanStudy(s.folder);
    expect(byLink.parameters.map((p) => p.name)).not.toContain("key");
    expect(problems(byLink).join()).toMatch(/f050_d1: case\.json: .*leads out of the folder through a link/);
  });
  it("a table of parameters that is none: the runs are there, and it is said", async () => {
    write("runs.csv", "\0\0\0");
    const c = await scanStudy(s.folder);
    expect(c.runs).toHaveLength(6);
    expect(problems(c).join()).toMatch(/runs\.csv cannot be read: .*not a text/);
  });
  it("folders deeper than any sensible ones, and more files than are listed, are said; a file not listed can still be read", async () => {
    const deep = Array.from({ length: 40 }, (_, k) => `d${k}`).join("/");
    write(`runs/f050_d1/${deep}/x.csv`, "t,a\n0,1\n1,2\n");
    write("runs/f050_d1/a/b/c/d/e/f/g/h/x.csv", "t,a\n0,1\n1,2\n");
    const c = await scanStudy(s.folder);
    expect(Object.keys(c.runs[0]!.files)).toContain("a/b/c/d/e/f/g/h/x.csv");
    expect(problems(c).join()).toMatch(/f050_d1: .*lies deeper than 32 folders; it is not listed/);
    expect(c.runs[0]!.partial).toBe(true);
  });
  it("names that JavaScript gives a meaning of its own are names", async () => {
    for (const run of ["__proto__", "constructor", "toString"]) {
      write(`runs/${run}/case.json`, '{"__proto__": 5, "constructor": {"value": 2, "unit": "m"}, "hasOwnProperty": 3}');
      write(`runs/${run}/hall.csv`, "time [s],T [K],__proto__,constructor\n0,1,2,3\n1,2,3,4\n");
      write(`runs/${run}/__proto__.csv`, "time,x\n0,1\n1,2\n");
    }
    const c = await scanStudy(s.folder);
    const run = c.runs.find((r) => r.id === "__proto__")!;
    expect(Object.entries(run.params)).toEqual(
      expect.arrayContaining([
        ["__proto__", 5],
        ["constructor", 2],
        ["hasOwnProperty", 3],
      ]),
    );
    expect(c.runs.find((r) => r.id === "f050_d1")!.problems.map((p) => p.text)).toContain('no parameter "constructor"');
    expect(Object.keys(run.files)).toContain("__proto__.csv");
  });
  it("patterns that would take for ever take no time", async () => {
    const evil = "*a".repeat(40) + "b";
    write(
      "oxtrum.study.json",
      JSON.stringify({
        runs: { pattern: "runs/{a}{b}{c}{d}{e}{f}{g}{h}x", exclude: [evil] },
        units: { [evil]: { [evil]: "K" } },
      }),
    );
    fs.mkdirSync(at("runs", "a".repeat(200)));
    write(`runs/f050_d1/${"a".repeat(200)}.csv`, "t,a\n0,1\n1,2\n");
    const start = threadSeconds();
    await scanStudy(s.folder);
    expect(threadSeconds() - start).toBeLessThan(5);
  });
});

describe("files are read only in the study, and only plain ones", () => {
  const read = (file: string): unknown => {
    const study = {
      name: "small",
      folder: s.folder,
      definition: { files: {}, names: {}, units: {}, runUnits: [], links: [] } as never,
      runs: [{ id: "f050_d1", folder: "runs/f050_d1" }],
    };
    return new FileReader(new Map([["small", study]]), new Map(), Budget.create(1e9))
      .plan("run.table", { study: "small", run: 0, file })
      .read();
  };
  it.each(["../../../secret.csv", "/etc/passwd", "link.csv", "pipe.csv", "folder.csv", "loop.csv"])("%s", (file) => {
    fs.writeFileSync(path.join(s.folder, "../secret.csv"), "t,a\n0,1\n1,2\n");
    fs.symlinkSync(path.join(s.folder, "../secret.csv"), at("runs/f050_d1/link.csv"));
    execFileSync("mkfifo", [at("runs/f050_d1/pipe.csv")]);
    fs.mkdirSync(at("runs/f050_d1/folder.csv"));
    fs.symlinkSync("loop.csv", at("runs/f050_d1/loop.csv"));
    expect(() => read(file)).toThrow(/leads out|not a plain file|in a circle/);
  });
});

describe("meshes that ask for more than there is", () => {
  const mesh = (file: string, text: string): void => write(`runs/f050_d1/${file}`, text);
  const sample = (file: string, memory = 256e6): unknown => {
    const study = {
      name: "small",
      folder: s.folder,
      definition: { files: {}, names: {}, units: {}, runUnits: [], links: [] } as never,
      runs: [{ id: "f050_d1", folder: "runs/f050_d1" }],
    };
    const budget = Budget.create(memory);
    countRoom((bytes) => budget.take(bytes));
    try {
      return new FileReader(new Map([["small", study]]), new Map(), budget)
        .plan("field.sample", { study: "small", run: 0, file, site: { kind: "all" }, fields: ["T"] })
        .read();
    } finally {
      countRoom(undefined);
    }
  };
  const image = (n: number): string =>
    `<VTKFile type="ImageData" version="1.0" byte_order="LittleEndian"><ImageData WholeExtent="0 ` +
    `${n} 0 ${n} 0 ${n}" Origin="0 0 0" Spacing="1 1 1"><Piece Extent="0 ${n} 0 ${n} 0 ` +
    `${n}"><PointData><DataArray type="UInt8" Name="T" ` +
    `format="ascii">1</DataArray></PointData></Piece></ImageData></VTKFile>`;
  it("a few bytes that claim a thousand million points", () => {
    mesh("a.vti", image(1000));
    expect(() => sample("a.vti")).toThrow(/claims 1003003001 points, more than its \d+ bytes can hold values for/);
  });
  it("a mesh larger than the job's memory: the budget says so, before it is there", () => {
    mesh("b.vti", image(90));
    expect(() => sample("b.vti", 10e6)).toThrow(/MB more are needed, but the job's 10 MB are in use/);
  });
  it("files that name each other in thousands, and without end", () => {
    const list = (file: string, n: number): string =>
      "<VTKFile " +
      `type="vtkMultiBlockDataSet"><vtkMultiBlockDataSet>${Array.from({ length: n }, (_, k) => `<DataSet index="${k}" name="b${k}" file="${file}"/>`).join("")}</vtkMultiBlockDataSet></VTKFile>`;
    mesh("a.vtm", list("b.vtm", 1000));
    mesh("b.vtm", list("c.vtm", 1000));
    mesh("c.vtm", list("c.vtm", 2));
    const start = threadSeconds();
    expect(() => sample("a.vtm")).toThrow(/name each other without end|more than 20000 files are named/);
    mesh("c.vtm", list("d.vtm", 1000));
    mesh("d.vtm", list("e.vtm", 0));
    expect(() => sample("a.vtm")).toThrow(/more than 20000 files are named/);
    expect(threadSeconds() - start).toBeLessThan(20);
  });
});
