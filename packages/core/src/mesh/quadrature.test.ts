import { describe, expect, it } from "@jest/globals";
import { cellType } from "./cell-types.js";
import { quadratureRule, simplexRule } from "./quadrature.js";
import { brick, quad, wedge } from "./tests/corners.js";

/** Powers r^i s^j t^k up to a degree. */
const powers = (degree: number, dimensions: number): [number, number, number][] => {
  const out: [number, number, number][] = [];
  for (let i = 0; i <= degree; i++)
    for (let j = 0; i + j <= degree; j++)
      for (let k = 0; i + j + k <= degree; k++) if (dimensions === 3 || k === 0) out.push([i, j, k]);
  return out;
};
const factorial = (n: number): number => (n < 2 ? 1 : n * factorial(n - 1));

/** Integrals of r^i s^j t^k over the local domains, in closed form. */
const exact = {
  square: (i: number, j: number) => 1 / ((i + 1) * (j + 1)),
  cube: (i: number, j: number, k: number) => 1 / ((i + 1) * (j + 1) * (k + 1)),
  triangle: (i: number, j: number) => (factorial(i) * factorial(j)) / factorial(i + j + 2),
  prism: (i: number, j: number, k: number) => (factorial(i) * factorial(j)) / factorial(i + j + 2) / (k + 1),
  tetrahedron: (i: number, j: number, k: number) =>
    (factorial(i) * factorial(j) * factorial(k)) / factorial(i + j + k + 3),
};

/** Where a rule's points are, from the shape functions of linear cells: local places of the nodes, weighted. */
function places(type: number): [number, number, number][] {
  const rule = quadratureRule(type)!;
  const { nodes } = cellType(type);
  return Array.from({ length: rule.count }, (_, q) => {
    const shape = rule.shape.subarray(q * nodes, (q + 1) * nodes);
    return corners[type]!.reduce<[number, number, number]>(
      (p, c, n) => [p[0] + shape[n]! * c[0], p[1] + shape[n]! * c[1], p[2] + shape[n]! * c[2]],
      [0, 0, 0],
    );
  });
}
/** Local places of the nodes of linear cells. */
const corners: Readonly<Record<number, readonly (readonly [number, number, number])[]>> = {
  9: quad,
  12: brick,
  13: wedge,
};

describe("rules of integration over cells", () => {
  it.each([
    [9, "square", 2, 3],
    [12, "cube", 3, 3],
    [13, "prism", 3, 2],
  ] as const)("type %i integrates powers over its %s exactly", (type, domain, dimensions, degree) => {
    const rule = quadratureRule(type)!;
    const at = places(type);
    for (const [i, j, k] of powers(degree, dimensions)) {
      const sum = at.reduce((a, [r, s, t], q) => a + rule.weights[q]! * r ** i * s ** j * t ** k, 0);
      expect(Math.abs(sum - exact[domain](i, j, k))).toBeLessThan(1e-14);
    }
  });
  it.each([
    [8, 1],
    [9, 1],
    [23, 1],
    [28, 1],
    [30, 1],
    [11, 1],
    [12, 1],
    [25, 1],
    [29, 1],
    [33, 1],
    [22, 1 / 2],
    [34, 1 / 2],
    [13, 1 / 2],
    [26, 1 / 2],
    [31, 1 / 2],
    [32, 1 / 2],
    [24, 1 / 6],
  ])(
    "weights of type %i add up to the size of its domain, shape functions to one and their slopes to zero",
    (type, size) => {
      const rule = quadratureRule(type)!;
      const { nodes } = cellType(type);
      expect(rule.weights.reduce((a, w) => a + w, 0)).toBeCloseTo(size, 13);
      for (let q = 0; q < rule.count; q++) {
        expect(rule.weights[q]).toBeGreaterThan(0);
        const of = (values: Float64Array, from: number, step: number): number => {
          let sum = 0;
          for (let n = 0; n < nodes; n++) sum += values[from + n * step]!;
          return sum;
        };
        expect(of(rule.shape, q * nodes, 1)).toBeCloseTo(1, 12);
        for (let d = 0; d < 3; d++) {
          const along = of(rule.slope, 3 * q * nodes + d * nodes, 1);
          const across = of(rule.slope, 3 * q * nodes + d, 3);
          // By direction or by node, whichever way they lie.
          expect(Math.min(Math.abs(along), Math.abs(across))).toBeLessThan(1e-11);
        }
      }
    },
  );
  it("of quadratic cells integrate the squares of their shape functions as finer rules do", () => {
    // The mass of a quadratic triangle's corner and edge nodes (O. C. Zienkiewicz, "The Finite Element Method").
    const rule = quadratureRule(22)!;
    const mass = (a: number, b: number): number => {
      let sum = 0;
      for (let q = 0; q < rule.count; q++) sum += rule.weights[q]! * rule.shape[6 * q + a]! * rule.shape[6 * q + b]!;
      return sum;
    };
    expect(mass(0, 0)).toBeCloseTo(1 / 60, 13);
    expect(mass(0, 1)).toBeCloseTo(-1 / 360, 13);
    expect(mass(3, 3)).toBeCloseTo(4 / 45, 13);
    expect(mass(3, 4)).toBeCloseTo(2 / 45, 13);
  });
  it("of simplices integrate squares of coordinates exactly", () => {
    for (const [n, domain] of [
      [3, exact.triangle],
      [4, exact.tetrahedron],
    ] as const) {
      const size = domain(0, 0, 0);
      for (const [i, j, k] of powers(2, n - 1)) {
        const rows = simplexRule[n];
        const sum = rows.reduce((a, b) => a + (size / rows.length) * b[1]! ** i * b[2]! ** j * (b[3] ?? 1) ** k, 0);
        expect(sum).toBeCloseTo(domain(i, j, k), 14);
      }
    }
  });
  it("are none for what is integrated otherwise", () => {
    for (const type of [1, 3, 5, 7, 10, 42, 255]) expect(quadratureRule(type)).toBeUndefined();
  });
});
