import { term, type Polynomial } from "./polynomial-shape.js";

/**
 * Shape functions of a cell: writes their values at local coordinates into `n`, and their derivatives into `d`, three a
 * node.
 */
export type Shape = (r: number, s: number, t: number, n: Float64Array, d: Float64Array) => void;

/** Products of one-dimensional functions on [0, 1]: `orders[i]` picks for node i the function of each direction. */
export function product(nodes: readonly (readonly [number, number, number])[], degree: 1 | 2): Shape {
  const f = (k: number, x: number): number =>
    degree === 1
      ? k === 0
        ? 1 - x
        : x
      : k === 0
        ? (1 - x) * (1 - 2 * x)
        : k === 1
          ? x * (2 * x - 1)
          : 4 * x * (1 - x);
  const df = (k: number, x: number): number =>
    degree === 1 ? (k === 0 ? -1 : 1) : k === 0 ? 4 * x - 3 : k === 1 ? 4 * x - 1 : 4 - 8 * x;
  return (r, s, t, n, d) => {
    for (let i = 0; i < nodes.length; i++) {
      const [a, b, c] = nodes[i]!;
      const [fr, fs, ft] = [a < 0 ? 1 : f(a, r), b < 0 ? 1 : f(b, s), c < 0 ? 1 : f(c, t)];
      n[i] = fr * fs * ft;
      d[3 * i] = a < 0 ? 0 : df(a, r) * fs * ft;
      d[3 * i + 1] = b < 0 ? 0 : fr * df(b, s) * ft;
      d[3 * i + 2] = c < 0 ? 0 : fr * fs * df(c, t);
    }
  };
}

export const cube = (r: number, s: number, t: number, e: number): boolean =>
  r >= -e && r <= 1 + e && s >= -e && s <= 1 + e && t >= -e && t <= 1 + e;
export const square = (r: number, s: number, _t: number, e: number): boolean =>
  r >= -e && r <= 1 + e && s >= -e && s <= 1 + e;
export const corner = (r: number, s: number, t: number, e: number): boolean =>
  r >= -e && s >= -e && t >= -e && r + s + t <= 1 + e;
export const flatCorner = (r: number, s: number, _t: number, e: number): boolean =>
  r >= -e && s >= -e && r + s <= 1 + e;
export const prism = (r: number, s: number, t: number, e: number): boolean =>
  r >= -e && s >= -e && r + s <= 1 + e && t >= -e && t <= 1 + e;

export const hexNodes = [[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0], [0, 0, 1], [1, 0, 1], [1, 1, 1], [0, 1, 1]] as const; // oxfmt-ignore
export const hexFaces = [[0, 4, 7, 3], [1, 2, 6, 5], [0, 1, 5, 4], [3, 7, 6, 2], [0, 3, 2, 1], [4, 5, 6, 7]] as const; // oxfmt-ignore
export const voxelNodes = [[0, 0, 0], [1, 0, 0], [0, 1, 0], [1, 1, 0], [0, 0, 1], [1, 0, 1], [0, 1, 1], [1, 1, 1]] as const; // oxfmt-ignore
export const voxelFaces = [[0, 4, 6, 2], [1, 3, 7, 5], [0, 1, 5, 4], [2, 6, 7, 3], [0, 2, 3, 1], [4, 5, 7, 6]] as const; // oxfmt-ignore
export const quadNodes = [
  [0, 0, -1],
  [1, 0, -1],
  [1, 1, -1],
  [0, 1, -1],
] as const;
export const tetraFaces = [
  [0, 1, 3],
  [1, 2, 3],
  [2, 0, 3],
  [0, 2, 1],
] as const;
export const wedgeFaces = [
  [0, 1, 2],
  [3, 5, 4],
  [0, 3, 4, 1],
  [1, 4, 5, 2],
  [2, 5, 3, 0],
] as const;
export const pyramidFaces = [
  [0, 3, 2, 1],
  [0, 1, 4],
  [1, 2, 4],
  [2, 3, 4],
  [3, 0, 4],
] as const;

