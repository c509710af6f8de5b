import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { meshOf } from "../../mesh/tests/box-mesh.js";
import { numbers } from "../../tables/table.js";
import { sampleSite } from "../sample.js";
import { fieldOf } from "../tests/field-of.js";
import { Tetrahedra } from "./tetrahedra.js";
import { Triangulation } from "./triangulation.js";

type Point = readonly [number, number, number];
const all = (n: number): Int32Array => Int32Array.from({ length: n }, (_, i) => i);
const triangulated = (points: readonly Point[]): Triangulation =>
  new Triangulation(Float64Array.from(points.flat()), all(points.length));
/** A field at a place by its shares; missing outside. */
const valueAt = (
  t: Triangulation,
  points: readonly Point[],
  f: (p: Point) => number,
  at: Point,
): number | undefined => {
  const share = t.at(...at);
  return share?.points.reduce((s, p, k) => s + share.weights[k]! * f(points[p]!), 0);
};
/** Points that nobody chose: irrational steps through a unit cube. */
const spread = (n: number): Point[] =>
  Array.from(
    { length: n },
    (_, i) => [((i + 1) * Math.SQRT2) % 1, ((i + 1) * Math.sqrt(3)) % 1, ((i + 1) * Math.sqrt(7)) % 1] as const,
  );
const linear = ([x, y, z]: Point): number => 2 + 3 * x - y + 0.5 * z;

/** The tetrahedra that are not beyond the hull, still in use: those that are reached from the last one. */
function cellsOf(t: Tetrahedra, at: Point): number[][] {
  const start = t.around(...at)!.cell;
  const seen = new Set([start]);
  for (const c of seen) for (let k = 0; k < 4; k++) seen.add(t.neighbours[4 * c + k]!);
  return [...seen].map((c) => t.vertices.slice(4 * c, 4 * c + 4)).filter((v) => !v.includes(-1));
}
const volume = (p: readonly Point[], [a, b, c, d]: readonly number[]): number => {
  const [u, v, w] = [b!, c!, d!].map((q) => p[q]!.map((x, k) => x - p[a!]![k]!)) as [number[], number[], number[]];
  return (
    (u[0]! * (v[1]! * w[2]! - v[2]! * w[1]!) -
      u[1]! * (v[0]! * w[2]! - v[2]! * w[0]!) +
      u[2]! * (v[0]! * w[1]! - v[1]! * w[0]!)) /
    6
  );
};

describe("tetrahedra between points", () => {
  // A regular grid is the hard case: eight corners of every cube lie on one sphere, and whole faces in planes.
  const grid: Point[] = Array.from(
    { length: 125 },
    (_, i) => [i % 5, Math.floor(i / 5) % 5, Math.floor(i / 25)] as const,
  );
  it.each([
    ["a grid", grid, [0, 4, 20, 100], 64],
    ["a grid and its first points again", [...grid, ...grid.slice(0, 40)], [0, 4, 20, 100], 64],
    [
      "a grid with a point in every cube",
      [...grid, ...grid.filter((p) => p.every((x) => x < 4)).map(([x, y, z]): Point => [x + 0.5, y + 0.5, z + 0.5])],
      [0, 4, 20, 100],
      64,
    ],
  ])("fill the hull once: %s", (_, points, first, whole) => {
    const t = new Tetrahedra(Float64Array.from(points.flat()), first as never, all(points.length));
    const volumes = cellsOf(t, [1.3, 1.2, 1.1]).map((c) => volume(points, c));
    expect(new Set(volumes.map((v) => Math.sign(v))).size).toBe(1);
    expect(Math.abs(volumes.reduce((a, b) => a + b, 0))).toBeCloseTo(whole, 10);
  });
  it("have no point within their spheres, whatever the points", () => {
    const coordinate = fc.oneof(
      fc.integer({ min: 0, max: 3 }),
      fc.integer({ min: 0, max: 3000 }).map((v) => v / 1000),
    );
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.tuple(coordinate, coordinate, coordinate), { minLength: 5, maxLength: 40, selector: String }),
        (more) => {
          const points: Point[] = [[-1, -1, -1], [9, 0, 0], [0, 9, 0], [0, 0, 9], ...more];
          const t = new Tetrahedra(Float64Array.from(points.flat()), [0, 1, 2, 3], all(points.length));
          const cells = cellsOf(t, [0.1, 0.1, 0.1]);
          expect(cells.reduce((s, c) => s + Math.abs(volume(points, c)), 0)).toBeCloseTo(
            Math.abs(volume(points, [0, 1, 2, 3])),
            6,
          );
          for (const c of cells) {
            const { centre, square } = sphere(c.map((q) => points[q]!));
            // Flat ones have spheres that rounding blurs.
            if (!(square < 1e4)) continue;
            const away = points.map((p) => p.reduce((s, x, k) => s + (x - centre[k]!) ** 2, 0));
            expect(Math.min(...away)).toBeGreaterThan(square * (1 - 1e-6));
          }
        },
      ),
      { numRuns: 60 },
    );
  });
});

