import { cellType } from "./cell-types.js";

/**
 * Rules of integration over cells in the local coordinates of their shape functions: Gauss–Legendre products on squares
 * and cubes, symmetric rules on triangles (J. Radon 1948, degree 5), products of both on prisms, products with the
 * collapsed direction on tetrahedra and pyramids (A. H. Stroud, "Approximate Calculation of Multiple Integrals", 1971).
 */
export interface QuadratureRule {
  readonly count: number;
  /** By point: its weight; they add up to the size of the local domain. */
  readonly weights: Float64Array;
  /** By point: the shape functions of all nodes, and their three derivatives. */
  readonly shape: Float64Array;
  readonly slope: Float64Array;
}

type Point = readonly [r: number, s: number, t: number, weight: number];

const gauss: Readonly<Record<number, readonly (readonly [x: number, weight: number])[]>> = {
  2: [-1, 1].map((k) => [0.5 + (k * Math.sqrt(3)) / 6, 0.5] as const),
  3: (
    [
      [-1, 5],
      [0, 8],
      [1, 5],
    ] as const
  ).map(([k, w]) => [0.5 + (k * Math.sqrt(0.6)) / 2, w / 18] as const),
  4: ([-1, 1] as const).flatMap((k) =>
    ([-1, 1] as const).map((j) => {
      const x = Math.sqrt(3 / 7 + (j * 2 * Math.sqrt(6 / 5)) / 7);
      return [0.5 + (k * x) / 2, (18 - j * Math.sqrt(30)) / 72] as const;
    }),
  ),
};

const square = (n: number): Point[] =>
  gauss[n]!.flatMap(([s, v]) => gauss[n]!.map(([r, w]): Point => [r, s, 0, v * w]));
const cube = (n: number, top = n): Point[] =>
  gauss[top]!.flatMap(([t, u]) => square(n).map(([r, s, , w]): Point => [r, s, t, w * u]));

const third: readonly Point[] = [
  [1, 1],
  [4, 1],
  [1, 4],
].map(([a, b]) => [a! / 6, b! / 6, 0, 1 / 6]);
function triangle(degree: 2 | 5): readonly Point[] {
  if (degree === 2) return third;
  const out: Point[] = [[1 / 3, 1 / 3, 0, 9 / 80]];
  for (const sign of [-1, 1]) {
    const a = (6 + sign * Math.sqrt(15)) / 21;
    const w = (155 + sign * Math.sqrt(15)) / 2400;
    out.push([a, a, 0, w], [1 - 2 * a, a, 0, w], [a, 1 - 2 * a, 0, w]);
  }
  return out;
}
const prism = (degree: 2 | 5, n: number): Point[] =>
  gauss[n]!.flatMap(([t, u]) => triangle(degree).map(([r, s, , w]): Point => [r, s, t, w * u]));
/** A cube drawn together into a tetrahedron. */
const collapsed = (n: number): Point[] =>
  cube(n).map(([a, b, c, w]) => [a * (1 - b) * (1 - c), b * (1 - c), c, w * (1 - b) * (1 - c) ** 2]);

/**
 * Points by type of cell; simplices are integrated by their corners, and polygons and polyhedra by the pieces they are
 * sampled in.
 */
const points: Readonly<Record<number, () => readonly Point[]>> = {
  8: () => square(2),
  9: () => square(2),
  11: () => cube(2),
  12: () => cube(2),
  13: () => prism(2, 2),
  14: () => cube(2, 3),
  22: () => triangle(5),
  34: () => triangle(5),
  23: () => square(3),
  28: () => square(3),
  30: () => square(3),
  24: () => collapsed(4),
  25: () => cube(3),
  29: () => cube(3),
  33: () => cube(3),
  26: () => prism(5, 3),
  31: () => prism(5, 3),
  32: () => prism(5, 3),
  27: () => cube(4),
};

const rules = new Map<number, QuadratureRule>();

/** The rule of a type of cell; undefined for simplices, polygons, polyhedra, lines and points. */
export function quadratureRule(type: number): QuadratureRule | undefined {
  const known = rules.get(type);
  if (known || !Object.hasOwn(points, type)) return known;
  const at = points[type]!();
  const { shape: functions, nodes } = cellType(type);
  const shape = new Float64Array(at.length * nodes);
  const slope = new Float64Array(3 * at.length * nodes);
  at.forEach(([r, s, t], q) =>
    functions!(r, s, t, shape.subarray(q * nodes, (q + 1) * nodes), slope.subarray(3 * q * nodes, 3 * (q + 1) * nodes)),
  );
  const made = { count: at.length, weights: Float64Array.from(at, (p) => p[3]), shape, slope };
  rules.set(type, made);
  return made;
}

/** Barycentric coordinates and shares of the points that integrate squares over a triangle or tetrahedron exactly. */
export const simplexRule: Readonly<Record<3 | 4, readonly (readonly number[])[]>> = {
  3: [0, 1, 2].map((k) => [0, 1, 2].map((j) => (j === k ? 2 / 3 : 1 / 6))),
  4: [0, 1, 2, 3].map((k) =>
    [0, 1, 2, 3].map((j) => (j === k ? (5 + 3 * Math.sqrt(5)) / 20 : (5 - Math.sqrt(5)) / 20)),
  ),
};