export const tetraShape: Shape = (r, s, t, n, d) => {
  n[0] = 1 - r - s - t;
  n[1] = r;
  n[2] = s;
  n[3] = t;
  d.set([-1, -1, -1, 1, 0, 0, 0, 1, 0, 0, 0, 1]);
};
export const wedgeShape: Shape = (r, s, t, n, d) => {
  const l = [1 - r - s, r, s];
  const dr = [-1, 1, 0];
  const ds = [-1, 0, 1];
  for (let i = 0; i < 6; i++) {
    const k = i % 3;
    const [f, df] = i < 3 ? [1 - t, -1] : [t, 1];
    n[i] = l[k]! * f;
    d[3 * i] = dr[k]! * f;
    d[3 * i + 1] = ds[k]! * f;
    d[3 * i + 2] = l[k]! * df;
  }
};
export const pyramidShape: Shape = (r, s, t, n, d) => {
  const q = 1 - t;
  const f = [(1 - r) * (1 - s), r * (1 - s), r * s, (1 - r) * s];
  const fr = [-(1 - s), 1 - s, s, -s];
  const fs = [-(1 - r), -r, r, 1 - r];
  for (let i = 0; i < 4; i++) {
    n[i] = f[i]! * q;
    d[3 * i] = fr[i]! * q;
    d[3 * i + 1] = fs[i]! * q;
    d[3 * i + 2] = -f[i]!;
  }
  n[4] = t;
  d[12] = 0;
  d[13] = 0;
  d[14] = 1;
};

/** Quadratic functions on a simplex: corners L(2L−1), edge middles 4LᵢLⱼ. */
export function quadraticSimplex(dimension: 2 | 3, edges: readonly (readonly [number, number])[]): Shape {
  const corners = dimension + 1;
  const dl =
    dimension === 3
      ? [
          [-1, -1, -1],
          [1, 0, 0],
          [0, 1, 0],
          [0, 0, 1],
        ]
      : [
          [-1, -1, 0],
          [1, 0, 0],
          [0, 1, 0],
        ];
  return (r, s, t, n, d) => {
    const l = dimension === 3 ? [1 - r - s - t, r, s, t] : [1 - r - s, r, s];
    for (let i = 0; i < corners; i++) {
      n[i] = l[i]! * (2 * l[i]! - 1);
      for (let k = 0; k < 3; k++) d[3 * i + k] = (4 * l[i]! - 1) * dl[i]![k]!;
    }
    edges.forEach(([a, b], e) => {
      n[corners + e] = 4 * l[a]! * l[b]!;
      for (let k = 0; k < 3; k++) d[3 * (corners + e) + k] = 4 * (l[a]! * dl[b]![k]! + l[b]! * dl[a]![k]!);
    });
  };
}

/** Serendipity functions: corners, then middles of the edges between them (on [0, 1], by ξ = 2r − 1). */
export function serendipity(
  corners: readonly (readonly [number, number, number])[],
  edges: readonly (readonly [number, number])[],
): Shape {
  const flat = corners.every(([, , c]) => c < 0);
  const sign = (k: number): number => (k < 0 ? 0 : 2 * k - 1);
  const at = corners.map((c) => c.map(sign));
  const middles = edges.map(([a, b]) => at[a]!.map((x, k) => (x + at[b]![k]!) / 2));
  const axes = flat ? 2 : 3;
  return (r, s, t, n, d) => {
    const x = [2 * r - 1, 2 * s - 1, 2 * t - 1];
    at.forEach((c, i) => {
      const f = c.map((ci, k) => (k < axes ? 1 + ci * x[k]! : 1));
      const sum = c.reduce((m, ci, k) => (k < axes ? m + ci * x[k]! : m), -(axes - 1));
      const scale = flat ? 0.25 : 0.125;
      n[i] = scale * f[0]! * f[1]! * f[2]! * sum;
      for (let k = 0; k < 3; k++) {
        const others = f.reduce((m, v, j) => (j === k ? m : m * v), 1);
        d[3 * i + k] = k < axes ? 2 * scale * others * c[k]! * (sum + f[k]!) : 0;
      }
    });
    middles.forEach((m, e) => {
      const i = corners.length + e;
      const g = m.map((mk, k) => (k >= axes ? 1 : mk === 0 ? 1 - x[k]! * x[k]! : 1 + mk * x[k]!));
      const scale = flat ? 0.5 : 0.25;
      n[i] = scale * g[0]! * g[1]! * g[2]!;
      for (let k = 0; k < 3; k++) {
        const others = g.reduce((a, v, j) => (j === k ? a : a * v), 1);
        d[3 * i + k] = k < axes ? 2 * scale * others * (m[k] === 0 ? -2 * x[k]! : m[k]!) : 0;
      }
    });
  };
}

