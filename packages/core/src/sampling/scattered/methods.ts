import { maybeStop } from "../../tables/interruption.js";
import { solve } from "../../tables/linear-system.js";
import { PointTree } from "./tree.js";
import { Triangulation } from "./triangulation.js";
import { estimateVariogram, variogramValue, type Variogram, type VariogramModel } from "./variogram.js";

/** How a value at a place is taken from points around it. */
export type Method =
  | { readonly kind: "nearest" }
  /** The mean of the nearest points, weighted by distance to the power −`power`. */
  | {
      readonly kind: "inverse-distance";
      readonly power?: number | undefined;
      readonly nearest?: number | undefined;
      readonly radius?: number | undefined;
    }
  /** Linear between the points, by a triangulation; nothing outside their hull. */
  | { readonly kind: "linear" }
  /** A plane fitted to the nearest points, weighted by inverse squared distance; goes on outside. */
  | { readonly kind: "fitted-plane"; readonly nearest?: number | undefined }
  /** Ordinary kriging from the nearest points; what is not given of its variogram is estimated from the data. */
  | {
      readonly kind: "kriging";
      readonly model?: VariogramModel | undefined;
      readonly range?: number | undefined;
      readonly sill?: number | undefined;
      readonly nugget?: number | undefined;
      readonly nearest?: number | undefined;
    };

export interface Scattered {
  /** By place: weights of points; none where there is no value. */
  readonly points: readonly (readonly number[])[];
  readonly weights: readonly (readonly number[])[];
  /** What was done, with its numbers. */
  readonly note: string;
}

const plain = (v: number): string => String(Number(v.toPrecision(6)));

/**
 * Weights of scattered points for values at places, by one of several methods. All weights of a place add up to 1.
 *
 * Inverse distance: D. Shepard, "A two-dimensional interpolation function for irregularly-spaced data", ACM 1968.
 * Linear: barycentric coordinates in the simplices of Delaunay's triangulation.
 * Fitted: a moving plane of least squares (P. Lancaster, K. Salkauskas, Math. Comp. 37, 1981), exact for linear fields.
 * Kriging: ordinary, from the nearest points (N. Cressie, "Statistics for Spatial Data", 1993, ch. 3).
 *
 * @param values needed by kriging, to estimate what is not given of its variogram
 * @param triangulation of the points, where it is known already
 */
export function scatteredWeights(
  tree: PointTree,
  coordinates: Float64Array,
  places: Float64Array,
  method: Method,
  values: Float64Array,
  triangulation = (): Triangulation => new Triangulation(coordinates, tree.order),
): Scattered {
  if (method.kind === "linear") return linearWeights(triangulation(), places);
  const n = places.length / 3;
  const points: number[][] = [];
  const weights: number[][] = [];
  const count = method.kind === "nearest" ? 1 : (method.nearest ?? (method.kind === "kriging" ? 16 : 12));
  const variogram = method.kind === "kriging" ? estimateVariogram(coordinates, values, method) : undefined;
  for (let i = 0; i < n; i++) {
    if (i % 256 === 0) maybeStop();
    const place = [places[3 * i]!, places[3 * i + 1]!, places[3 * i + 2]!] as const;
    const found = Number.isFinite(place[0] + place[1] + place[2])
      ? tree.nearest(...place, count)
      : { points: [], squares: [] };
    if (method.kind === "inverse-distance" && method.radius !== undefined) {
      const within = found.squares.filter((s) => s <= method.radius! ** 2).length;
      found.points.length = within;
      found.squares.length = within;
    }
    points.push(found.points);
    weights.push(found.points.length === 0 ? [] : weightsOf(method, found, coordinates, place, variogram));
  }
  return { points, weights, note: noteOf(method, count, variogram) };
}

function linearWeights(by: Triangulation, places: Float64Array): Scattered {
  const found = Array.from({ length: places.length / 3 }, (_, i) => {
    if (i % 256 === 0) maybeStop();
    return by.at(places[3 * i]!, places[3 * i + 1]!, places[3 * i + 2]!) ?? { points: [], weights: [] };
  });
  const where = [
    "where a point is",
    "on the line of the points",
    "in the triangles between the points",
    "in the tetrahedra between the points",
  ];
  return {
    points: found.map((f) => f.points),
    weights: found.map((f) => f.weights),
    note: `linear ${where[by.dimension]!} (Delaunay), missing outside their hull`,
  };
}