/** The sphere through four points, by Cramer's rule. */
function sphere(p: readonly Point[]): { centre: readonly number[]; square: number } {
  const rows = [1, 2, 3].map((k) => p[k]!.map((x, d) => 2 * (x - p[0]![d]!)));
  const right = [1, 2, 3].map((k) => p[k]!.reduce((s, x, d) => s + (x - p[0]![d]!) ** 2, 0));
  const det = (m: number[][]): number =>
    m[0]![0]! * (m[1]![1]! * m[2]![2]! - m[1]![2]! * m[2]![1]!) -
    m[0]![1]! * (m[1]![0]! * m[2]![2]! - m[1]![2]! * m[2]![0]!) +
    m[0]![2]! * (m[1]![0]! * m[2]![1]! - m[1]![1]! * m[2]![0]!);
  const away = [0, 1, 2].map((d) => det(rows.map((r, k) => r.map((v, c) => (c === d ? right[k]! : v)))) / det(rows));
  return { centre: away.map((v, d) => v + p[0]![d]!), square: away.reduce((s, v) => s + v * v, 0) };
}

const REFERENCE_3D: [Point, number][] = [
  [[0.5, 0.4, 0.3], 0.37703360948820236],
  [[0.21, 0.77, 0.52], 0.4471613856192662],
  [[0.83, 0.34, 0.66], 0.9149722299544512],
  [[0.37, 0.29, 0.81], 0.3842931416424996],
];
const REFERENCE_2D: [Point, number][] = [
  [[0.5, 0.4, 4], 0.6519659319554584],
  [[0.21, 0.77, 4], 0.8165036835259275],
  [[0.83, 0.34, 4], 1.034804975737052],
  [[0.37, 0.29, 4], 0.42809355244367714],
];

describe("linear between scattered points", () => {
  const points = spread(300);
  const flat = spread(80).map(([x, y]): Point => [x, y, 4]);
  // In a plane that stands askew, and on a line.
  const askew = spread(80).map(([x, y]): Point => [x, y, 1 + 2 * x - y]);
  const line = spread(30).map(([x]): Point => [x, 2 * x, 1 - x]);
  it.each<[string, readonly Point[], number, Point, Point]>([
    ["in space", points, 3, [0.5, 0.4, 0.3], [1.4, 0.5, 0.5]],
    ["in a plane", flat, 2, [0.5, 0.4, 4], [0.5, 0.4, 4.1]],
    ["in a plane askew", askew, 2, [0.5, 0.4, 1.6], [1.5, 0.4, 3.6]],
    ["on a line", line, 1, [0.5, 1, 0.5], [0.5, 1.1, 0.5]],
    [
      "one point, many times",
      [
        [1, 2, 3],
        [1, 2, 3],
      ],
      0,
      [1, 2, 3],
      [1, 2, 3.001],
    ],
  ])("exact for linear fields, missing outside: %s", (_, p, dimension, inside, outside) => {
    const t = triangulated(p);
    expect(t.dimension).toBe(dimension);
    expect(valueAt(t, p, linear, inside)).toBeCloseTo(linear(inside), 10);
    expect(t.at(...outside)).toBeUndefined();
    for (const q of p) expect(valueAt(t, p, linear, q)).toBeCloseTo(linear(q), 9);
  });
  it("agrees with an independent library", () => {
    // scipy.interpolate.LinearNDInterpolator 1.17.1 on the same points, f = x² + y z.
    const f = ([x, y, z]: Point): number => x * x + y * z;
    const t = triangulated(points);
    for (const [at, value] of REFERENCE_3D) expect(valueAt(t, points, f, at)).toBeCloseTo(value, 12);
    const plane = triangulated(flat);
    for (const [at, value] of REFERENCE_2D)
      expect(valueAt(plane, flat, ([x, y]) => x * x + y, at)).toBeCloseTo(value, 12);
  });
  it("no points and empty places are not an accident", () => {
    const none = new Triangulation(new Float64Array(0), new Int32Array(0));
    expect([none.dimension, none.at(0, 0, 0)]).toEqual([0, undefined]);
    expect(triangulated(points).at(Number.NaN, 0, 0)).toBeUndefined();
  });
  it("tables say what was done and how many places lie outside", () => {
    const f = fieldOf(meshOf(points.flat(), [{ type: 1, nodes: [0] }]), { q: (x, y, z) => linear([x, y, z]) });
    const t = sampleSite(
      f,
      {
        kind: "points",
        places: [
          [0.5, 0.5, 0.5],
          [3, 0, 0],
        ],
      },
      ["q"],
      { method: { kind: "linear" } },
    );
    expect(numbers(t, "q").values[0]).toBeCloseTo(linear([0.5, 0.5, 0.5]), 10);
    expect(numbers(t, "q").values[1]).toBeNaN();
    expect(t.notes).toEqual([
      "linear in the tetrahedra between the points (Delaunay), missing outside their hull",
      "1 of 2 places lie outside the points' hull and are blank",
    ]);
  });
});