/** A twenty-node brick whose upper face is drawn together into one node: the pyramid of thirteen nodes. */
export function drawnTogether(brick: Shape): Shape {
  // Of the brick's nodes: which node of the pyramid each belongs to.
  const to = [0, 1, 2, 3, 4, 4, 4, 4, 5, 6, 7, 8, 4, 4, 4, 4, 9, 10, 11, 12];
  const bn = new Float64Array(20);
  const bd = new Float64Array(60);
  return (r, s, t, n, d) => {
    brick(r, s, t, bn, bd);
    n.fill(0, 0, 13);
    d.fill(0, 0, 39);
    to.forEach((k, i) => {
      n[k]! += bn[i]!;
      for (let j = 0; j < 3; j++) d[3 * k + j]! += bd[3 * i + j]!;
    });
  };
}

export const hexEdges = [[0, 1], [1, 2], [2, 3], [3, 0], [4, 5], [5, 6], [6, 7], [7, 4], [0, 4], [1, 5], [2, 6], [3, 7]] as const; // oxfmt-ignore
export const quadEdges = [
  [0, 1],
  [1, 2],
  [2, 3],
  [3, 0],
] as const;
export const first = (n: number): number[] => Array.from({ length: n }, (_, i) => i);
const wedgeEdges = [[0, 1], [1, 2], [2, 0], [3, 4], [4, 5], [5, 3], [0, 3], [1, 4], [2, 5]] as const; // oxfmt-ignore
const wedgeCorners = [[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1], [1, 0, 1], [0, 1, 1]] as const; // oxfmt-ignore
/** Mean places of groups of nodes. */
const means = (nodes: readonly (readonly number[])[], groups: readonly (readonly number[])[]): number[][] =>
  groups.map((g) => [0, 1, 2].map((k) => g.reduce((m, v) => m + nodes[v]![k]!, 0) / g.length));
export const wedge15 = [...wedgeCorners, ...means(wedgeCorners, wedgeEdges)];
export const wedge18 = [
  ...wedge15,
  ...means(wedgeCorners, [
    [0, 1, 4, 3],
    [1, 2, 5, 4],
    [2, 0, 3, 5],
  ]),
];
export const flatQuadratic = [term(0, 0, 0), term(1, 0, 0), term(0, 1, 0), term(2, 0, 0), term(1, 1, 0), term(0, 2, 0)];
export const times = (terms: readonly Polynomial[], c: number): Polynomial[] =>
  terms.map((p) => p.map(([v, a, b, z]) => [v, a, b, z + c] as const));
/** Which of the three functions of a direction belongs to a node: 0 and 1 at the ends, 2 between them. */
export const orders = (nodes: readonly (readonly number[])[]): [number, number, number][] =>
  nodes.map((n) => n.map((v) => (v <= 0 || v === 1 ? v : 2)) as [number, number, number]);
const hex20 = [...hexNodes, ...means(hexNodes, hexEdges)];
export const hex24 = [...hex20, [0, 0.5, 0.5], [1, 0.5, 0.5], [0.5, 0, 0.5], [0.5, 1, 0.5]];
export const hex27 = [...hex24, [0.5, 0.5, 0], [0.5, 0.5, 1], [0.5, 0.5, 0.5]];
/**
 * What twenty nodes of a brick can hold: all products of degree at most two in each direction, and one square at most.
 */
export const brickTerms = [0, 1, 2].flatMap((a) =>
  [0, 1, 2].flatMap((b) =>
    [0, 1, 2].flatMap((c) => ([a, b, c].filter((e) => e === 2).length <= 1 ? [term(a, b, c)] : [])),
  ),
);
export const prismFaces = (n: number): number[][] => [
  first(n).reverse(),
  first(n).map((k) => k + n),
  ...first(n).map((k) => [k, (k + 1) % n, n + ((k + 1) % n), n + k]),
];
export const half: readonly [number, number, number] = [0.5, 0.5, 0.5];
export const quarter: readonly [number, number, number] = [0.25, 0.25, 0.25];
export const third: readonly [number, number, number] = [1 / 3, 1 / 3, 0.5];
