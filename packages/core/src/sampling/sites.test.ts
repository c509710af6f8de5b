import { describe, expect, it } from "@jest/globals";
import { boxMesh } from "../mesh/tests/box-mesh.js";
import { numbers, type Table } from "../tables/table.js";
import { withDerivatives } from "./derivatives.js";
import { OverTime } from "./over-time.js";
import { reduceSite } from "./reduce.js";
import { sampleSite } from "./sample.js";
import { placesOf } from "./sites/index.js";
import { fieldOf } from "./tests/field-of.js";

const T = (x: number, y: number, z: number): number => 280 + 2 * x - 5 * y + 7 * z;
const U = (x: number, y: number, z: number): number[] => [1 + x, 2 - 3 * y, z];
const column = (t: Table, name: string): number[] => Array.from(numbers(t, name).values);
const row = (t: Table): Record<string, number> =>
  Object.fromEntries(t.columns.map((c) => [c.name, c.values[0] as number]));
const f = fieldOf(boxMesh("hexahedron", 4, 0.1), { "T [K]": T, U });

describe("sites", () => {
  it("a spline passes through its places and is even in its length", () => {
    const through = Array.from(
      { length: 9 },
      (_, k) => [Math.cos((k * Math.PI) / 8), Math.sin((k * Math.PI) / 8), 0] as const,
    );
    const p = placesOf({ kind: "path", through, count: 101, spline: true })!;
    expect(p.distance![100]).toBeCloseTo(Math.PI, 2);
    for (let i = 20; i < 81; i++) expect(Math.hypot(p.xyz[3 * i]!, p.xyz[3 * i + 1]!)).toBeCloseTo(1, 2);
    for (let d = 0; d < 3; d++) expect(p.xyz[3 * 50 + d]).toBeCloseTo(through[4]![d]!, 3);
  });
  it("vectors along the line and normal to the plane", () => {
    const line = sampleSite(f, { kind: "line", from: [0.2, 0.2, 0.2], to: [1.4, 0.6, 0.2], count: 4 }, ["U.along"]);
    const [c, s] = [1.2, 0.4].map((v) => v / Math.hypot(1.2, 0.4)) as [number, number];
    column(line, "U.along").forEach((v, i) => {
      const [x, y] = [0.2 + (1.2 * i) / 3, 0.2 + (0.4 * i) / 3];
      expect(v).toBeCloseTo(c * (1 + x) + s * (2 - 3 * y), 11);
    });
    const plane = { kind: "plane", point: [0, 0.25, 0], normal: [0, 2, 0] } as const;
    expect(row(reduceSite(f, plane, { v: { mean: "U.normal" } }))["v"]).toBeCloseTo(2 - 0.75, 11);
    expect(() => sampleSite(f, { kind: "points", places: [[1, 0.5, 0.5]] }, ["U.along"])).toThrow(/needs a direction/);
  });
  it("a bounded plane has the bounds' area and exact means", () => {
    const plane = {
      kind: "plane",
      point: [1.1, 0, 0],
      normal: [1, 0, 0],
      bounds: { y: [0.15, 0.6], z: [0.2, 0.9] },
    } as const;
    const r = row(reduceSite(f, plane, { A: { size: true }, T: { mean: "T" }, q: { flux: "U" }, c: { centre: true } }));
    expect(r["A"]).toBeCloseTo(0.45 * 0.7, 12);
    expect(r["T"]).toBeCloseTo(T(1.1, 0.375, 0.55), 10);
    expect(r["q"]).toBeCloseTo(2.1 * 0.45 * 0.7, 11);
    expect([r["c.x"], r["c.y"], r["c.z"]].map((v) => Number(v!.toFixed(10)))).toEqual([1.1, 0.375, 0.55]);
    expect(sampleSite(f, plane, ["T"]).columns.find((c) => c.name === "y")!.values.length).toBeGreaterThan(4);
  });
  it("a plane across a surface: flow per depth, across the line and within the surface", () => {
    // A sheet that rises at 45°: the flow along it crosses the line whole, whatever the plane's own normal.
    const mesh = boxMesh("quad", 4);
    const tilted = { ...mesh, points: mesh.points.map((v, i) => (i % 3 === 2 ? mesh.points[i - 2]! : v)) };
    const g = fieldOf(tilted, { "U [m/s]": () => [1, 0, 1] });
    const r = reduceSite(
      g,
      { kind: "plane", point: [0.9, 0, 0], normal: [1, 0, 0] },
      { q: { flux: "U" }, L: { size: true } },
    );
    expect(row(r)["q"]).toBeCloseTo(Math.SQRT2, 12);
    expect(row(r)["L"]).toBeCloseTo(1, 12);
    expect(numbers(r, "q").unit).toBe("m^2/s");
  });
  it("planes at both ends of the mesh are there", () => {
    for (const x of [0, 2])
      expect(
        row(reduceSite(f, { kind: "plane", point: [x, 0, 0], normal: [1, 0, 0] }, { A: { size: true } }))["A"],
      ).toBeCloseTo(1, 12);
  });
  it("a column runs from the bottom to the top of the mesh", () => {
    const t = sampleSite(f, { kind: "column", place: [0.7, 0.4], along: "z", count: 6 }, ["T"]);
    expect(column(t, "z")).toEqual([0, 0.2, 0.4, 0.6, 0.8, 1].map((v) => expect.closeTo(v, 12)));
    expect(column(t, "T")[3]).toBeCloseTo(T(0.7, 0.4, 0.6), 11);
  });
  it("points and cells by number; the other kind of field is carried over and said", () => {
    const mesh = boxMesh("hexahedron", 2);
    const points = fieldOf(mesh, { T });
    const t = sampleSite(points, { kind: "nodes", ids: [5, 0] }, ["T"]);
    expect(column(t, "T")).toEqual(
      [5, 0].map((v) =>
        expect.closeTo(T(...(Array.from(mesh.points.subarray(3 * v, 3 * v + 3)) as [number, number, number])), 12),
      ),
    );
    const c = sampleSite(points, { kind: "cells", ids: [7] }, ["T"]);
    expect(column(c, "T")[0]).toBeCloseTo(T(1.5, 0.75, 0.75), 11);
    expect(c.notes[0]).toMatch(/mean over the cell's points/);
    expect(() => sampleSite(points, { kind: "cells", ids: [8] }, ["T"])).toThrow(/numbered from 0 to 7/);
  });
  it("a surface of equal value", () => {
    const r = row(
      reduceSite(
        f,
        { kind: "iso", field: "T", value: 283 },
        { T: { mean: "T" }, lo: { min: "T" }, hi: { max: "T" }, A: { size: true } },
      ),
    );
    expect(r["T"]).toBeCloseTo(283, 10);
    expect(r["hi"]! - r["lo"]!).toBeLessThan(1e-9);
    expect(r["A"]).toBeGreaterThan(0.5);
  });
  it("stations along a path look along it; lines repeated along an axis", () => {
    const path = {
      kind: "stations",
      along: {
        through: [
          [0.1, 0.5, 0.5],
          [1.9, 0.5, 0.5],
        ],
      },
      from: 0.2,
      to: 1.6,
      count: 3,
    } as const;
    const t = reduceSite(f, path, { T: { mean: "T" }, A: { size: true } });
    expect(column(t, "distance").map((v) => Number(v.toFixed(12)))).toEqual([0.2, 0.9, 1.6]);
    column(t, "T").forEach((v, k) => expect(v).toBeCloseTo(T(0.3 + 0.7 * k, 0.5, 0.5), 10));
    const lines = {
      kind: "stations",
      along: "x",
      from: 0.5,
      to: 1.5,
      count: 2,
      line: { from: [0, 0.5, 0], to: [0, 0.5, 1], count: 5 },
    } as const;
    const m = reduceSite(f, lines, { T: { mean: "T" } });
    expect(column(m, "T")).toEqual([0.5, 1.5].map((x) => expect.closeTo(T(x, 0.5, 0.5), 10)));
    expect(column(sampleSite(f, lines, ["T"]), "station")).toEqual([
      ...Array<number>(5).fill(0.5),
      ...Array<number>(5).fill(1.5),
    ]);
  });
  it("rows over another axis", () => {
    const line = { kind: "line", from: [1.8, 0.5, 0.5], to: [0.2, 0.5, 0.9], count: 5 } as const;
    const byX = sampleSite(f, line, ["T"], { axis: "x" });
    expect(byX.axis).toBe("x");
    expect(column(byX, "x")[0]).toBeCloseTo(0.2, 12);
    const from = sampleSite(f, line, ["T"], { axis: { from: [1, 0.5, 0.7] } });
    expect(column(from, "distance")[0]).toBeCloseTo(0, 12);
    const along = sampleSite(f, line, ["T"], { axis: { direction: [0, 0, 2], from: [0, 0, 0.5] } });
    expect(column(along, "distance")[4]).toBeCloseTo(0.4, 12);
  });
});

describe("reductions", () => {
  const all = { kind: "all" } as const;
  it("along a line: weighted by length, blank stretches left out and counted", () => {
    const t = reduceSite(
      f,
      { kind: "line", from: [1, 0.5, -0.5], to: [1, 0.5, 1], count: 31 },
      { T: { mean: "T" }, L: { integral: "T" }, n: { size: true } },
    );
    expect(row(t)["T"]).toBeCloseTo(T(1, 0.5, 0.5), 10);
    expect(row(t)["n"]).toBeCloseTo(1, 12);
    expect(t.notes[0]).toMatch(/10 of 30 stretches/);
    expect(numbers(t, "L").unit).toBe("K m");
  });
  it("extremes with their place, centre of mass, weights by a quantity and by flow", () => {
    const r = row(
      reduceSite(f, all, {
        hot: { max: "T", place: true },
        c: { centre: true },
        m: { centre: "U.x" },
        w: { mean: "U.z", weights: { by: "U.x" } },
      }),
    );
    expect([r["hot"], r["hot.x"], r["hot.y"], r["hot.z"]].map((v) => Number(v!.toFixed(9)))).toEqual([291, 2, 0, 1]);
    expect([r["c.x"], r["c.y"], r["c.z"]].map((v) => Number(v!.toFixed(9)))).toEqual([1, 0.5, 0.5]);
    // ∫x(1+x)/∫(1+x) over [0,2] = (2 + 8/3)/4; the other weight changes nothing in z.
    expect(r["m.x"]).toBeCloseTo((2 + 8 / 3) / 4, 9);
    expect(r["w"]).toBeCloseTo(0.5, 9);
    const plane = { kind: "plane", point: [0, 0, 0.5], normal: [0, 0, 1] } as const;
    const g = fieldOf(boxMesh("tetra", 4), { T: (x) => x, U: (x) => [0, 0, 1 + x], rho: () => 2 });
    const flow = row(reduceSite(g, plane, { T: { mean: "T", weights: { flow: "U", density: "rho" } } }))["T"];
    expect(flow).toBeCloseTo((2 + 8 / 3) / 4, 10);
  });
  it("percentiles, uniformity", () => {
    const g = fieldOf(boxMesh("hexahedron", 20), { x: (x) => x });
    const plane = { kind: "plane", point: [0, 0, 0.31], normal: [0, 0, 1] } as const;
    const r = row(
      reduceSite(g, plane, {
        p50: { percentile: 50, of: "x" },
        p90: { percentile: 90, of: "x" },
        u: { uniformity: "x" },
      }),
    );
    // Within the width of a cell.
    expect(Math.abs(r["p50"]! - 1)).toBeLessThan(0.05);
    expect(Math.abs(r["p90"]! - 1.8)).toBeLessThan(0.05);
    // ∫|x − 1| over [0,2] is 1, the mean 1 and the length 2: 1 − 1/4.
    expect(r["u"]).toBeCloseTo(0.75, 2);
  });
  it("force and moment of a pressure that grows with depth", () => {
    const g = fieldOf(boxMesh("quad", 6), { "p [Pa]": (x) => 5 + 3 * x, tau: () => [0.5, 0, 0] });
    const t = reduceSite(g, all, {
      F: { force: { pressure: "p", reference: 5, shear: undefined } },
      M: { moment: { pressure: "p", reference: 5 }, about: [0, 0.5, 0] },
    });
    const r = row(t);
    expect([r["F.x"], r["F.y"], Math.abs(r["F.z"]!)].map((v) => Number(v!.toFixed(9)))).toEqual([0, 0, 6]);
    // ∫ x · 3x over [0,2] × [0,1] is 8.
    expect(Math.abs(r["M.y"]!)).toBeCloseTo(8, 9);
    expect(numbers(t, "F.z").unit).toBe("N");
    expect(row(reduceSite(g, all, { F: { force: { shear: "tau" } } }))["F.x"]).toBeCloseTo(1, 10);
    expect(() => reduceSite(g, all, { F: { force: {} } })).toThrow(/pressure, a shear/);
  });
  it("free surfaces: by crossing, by the sum, from particles", () => {
    const fill = fieldOf(boxMesh("quad", 8), {
      a: (x, y) => Math.min(1, Math.max(0, (0.62 + 0.1 * x - y) / 0.25 + 0.5)),
    });
    const at = { kind: "column", place: [1.2, 0], along: "y", count: 401 } as const;
    const r = row(reduceSite(fill, at, { h: { level: "a" }, s: { level: "a", by: "sum" } }));
    expect(r["h"]).toBeCloseTo(0.74, 2);
    expect(r["s"]).toBeCloseTo(0.74, 2);
    expect(() => reduceSite(fill, { kind: "all" }, { h: { level: "a" } })).toThrow(/column/);
    const cloud = fieldOf(boxMesh("quad", 4), {});
    const top = { kind: "column", place: [1, 0], along: "y", count: 2, to: 0.8 } as const;
    expect(row(reduceSite(cloud, top, { h: { level: true, radius: 0.3 } }))["h"]).toBeCloseTo(0.75, 12);
  });
});

describe("derivatives and statistics over time", () => {
  it("gradient, divergence and curl as fields, with units", () => {
    const g = withDerivatives(
      fieldOf(boxMesh("wedge", 3, 0.1), { "T [degC]": T, "U [m/s]": (x, y, z) => [2 * y, -x + z, 3 * z] }),
      [
        { name: "gradT", of: "T", kind: "gradient" },
        { name: "div", of: "U", kind: "divergence" },
        { name: "vort", of: "U", kind: "curl" },
      ],
    );
    const t = sampleSite(g, { kind: "points", places: [[1, 0.4, 0.6]] }, ["gradT", "div", "vort"]);
    const r = row(t);
    expect(
      ["gradT.x", "gradT.y", "gradT.z", "div", "vort.x", "vort.y", "vort.z"].map((n) => Number(r[n]!.toFixed(9))),
    ).toEqual([2, -5, 7, 3, -1, 0, -3]);
    expect(numbers(t, "gradT.x").unit).toBe("K/m");
    expect(() => withDerivatives(g, [{ name: "d", of: "T", kind: "curl" }])).toThrow(/needs a vector/);
  });
  it("means weighted by time, rms, extremes and when; uneven steps and a large mean", () => {
    const times = [0, 0.1, 0.5, 1.2, 2, 3.1, 4];
    const over = new OverTime();
    for (const t of times) {
      const g = fieldOf(boxMesh("quad", 1), { T: () => 1e9 + t });
      over.add(t, sampleSite(g, { kind: "points", places: [[0.5, 0.5, 0]] }, ["T"]));
    }
    const r = row(over.result(["mean", "std", "rms", "min", "max", "timeOfMax"], "s", "time"));
    expect(r["T.mean"]).toBe(1e9 + 2);
    expect(r["T.std"]).toBeCloseTo(4 / Math.sqrt(12), 7);
    expect(r["T.max"]).toBe(1e9 + 4);
    expect(r["T.timeOfMax"]).toBe(4);
  });
});
