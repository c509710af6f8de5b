import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { boxMesh } from "../../mesh/tests/box-mesh.js";
import { numbers, type Table } from "../../tables/table.js";
import { reduceSite } from "../reduce.js";
import { sampleSite } from "../sample.js";
import { fieldOf } from "../tests/field-of.js";
import { meshOf } from "../../mesh/tests/box-mesh.js";
import { scatteredWeights, type Method } from "./methods.js";
import { PointTree } from "./tree.js";

const random = (seed: number): (() => number) => {
  let s = seed;
  return () => {
    s = (Math.imul(s ^ (s >>> 15), 2246822519) + 3266489917) | 0;
    return ((s ^ (s >>> 13)) >>> 0) / 2 ** 32;
  };
};
const cloud = (n: number): Float64Array => {
  const r = random(7);
  return Float64Array.from({ length: 3 * n }, r);
};
const column = (t: Table, name: string): number[] => Array.from(numbers(t, name).values);

describe("the nearest points", () => {
  it("are those that a search through all finds", () => {
    const points = cloud(700);
    const tree = new PointTree(points);
    fc.assert(
      fc.property(
        fc.double({ min: -0.2, max: 1.2, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.integer({ min: 1, max: 30 }),
        (x, y, k) => {
          const all = Array.from({ length: 700 }, (_, i) => ({
            i,
            s: (points[3 * i]! - x) ** 2 + (points[3 * i + 1]! - y) ** 2 + (points[3 * i + 2]! - 0.4) ** 2,
          })).sort((a, b) => a.s - b.s || a.i - b.i);
          expect(tree.nearest(x, y, 0.4, k).points).toEqual(all.slice(0, k).map((q) => q.i));
        },
      ),
      { numRuns: 60 },
    );
  });
  it("few points, none, and equal ones", () => {
    expect(new PointTree(new Float64Array(0)).nearest(0, 0, 0, 3).points).toEqual([]);
    expect(new PointTree(Float64Array.of(0, 0, 0, 0, 0, 0, 1, 0, 0)).nearest(0, 0, 0, 5).points).toEqual([0, 1, 2]);
  });
});

describe("values between scattered points", () => {
  const points = cloud(400);
  const tree = new PointTree(points);
  const linear = Float64Array.from(
    { length: 400 },
    (_, i) => 3 + 2 * points[3 * i]! - points[3 * i + 1]! + 4 * points[3 * i + 2]!,
  );
  const at = (places: number[], method: Method, values = linear): { value: number; sum: number }[] => {
    const w = scatteredWeights(tree, points, Float64Array.from(places), method, values);
    return w.points.map((list, i) => ({
      value: list.reduce((s, p, k) => s + w.weights[i]![k]! * values[p]!, 0),
      sum: w.weights[i]!.reduce((a, b) => a + b, 0),
    }));
  };
  const methods: Method[] = [
    { kind: "nearest" },
    { kind: "inverse-distance", power: 3 },
    { kind: "fitted-plane" },
    { kind: "kriging" },
    { kind: "kriging", model: "exponential", range: 0.5, sill: 2, nugget: 0.1 },
    { kind: "kriging", model: "gaussian", range: 0.3 },
    { kind: "kriging", model: "linear", range: 1 },
  ];
  it.each(methods.map((m) => [JSON.stringify(m), m] as const))(
    "%s: weights add up to 1, a point has its own value",
    (_, m) => {
      for (const { sum } of at([0.3, 0.4, 0.5, 0.9, 0.1, 0.2], m)) expect(sum).toBeCloseTo(1, 8);
      expect(at(Array.from(points.subarray(30, 33)), m)[0]!.value).toBeCloseTo(linear[10]!, 10);
    },
  );
  it("the fitted plane is exact for linear fields, also of points that lie in a plane or on a line", () => {
    for (const { value } of at([0.31, 0.47, 0.5], { kind: "fitted-plane" }))
      expect(value).toBeCloseTo(3 + 0.62 - 0.47 + 2, 10);
    const flat = fieldOf(
      meshOf(cloud(200).map((v, i) => (i % 3 === 2 ? 0 : v)) as unknown as number[], [{ type: 1, nodes: [0] }]),
      { q: (x, y) => 2 * x - y },
    );
    const t = sampleSite(flat, { kind: "points", places: [[0.5, 0.5, 0]] }, ["q"], {
      method: { kind: "fitted-plane" },
    });
    expect(column(t, "q")[0]).toBeCloseTo(0.5, 10);
  });
  it("kriging of one point between two: the closed form of the linear variogram", () => {
    const two = Float64Array.of(0, 0, 0, 1, 0, 0);
    const w = scatteredWeights(
      new PointTree(two),
      two,
      Float64Array.of(0.25, 0, 0),
      { kind: "kriging", model: "linear", range: 1, sill: 1 },
      Float64Array.of(0, 1),
    );
    expect(w.weights[0]!.map((v) => Number(v.toFixed(12)))).toEqual([0.75, 0.25]);
  });
  it("inverse distance within a radius leaves lonely places blank; what was done is said", () => {
    const f = fieldOf(boxMesh("hexahedron", 3), { T: (x) => x });
    const t = sampleSite(
      f,
      {
        kind: "points",
        places: [
          [1, 0.5, 0.5],
          [8, 8, 8],
        ],
      },
      ["T"],
      { method: { kind: "inverse-distance", radius: 1 } },
    );
    expect(column(t, "T")[1]).toBeNaN();
    expect(t.notes).toEqual([
      "inverse distance, power 2, from the nearest 12 points within 1",
      "1 of 2 places have no points near them and are blank",
    ]);
  });
  it("a cloud as a whole: every point counts alike", () => {
    const f = fieldOf(
      meshOf(
        [0, 0, 0, 1, 0, 0, 5, 0, 0],
        [
          { type: 1, nodes: [0] },
          { type: 2, nodes: [1, 2] },
        ],
      ),
      { T: (x) => x },
    );
    const t = reduceSite(f, { kind: "all" }, { m: { mean: "T" }, n: { size: true }, hot: { max: "T", place: true } });
    expect(t.columns.map((c) => c.values[0])).toEqual([2, 3, 5, 5, 0, 0]);
    expect(t.notes).toEqual(["places count alike"]);
  });
  it("a cloud without cells asks for a method", () => {
    const f = fieldOf(
      meshOf(
        [0, 0, 0, 1, 0, 0],
        [
          { type: 1, nodes: [0] },
          { type: 1, nodes: [1] },
        ],
      ),
      { T: (x) => x },
    );
    const site = { kind: "points", places: [[0.9, 0, 0]] } as const;
    expect(() => sampleSite(f, site, ["T"])).toThrow(/say how values are taken/);
    expect(column(sampleSite(f, site, ["T"], { method: { kind: "nearest" } }), "T")).toEqual([1]);
  });
});
