import { describe, expect, it } from "@jest/globals";
import { siteArg } from "../field-arguments.js";
import { siteWords } from "./index.js";
import { tableVerbs } from "../table/index.js";

const meant = (site: object): unknown => {
  const read = siteArg.safeParse(site);
  return read.success ? read.data : read.error.issues[0]!.message;
};

describe("words for sites", () => {
  it("mean the sites of core, with what a script leaves out", () => {
    expect(meant({ at: "line", from: [0, 0, 0], to: [0, 3, 4], step: 0.5 })).toEqual({
      kind: "line",
      from: [0, 0, 0],
      to: [0, 3, 4],
      count: 11,
    });
    expect(meant({ at: "plane", y: 2, bounds: { z: [0, 1] }, block: "hall" })).toEqual({
      kind: "plane",
      point: [0, 2, 0],
      normal: [0, 1, 0],
      bounds: { z: [0, 1] },
      block: "hall",
    });
    expect(meant({ at: "column", place: [1, 2] })).toEqual({ kind: "column", place: [1, 2], along: "z", count: 200 });
    const across = { from: [0, 0, 0], to: [0, 1, 0] };
    expect(meant({ at: "stations", along: "x", from: 1, to: 2, line: across })).toEqual({
      kind: "stations",
      along: "x",
      from: 1,
      to: 2,
      count: 100,
      line: { ...across, count: 100 },
    });
    expect(meant({ at: "points", places: { study: "s", file: "p.csv" } })).toEqual({
      kind: "points of a table",
      table: { study: "s", file: "p.csv", columns: { x: "x", y: "y", z: "z" } },
    });
  });
  it("say what does not fit, and where", () => {
    expect(meant({ at: "line", from: [0, 0], to: [0, 1, 0] })).toBe(
      "at.line, from: three numbers are needed, as in [12, 4, 0.1]",
    );
    expect(meant({ at: "points", places: [] })).toMatch(/^at\.points, places: a list of places is needed/);
    expect(meant({ at: "points", places: [[1, 2, Number.NaN]] })).toMatch(/^at\.points, places\.0/);
    expect(meant({ at: "line", from: [0, 0, 0], to: [0, 1, 0], count: 4, step: 1 })).toBe(
      "at.line: give count or step, not both",
    );
    expect(meant({ at: "line", from: [0, 0, 0], to: [0, 1, 0], step: 0 })).toMatch(/more than 0/);
    expect(meant({ at: "plane", normal: [0, 0, 1] })).toMatch(/^at\.plane: say where it lies/);
    expect(meant({ at: "column", place: [1] })).toMatch(/^at\.column, place: two numbers are needed/);
    expect(meant({ at: "line", from: [0, 0, 0], to: [0, 1, 0], steps: 3 })).toMatch(/^at\.line: .*steps/);
    expect(meant({ at: "circle" })).toBe("there is no site at.circle");
    expect(meant({ kind: "circle" })).toMatch(/^site, kind/);
    expect(meant({ at: "grid", origin: [0, 0, 0], step: [1, 1, 1], count: [0, 1, 1] })).toMatch(
      /^site, count|at\.grid/,
    );
  });
});

describe("what the library declares", () => {
  it("is one line each, without what would end a comment", () => {
    const all = [...siteWords, ...tableVerbs.map((v) => v.definition)];
    for (const d of all)
      for (const text of [d.doc, ...d.examples])
        expect([d.name, text]).toEqual([d.name, expect.not.stringMatching(/\*\/|\n/)]);
    expect(new Set(siteWords.map((w) => w.name)).size).toBe(siteWords.length);
  });
});