function weightsOf(
  method: Exclude<Method, { kind: "linear" }>,
  { points, squares }: { points: number[]; squares: number[] },
  at: Float64Array,
  place: readonly [number, number, number],
  variogram: Variogram | undefined,
): number[] {
  // A place that is a point has that point's value, whatever the method.
  if (method.kind === "nearest" || squares[0] === 0) return points.map((_, k) => (k === 0 ? 1 : 0));
  if (method.kind === "inverse-distance") {
    const power = method.power ?? 2;
    const w = squares.map((s) => (s / squares[0]!) ** (-power / 2));
    const sum = w.reduce((a, b) => a + b, 0);
    return w.map((v) => v / sum);
  }
  if (method.kind === "fitted-plane") return planeWeights(points, squares, at, place);
  const v = variogram!;
  const between = (a: number, b: number): number =>
    variogramValue(
      v,
      Math.hypot(at[3 * a]! - at[3 * b]!, at[3 * a + 1]! - at[3 * b + 1]!, at[3 * a + 2]! - at[3 * b + 2]!),
    );
  const n = points.length;
  const matrix = points.map((a, i) => [...points.map((b, j) => (i === j ? 0 : between(a, b))), 1]);
  matrix.push([...points.map(() => 1), 0]);
  const solved = solve(matrix, [...squares.map((s) => variogramValue(v, Math.sqrt(s))), 1]);
  // Points that coincide leave no one answer: the nearest counts.
  return solved ? solved.slice(0, n) : points.map((_, k) => (k === 0 ? 1 : 0));
}

/**
 * Weights that give the value of the fitted plane at the place; of a line or a point where the points spread no wider.
 */
function planeWeights(
  points: readonly number[],
  squares: readonly number[],
  at: Float64Array,
  place: readonly [number, number, number],
): number[] {
  const w = squares.map((s) => squares[0]! / s);
  const offset = points.map((p) => [
    1,
    ...[0, 1, 2].map((d) => (at[3 * p + d]! - place[d]!) / Math.sqrt(squares[squares.length - 1]!)),
  ]);
  const spread = [1, 2, 3].map((d) => Math.max(...offset.map((o) => o[d]!)) - Math.min(...offset.map((o) => o[d]!)));
  const terms = [0, ...[1, 2, 3].filter((d) => spread[d - 1]! > 1e-9)];
  const m = terms.map((a) => terms.map((b) => offset.reduce((s, o, k) => s + w[k]! * o[a]! * o[b]!, 0)));
  const unit = terms.map((_, k) => (k === 0 ? 1 : 0));
  const first = solve(m, unit);
  if (!first) {
    const sum = w.reduce((a, b) => a + b, 0);
    return w.map((v) => v / sum);
  }
  return points.map((_, k) => w[k]! * terms.reduce((s, t, j) => s + first[j]! * offset[k]![t]!, 0));
}

function noteOf(method: Exclude<Method, { kind: "linear" }>, count: number, v: Variogram | undefined): string {
  if (method.kind === "nearest") return "values of the nearest point";
  if (method.kind === "inverse-distance")
    return (
      `inverse distance, power ${plain(method.power ?? 2)}, from the nearest ${count} ` +
      `points${method.radius === undefined ? "" : ` within ${plain(method.radius)}`}`
    );
  if (method.kind === "fitted-plane")
    return `plane fitted to the nearest ${count} points, weighted by inverse squared distance`;
  return (
    `ordinary kriging from the nearest ${count} points, ${v!.model} variogram, range ` +
    `${plain(v!.range)}, sill ${plain(v!.sill)}, nugget ` +
    `${plain(v!.nugget)}${v!.estimated.length > 0 ? ` (${v!.estimated.join(", ")} estimated)` : ""}`
  );
}
