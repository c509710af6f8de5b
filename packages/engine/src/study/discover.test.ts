import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { scanStudy } from "./catalogue.js";
import type { Catalogue } from "../definition/catalogue-model.js";

let base: string;
beforeEach(() => void (base = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-discover-"))));
afterEach(() => fs.rmSync(base, { recursive: true, force: true }));

const put = (file: string, text = "time [s],T [K]\n0,1\n1,2\n"): void => {
  fs.mkdirSync(path.dirname(path.join(base, "study", file)), { recursive: true });
  fs.writeFileSync(path.join(base, "study", file), text);
};
const scan = (): Promise<Catalogue> => scanStudy(path.join(base, "study"), { keepIn: path.join(base, "kept") });
const define = (runs: object): void => put("oxtrum.study.json", JSON.stringify({ oxtrum: 1, runs }));
const params = (c: Catalogue): unknown => Object.fromEntries(c.runs.map((r) => [r.id, r.params]));
const problems = (c: Catalogue): string[] =>
  [...c.problems, ...c.runs.flatMap((r) => r.problems)].map((p) => `${p.run}: ${p.text}`);

describe("a parameter table", () => {
  it("rows without run, runs without row, two rows for one run, and other values than the folder's are problems", async () => {
    for (const r of ["f50", "f75", "f100"]) put(`${r}/hall.csv`);
    define({ pattern: "f{fan:%}" });
    put("runs.csv", "run,fan [%],door [s]\nf50,50,1\nf75,80,2\nf75,75,3\nf90,90,4\n");
    const c = await scan();
    expect(params(c)).toEqual({ f50: { fan: 50, door: 1 }, f75: { fan: 75, door: 2 }, f100: { fan: 100 } });
    const all = problems(c).join("\n");
    expect(all).toMatch(/: runs\.csv has 1 row without a run: 4 \("f90"\)/);
    expect(all).toMatch(/f100: .*runs\.csv has no row for this run/);
    expect(all).toMatch(/f75: .*runs\.csv has 2 rows for this run \(2, 3\); row 2 is used/);
    expect(all).toMatch(/f75: .*"fan" is 75 % by the run's name or case file and 80 % in runs\.csv/);
  });
  it("is matched by a named column, by a template, by words, and by numbers", async () => {
    for (const r of ["run_001", "run_002"]) put(`sweep/${r}/hall.csv`);
    const table = "nr,label,fan [%]\n1,first,50\n2,second,75\n";
    put("runs.csv", table);
    const wanted = { run_001: expect.objectContaining({ fan: 50 }), run_002: expect.objectContaining({ fan: 75 }) };
    define({ key: "run_{nr:3}" });
    expect(params(await scan())).toEqual(wanted);
    define({ key: "nr" });
    expect(params(await scan())).toEqual(wanted);
    put("runs.csv", "case,fan [%]\nRun 1,50\nRun 2,75\n");
    define({});
    expect(params(await scan())).toEqual(wanted);
  });
  it("that fits no run says what its keys are; a key that is not a column says what there is", async () => {
    for (const r of ["a", "b"]) put(`${r}/hall.csv`);
    put("runs.csv", "case,fan\nx,50\ny,75\n");
    expect(problems(await scan()).join()).toMatch(
      /runs\.csv has no row that fits a run: the keys of case are 1 \("x"\), 2 \("y"\), the runs are a, b/,
    );
    define({ key: "number" });
    expect(problems(await scan()).join()).toMatch(/runs\.csv .*no column "number"; there is "case", "fan"/);
  });
  it("keeps every row, also where a number steps back or the header is repeated", async () => {
    for (const r of ["1", "2", "3"]) put(`${r}/hall.csv`);
    put("runs.csv", "run,fan [%]\n2,50\nrun,fan [%]\n1,75\n3,100");
    expect(params(await scan())).toEqual({ 1: { fan: 75 }, 2: { fan: 50 }, 3: { fan: 100 } });
  });
});

describe("runs are compared", () => {
  it("with ends in other units as with equal ones", async () => {
    put("a/hall.csv", "time [min],T [K]\n0,1\n0.5,1\n1,2\n");
    put("b/hall.csv", "time [s],T [K]\n0,1\n30,1\n60,2\n");
    put("c/hall.csv", "time [ms],T [K]\n0,1\n30000,1\n60000,2\n");
    put("d/hall.csv", "time [s],T [K]\n0,1\n15,1\n30,2\n");
    define({ pattern: "{name:text}" });
    const stops = problems(await scan()).filter((p) => p.includes("stops at"));
    expect(stops).toEqual(["d: hall.csv stops at 30 s"]);
  });
  it("field by field: units that differ, fields and patches that are missing", async () => {
    const grid = (arrays: string): string =>
      "# vtk DataFile Version 3.0\nx\nASCII\nDATASET STRUCTURED_POINTS\nDIMENSIONS 2 2 2\nORIGIN 0 0 " +
      `0\nSPACING 1 1 1\nPOINT_DATA 8\n${arrays}`;
    const scalars = (name: string): string => `SCALARS ${name} float 1\nLOOKUP_TABLE default\n1 2 3 4 5 6 7 8\n`;
    for (const r of ["a", "b", "c"]) put(`${r}/hall.vtk`, grid(scalars("T[K]") + scalars("p[Pa]")));
    put("d/hall.vtk", grid(scalars("T[degC]")));
    define({ pattern: "{name:text}" });
    expect(problems(await scan())).toEqual(["d: hall: T in °C here, K elsewhere", "d: hall: no field p"]);
  });
});

describe("a scan again", () => {
  const vtk = (name: string): string =>
    "# vtk DataFile Version 3.0\nx\nASCII\nDATASET STRUCTURED_POINTS\nDIMENSIONS 2 2 2\nORIGIN 0 0 " +
    `0\nSPACING 1 1 1\nPOINT_DATA 8\nSCALARS ${name} float 1\nLOOKUP_TABLE default\n1 2 3 4 5 6 7 8\n`;
  it("gives what a first one gives, and notices what a collection has lost", async () => {
    for (const r of ["a", "b"]) {
      put(`${r}/one.vtk`, vtk("T"));
      put(`${r}/two.vtk`, vtk("T"));
      put(
        `${r}/all.pvd`,
        '<VTKFile type="Collection"><Collection><DataSet timestep="0" file="one.vtk"/><DataSet ' +
          'timestep="5" file="two.vtk"/></Collection></VTKFile>',
      );
    }
    define({ pattern: "{name:text}" });
    const fresh = await scanStudy(path.join(base, "study"));
    expect(await scan()).toEqual(fresh);
    expect(await scan()).toEqual(fresh);
    expect(Object.keys(fresh.runs[0]!.fields)).toEqual(["all"]);
    expect(fresh.runs[0]!.fields["all"]).toMatchObject({ steps: 2, last: 5 });
    fs.rmSync(path.join(base, "study/b/one.vtk"));
    expect(problems(await scan()).join()).toMatch(/b: .*one\.vtk/);
  });
});

describe("files of parts", () => {
  it.each(["pvti", "pvts", "pvtr", "pvtu", "pvtp"])(
    "%s is a field by its short name, its parts are none",
    async (end) => {
      const kind = { i: "ImageData", s: "StructuredGrid", r: "RectilinearGrid", u: "UnstructuredGrid", p: "PolyData" }[
        end.slice(3)
      ]!;
      const image = (extent: string): string =>
        `<VTKFile type="ImageData"><ImageData WholeExtent="0 4 0 1 0 1"><Piece Extent="${extent}"/></ImageData></VTKFile>`;
      for (const r of ["a", "b"]) {
        put(`${r}/hall_0.vti`, image("0 2 0 1 0 1"));
        put(`${r}/hall_1.vti`, image("2 4 0 1 0 1"));
        put(
          `${r}/hall.${end}`,
          `<VTKFile type="P${kind}"><P${kind}><Piece Source="hall_0.vti"/><Piece Source="hall_1.vti"/></P${kind}></VTKFile>`,
        );
      }
      define({ pattern: "{name:text}" });
      const c = await scan();
      expect(Object.keys(c.runs[0]!.fields)).toEqual(["hall"]);
      expect([c.runs[0]!.fields["hall"]!.file, problems(c)]).toEqual([`hall.${end}`, []]);
    },
  );
});

describe("what a definition says", () => {
  const say = (more: object): void => put("oxtrum.study.json", JSON.stringify({ oxtrum: 1, ...more }));
  it.each([
    [
      "units of no file",
      { units: { "hal.csv": { T: "K" } } },
      /units: no file fits "hal\.csv"\. Did you mean "hall\.csv"/,
    ],
    ["units of no column", { units: { "*.csv": { Temp: "K" } } }, /units: no column of \*\.csv fits "Temp"/],
    [
      "units of no run",
      { runUnits: [{ run: "z*", file: "hall.csv", units: { T: "K" } }] },
      /runUnits: no run fits "z\*"/,
    ],
    ["other names for nothing", { names: { Q: ["heat"] } }, /names: nothing is called "Q" or "heat"/],
    ["a file that no run has", { files: { hall: "hal.csv" } }, /files: no run has hal\.csv, which "hall" stands for/],
    [
      "a rule on a file that no run has",
      { accept: { hot: { table: "hal.csv", value: "max(T)", above: 1 } } },
      /accept: the rule "hot" reads hal\.csv/,
    ],
  ])("%s is a listed problem", async (_, definition, expected) => {
    for (const r of ["a", "b"]) put(`${r}/hall.csv`);
    say(definition);
    expect(problems(await scan()).join("\n")).toMatch(expected);
  });
  it("without a slip is none", async () => {
    for (const r of ["a", "b"]) put(`${r}/hall.csv`);
    say({
      units: { "*.csv": { "T*": "K" }, hall: { T: "K" } },
      runUnits: [{ run: "a", file: "hall.csv", units: { T: "degC" } }],
      names: { warmth: ["T"] },
      files: { hall: "hall", more: { path: "more.csv", optional: true } },
      accept: { hot: { table: "hall", value: "max(T)", above: 1 } },
    });
    expect(problems(await scan()).filter((p) => !p.includes("elsewhere"))).toEqual([]);
  });
  it("is refused where a unit is not known", async () => {
    put("a/hall.csv");
    say({ units: { "hall.csv": { T: "Kelvins" } } });
    await expect(scan()).rejects.toThrow(/units\.hall\.csv\.T: "Kelvins" is not a known unit/);
  });
  it("of one field's file holds for that field", async () => {
    const vtk =
      "# vtk DataFile Version 3.0\nx\nASCII\nDATASET STRUCTURED_POINTS\nDIMENSIONS 2 2 2\nORIGIN 0 0 " +
      "0\nSPACING 1 1 1\nPOINT_DATA 8\nSCALARS T float 1\nLOOKUP_TABLE default\n1 2 3 4 5 6 7 8\n";
    for (const r of ["a", "b"]) for (const f of ["hall", "duct"]) put(`${r}/${f}/grid.vtk`, vtk);
    say({ units: { fields: { T: "K" }, "duct/grid": { T: "degC" } } });
    const c = await scan();
    const unit = (name: string): unknown => c.fieldShapes[c.runs[0]!.fields[name]!.shape!]!.fields[0]!.unit;
    expect([unit("hall/grid"), unit("duct/grid"), problems(c)]).toEqual(["K", "degC", []]);
  });
});

describe("runs are found, or it is said what is not covered", () => {
  const ids = async (): Promise<string[]> => (await scan()).runs.map((r) => r.id);
  it("a single run folder, whatever is in it", async () => {
    put("case.json", '{"fan": 50}');
    put("monitors/hall.csv");
    put("profiles/hall.csv");
    expect(await ids()).toEqual(["study"]);
    expect(params(await scan())).toEqual({ study: { fan: 50 } });
  });
  it("nested sweeps of uneven depth with case files", async () => {
    for (const r of ["a/f50", "a/f75", "b/deep/f50", "c"]) {
      put(`${r}/case.json`, "{}");
      put(`${r}/monitors/hall.csv`);
    }
    expect(await ids()).toEqual(["a/f50", "b/deep/f50", "c", "f75"]);
  });
  it("other folders with the same files are named, with a pattern that finds them", async () => {
    for (const r of ["a/f1", "a/f2", "a/f3", "b/f4", "b/f5"]) put(`${r}/hall.csv`);
    const c = await scan();
    expect(c.runs.map((r) => r.id)).toEqual(["f1", "f2", "f3"]);
    expect(problems(c).join()).toMatch(
      /b\/f4 holds the same files as the runs but is not taken for one \(as do b\/f5\); "runs": \{ "pattern": "\*\/\{name:text\}" \} finds them too/,
    );
    define({ pattern: "*/{name:text}" });
    expect(await ids()).toEqual(["f1", "f2", "f3", "f4", "f5"]);
  });
  it("one file per run in a flat folder", async () => {
    for (const f of ["hall_050.csv", "hall_075.csv", "hall_100.csv"]) put(f);
    const c = await scan();
    expect(problems(c).join()).toMatch(/holds 3 files such as hall_050\.csv.*one file per run; it is taken as one run/);
  });
  it("a pattern with a slash inside braces", async () => {
    put("rho1.2_x/hall.csv");
    put("rho0.9_x/hall.csv");
    define({ pattern: "rho{rho:kg/m^3}_x" });
    const c = await scan();
    expect([params(c), c.parameters[0]!.unit]).toEqual([
      { "rho0.9_x": { rho: 0.9 }, "rho1.2_x": { rho: 1.2 } },
      "kg/m^3",
    ]);
  });
});
