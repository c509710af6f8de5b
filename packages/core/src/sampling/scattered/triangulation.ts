import Delaunator from "delaunator";
import { TableError } from "../../tables/table.js";
import { orient2d } from "robust-predicates";
import { Tetrahedra } from "./tetrahedra.js";

/** Points with their weights, which add up to 1. */
export interface Share {
  readonly points: readonly number[];
  readonly weights: readonly number[];
}

/** Tetrahedra take about a kilobyte per point. */
const MOST = 600_000;
/** What spreads less than this share of the greatest distance counts as flat. */
const FLAT = 1e-6;

type Vector = readonly [number, number, number];
const minus = (a: Vector, b: Vector): Vector => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const length = (a: Vector): number => Math.sqrt(dot(a, a));
const scaled = (a: Vector, s: number): Vector => [a[0] * s, a[1] * s, a[2] * s];

/**
 * Scattered points joined to simplices of Delaunay: tetrahedra in space, triangles where all points lie in a plane,
 * stretches where they lie on a line. A place within gets the corners of its simplex with their barycentric
 * coordinates: linear between the points, exact for linear fields. A place outside the hull, or off the plane or the
 * line, gets nothing.
 *
 * @example new Triangulation(points, tree.order).at(0.5, 0.2, 0) // { points: [3, 8, 4], weights: [0.2, 0.5, 0.3] }
 */
export class Triangulation {
  /** 3, 2, 1 or 0: what the points span. */
  readonly dimension: number;
  readonly #at: (place: Vector) => Share | undefined;
  /** Roughly what it holds. */
  readonly bytes: number;

  /** @param order the points with whole coordinates, near ones in sequence */
  constructor(coordinates: Float64Array, order: Int32Array) {
    const point = (p: number): Vector => [coordinates[3 * p]!, coordinates[3 * p + 1]!, coordinates[3 * p + 2]!];
    const far = (of: (v: Vector) => number): number =>
      order.reduce((best, p) => (of(point(p)) > of(point(best)) ? p : best), order[0]!);
    const a = order.length === 0 ? -1 : far((v) => -v[0] - 1e-3 * v[1] - 1e-6 * v[2]);
    const origin: Vector = a < 0 ? [0, 0, 0] : point(a);
    const b = a < 0 ? -1 : far((v) => length(minus(v, origin)));
    const span = a < 0 ? 0 : length(minus(point(b), origin));
    if (span === 0) {
      this.dimension = 0;
      this.bytes = 0;
      this.#at = (v) => (a >= 0 && v.every((x, k) => x === origin[k]) ? { points: [a], weights: [1] } : undefined);
      return;
    }
    const flat = FLAT * span;
    const e1 = scaled(minus(point(b), origin), 1 / span);
    const across = (v: Vector): Vector => minus(minus(v, origin), scaled(e1, dot(minus(v, origin), e1)));
    const c = far((v) => length(across(v)));
    if (length(across(point(c))) <= flat) {
      this.dimension = 1;
      this.bytes = 12 * order.length;
      const line = onLine(order, (p) => dot(minus(point(p), origin), e1));
      this.#at = (v) => (length(across(v)) <= flat ? line(dot(minus(v, origin), e1)) : undefined);
      return;
    }
    const e2 = scaled(across(point(c)), 1 / length(across(point(c))));
    const normal = cross(e1, e2);
    const height = (v: Vector): number => dot(minus(v, origin), normal);
    const d = far((v) => Math.abs(height(v)));
    if (Math.abs(height(point(d))) <= flat) {
      this.dimension = 2;
      const plane = inPlane(order, (v) => [dot(minus(v, origin), e1), dot(minus(v, origin), e2)], point);
      this.bytes = plane.bytes;
      this.#at = (v) => (Math.abs(height(v)) <= flat ? plane.at(v) : undefined);
      return;
    }
    this.dimension = 3;
    if (order.length > MOST)
      throw new TableError(
        `${order.length} points are too many to be joined to tetrahedra (${MOST} at most); take another ` +
          `method, as in { method: "inverse-distance" }`,
      );
    const cells = new Tetrahedra(coordinates, [a, b, c, d], order);
    this.bytes = cells.bytes;
    this.#at = (v) => {
      const found = cells.around(...v);
      return (
        found &&
        shareOf(
          [0, 1, 2, 3].map((k) => cells.vertices[4 * found.cell + k]!),
          found.weights,
        )
      );
    };
  }

  at(x: number, y: number, z: number): Share | undefined {
    return Number.isFinite(x + y + z) ? this.#at([x, y, z]) : undefined;
  }
}

