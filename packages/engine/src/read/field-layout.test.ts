import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { describeFields } from "../study/field-catalogue.js";
import { declaredTimes, definitionSchema } from "../definition/definition.js";
import { fieldLayout } from "./field-layout.js";

let folder: string;
beforeEach(() => void (folder = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-layout-"))));
afterEach(() => fs.rmSync(folder, { recursive: true, force: true }));

const locate = (f: string): string => path.join(folder, f);
const put = (name: string, text: string): void => {
  fs.mkdirSync(path.dirname(locate(name)), { recursive: true });
  fs.writeFileSync(locate(name), text);
};
/** One triangle, of a time where one is said. */
const grid = (time?: number, more = ""): string =>
  `<VTKFile type="UnstructuredGrid" ` +
  `version="0.1"><UnstructuredGrid>${time === undefined ? "" : `<FieldData><DataArray type="Float64" Name="TimeValue" NumberOfTuples="1" format="ascii">${time}</DataArray></FieldData>`}<Piece ` +
  `NumberOfPoints="3" NumberOfCells="1"><Points><DataArray type="Float64" NumberOfComponents="3" ` +
  `format="ascii">0 0 0 1 0 0 0 1 0</DataArray></Points><Cells><DataArray type="Int32" ` +
  `Name="connectivity" format="ascii">0 1 2</DataArray><DataArray type="Int32" Name="offsets" ` +
  `format="ascii">3</DataArray><DataArray type="UInt8" Name="types" ` +
  `format="ascii">5</DataArray></Cells>${more}</Piece></UnstructuredGrid></VTKFile>`;
const collection = (steps: string): string => `<VTKFile type="Collection"><Collection>${steps}</Collection></VTKFile>`;
const step = (t: number, file: string, part = ""): string => `<DataSet timestep="${t}" ${part} file="${file}"/>`;
const times = (name: string): unknown => fieldLayout(name, locate).steps.map((s) => [s.at, s.parts.map((p) => p.file)]);

describe("times of a field", () => {
  it("a time listed twice without part numbers is a restart: the later file is taken, with a note", () => {
    for (const f of ["a", "b", "c", "d"]) put(`${f}.vtu`, grid());
    put("r.pvd", collection(step(0, "a.vtu") + step(1, "b.vtu") + step(1, "c.vtu") + step(2, "d.vtu")));
    expect(times("r")).toEqual([
      [0, ["a.vtu"]],
      [1, ["c.vtu"]],
      [2, ["d.vtu"]],
    ]);
    expect(fieldLayout("r", locate).notes.join()).toMatch(
      /r\.pvd lists 1 time more than once \(1\): the file listed last/,
    );
    put("p.pvd", collection(step(0, "a.vtu", 'part="0"') + step(0, "b.vtu", 'part="1"')));
    expect(times("p")).toEqual([[0, ["a.vtu", "b.vtu"]]]);
    expect(fieldLayout("p", locate).notes).toEqual([]);
  });
  it("times that the study definition declares go before those in files, by step or by number", () => {
    for (const n of ["000", "001", "007"]) put(`out/f_${n}.vtu`, grid(99));
    const declared = (times: unknown) => {
      const read = definitionSchema.parse({ files: { out: { path: "out/f_*.vtu", times } } });
      const layout = fieldLayout("out/f_*.vtu", locate, declaredTimes(read, "out/f_*.vtu"));
      return [layout.axis, layout.axisUnit, layout.steps.map((s) => s.at)];
    };
    expect(declared({ step: "0.1 s" })).toEqual(["time", "s", [0, 0.1, 0.7]]);
    expect(declared({ step: "2 s", start: "1 min" })).toEqual(["time", "s", [60, 62, 74]]);
    expect(declared({ step: 0.5, start: 2 })).toEqual(["time", undefined, [2, 2.5, 5.5]]);
    expect(declared({ at: { 0: "0 s", 1: "1 min", 7: "30 s", 8: "9 s" } })).toEqual(["time", "s", [0, 30, 60]]);
    expect(() => declared({ at: { 0: "0 s", 1: "1 s" } })).toThrow(/gives no time to number 7 of out\/f_\*\.vtu/);
    expect(() => declared({ at: { 0: "0 s", 1: "60 s", 7: "1 min" } })).toThrow(/same time as out\/f_001\.vtu, 60 s/);
    for (const [wrong, why] of [
      [{ step: 0 }, /step of 0/],
      [{ step: "1 s", start: 3 }, /all times with their unit, or none/],
      [{ at: { x: 1 } }, /numbers of files/],
      [{ every: 1 }, /./],
    ] as const)
      expect(() => declared(wrong)).toThrow(why);
    expect(() => definitionSchema.parse({ files: { a: { path: "a.vtu", times: { step: 1 } } } })).toThrow(
      /numbered files/,
    );
    put("out/f_end.vtu", grid());
    expect(() => declared({ step: "1 s" })).toThrow(/no number in the place of the "\*"/);
  });
  it("times of `.series` files, and those that files hold themselves, are used", () => {
    put("out/s_1.vtu", grid());
    put("out/s_2.vtu", grid());
    put(
      "out/s.vtu.series",
      JSON.stringify({
        "file-series-version": "1.0",
        files: [
          { name: "s_2.vtu", time: 0.5 },
          { name: "s_1.vtu", time: 0.25 },
        ],
      }),
    );
    expect(times("out/s")).toEqual([
      [0.25, ["out/s_1.vtu"]],
      [0.5, ["out/s_2.vtu"]],
    ]);
    put("t/f_10.vtu", grid(0.1));
    put("t/f_20.vtu", grid(0.2));
    expect([fieldLayout("t/f_*.vtu", locate).axis, times("t/f_*.vtu")]).toEqual([
      "time",
      [
        [0.1, ["t/f_10.vtu"]],
        [0.2, ["t/f_20.vtu"]],
      ],
    ]);
    put("t/f_30.vtu", grid());
    expect([fieldLayout("t/f_*.vtu", locate).axis, times("t/f_*.vtu")]).toEqual([
      "step",
      [
        [10, ["t/f_10.vtu"]],
        [20, ["t/f_20.vtu"]],
        [30, ["t/f_30.vtu"]],
      ],
    ]);
    expect(times("t/f_10.vtu")).toEqual([[0.1, ["t/f_10.vtu"]]]);
  });
  it("a list that is not one says so", () => {
    put("s.vtu.series", '{"files": [{"name": "a.vtu"}]}');
    expect(() => fieldLayout("s", locate)).toThrow(/files\.0\.time/);
    put("s.vtu.series", "nothing");
    expect(() => fieldLayout("s", locate)).toThrow(/not JSON/);
  });
});

describe("names of fields", () => {
  it("the whole name is always accepted; a short name that two files have is an error that lists them", () => {
    put("a.vtu", grid());
    put("a.stl", "solid a\nendsolid a\n");
    expect(times("a.vtu")).toEqual([[undefined, ["a.vtu"]]]);
    expect(() => fieldLayout("a", locate)).toThrow(/"a" can be "a\.vtu", "a\.stl"/);
  });
  it("a collection stands for the files that it names", () => {
    put("a.vtu", grid());
    put("a.pvd", collection(step(3, "a.vtu")));
    expect(times("a")).toEqual([[3, ["a.vtu"]]]);
    put("a.pvd", collection(step(3, "b.vtu")));
    expect(() => fieldLayout("a", locate)).toThrow(/"a" can be "a\.pvd", "a\.vtu"/);
  });
  it("what a collection or a parallel file names is not listed as a field of its own", () => {
    put("h_0.vtu", grid());
    put("h_1.vtu", grid());
    put(
      "h.pvtu",
      `<VTKFile type="PUnstructuredGrid"><PUnstructuredGrid><Piece Source="h_0.vtu"/><Piece ` +
        `Source="h_1.vtu"/></PUnstructuredGrid></VTKFile>`,
    );
    put("w.vtp", grid());
    put("w.stl", "solid w\nendsolid w\n");
    const files = fs.readdirSync(folder).map((p) => ({ path: p, size: 1, mtime: 1 }));
    const found = describeFields(
      files as never,
      locate,
      {},
      () => 0,
      () => 0,
    );
    expect(Object.keys(found).sort()).toEqual(["h", "w.stl", "w.vtp"]);
    expect(found["h"]!.file).toBe("h.pvtu");
  });
});