/** Weights below zero are rounding on the hull. */
function shareOf(points: readonly number[], weights: readonly number[]): Share {
  const kept = weights.map((w) => Math.max(0, w));
  const sum = kept.reduce((s, w) => s + w, 0);
  return { points, weights: kept.map((w) => w / sum) };
}

function onLine(order: Int32Array, along: (p: number) => number): (s: number) => Share | undefined {
  const sorted = [...order].sort((p, q) => along(p) - along(q) || p - q);
  const s = Float64Array.from(sorted, along);
  const slack = 1e-9 * (s[s.length - 1]! - s[0]!);
  return (x) => {
    if (!(x >= s[0]! - slack && x <= s[s.length - 1]! + slack)) return undefined;
    let [low, high] = [0, s.length - 1];
    while (high - low > 1) {
      const mid = (low + high) >> 1;
      if (s[mid]! <= x) low = mid;
      else high = mid;
    }
    const w = s[high]! > s[low]! ? (x - s[low]!) / (s[high]! - s[low]!) : 0;
    return shareOf([sorted[low]!, sorted[high]!], [1 - w, w]);
  };
}

function inPlane(
  order: Int32Array,
  flatten: (v: Vector) => readonly [number, number],
  point: (p: number) => Vector,
): { at: (v: Vector) => Share | undefined; bytes: number } {
  const uv = new Float64Array(2 * order.length);
  order.forEach((p, k) => uv.set(flatten(point(p)), 2 * k));
  const { triangles, halfedges } = new Delaunator(uv);
  // Twice the area of a triangle with the place instead of the corner behind edge e; the library's triangles are all
  // turned alike.
  const part = (e: number, x: number, y: number): number => {
    const [i, j] = [triangles[e]!, triangles[e % 3 === 2 ? e - 2 : e + 1]!];
    return orient2d(uv[2 * i]!, uv[2 * i + 1]!, uv[2 * j]!, uv[2 * j + 1]!, x, y);
  };
  let last = 0;
  const at = (v: Vector): Share | undefined => {
    if (triangles.length === 0) return undefined;
    const [x, y] = flatten(v);
    let t = last;
    let outside = false;
    const turn = Math.sign(part(0, uv[2 * triangles[2]!]!, uv[2 * triangles[2]! + 1]!));
    for (;;) {
      const e = [3 * t, 3 * t + 1, 3 * t + 2].find((k) => turn * part(k, x, y) < 0 && halfedges[k]! >= 0);
      if (e === undefined) {
        outside = [3 * t, 3 * t + 1, 3 * t + 2].some((k) => turn * part(k, x, y) < 0);
        break;
      }
      t = Math.floor(halfedges[e]! / 3);
    }
    last = t;
    // The corner opposite to edge k is the one after its end.
    const parts = [1, 2, 0].map((k) => turn * part(3 * t + k, x, y));
    const whole = parts.reduce((s, w) => s + w, 0);
    const weights = parts.map((w) => w / whole);
    if (outside && !weights.every((w) => w > -1e-9)) return undefined;
    return shareOf(
      [0, 1, 2].map((k) => order[triangles[3 * t + k]!]!),
      weights,
    );
  };
  return { at, bytes: uv.byteLength + triangles.byteLength + halfedges.byteLength };
}
