import type { VectorGrid } from "./description.js";

/** A line that follows the vectors: places on the grid, two numbers each, from 0 to nx−1 and to ny−1. */
export type GridLine = Float64Array;

/** The vectors in the two directions of the grid, as steps on it. */
export function inGrid(g: VectorGrid): { a: Float64Array; b: Float64Array; size: Float64Array } {
  const n = g.nx * g.ny;
  const along = (from: number, to: number): number[] => {
    const d = [0, 1, 2].map((k) => g.places[3 * to + k]! - g.places[3 * from + k]!);
    const l = Math.hypot(d[0]!, d[1]!, d[2]!) || 1;
    return d.map((v) => v / l);
  };
  const [u, v] = [along(0, g.nx - 1), along(0, (g.ny - 1) * g.nx)];
  const [a, b, size] = [new Float64Array(n), new Float64Array(n), new Float64Array(n)];
  for (let k = 0; k < n; k++) {
    const w = [g.vectors[3 * k]!, g.vectors[3 * k + 1]!, g.vectors[3 * k + 2]!];
    a[k] = w[0]! * u[0]! + w[1]! * u[1]! + w[2]! * u[2]!;
    b[k] = w[0]! * v[0]! + w[1]! * v[1]! + w[2]! * v[2]!;
    size[k] = Math.hypot(w[0]!, w[1]!, w[2]!);
  }
  return { a, b, size };
}

/** Places of the lines that are there already, by cells as wide as the lines are apart. */
class TakenPlaces {
  readonly #cells = new Map<number, number[]>();
  readonly #wide: number;

  constructor(
    nx: number,
    private readonly apart: number,
  ) {
    this.#wide = Math.ceil(nx / apart) + 1;
  }

  #cellOf(x: number, y: number): number {
    return Math.floor(y / this.apart) * this.#wide + Math.floor(x / this.apart);
  }

  add(x: number, y: number): void {
    const c = this.#cellOf(x, y);
    const list = this.#cells.get(c);
    if (list) list.push(x, y);
    else this.#cells.set(c, [x, y]);
  }

  /** Whether a place is nearer to one of them than a distance. */
  near(x: number, y: number, least: number): boolean {
    const c = this.#cellOf(x, y);
    const wide = this.#wide;
    for (const o of [0, 1, -1, wide, -wide, wide + 1, wide - 1, -wide + 1, -wide - 1]) {
      const list = this.#cells.get(c + o);
      if (list)
        for (let k = 0; k < list.length; k += 2) if (Math.hypot(list[k]! - x, list[k + 1]! - y) < least) return true;
    }
    return false;
  }
}

/** The direction of the vectors at a place of the grid, of length 1; undefined outside and where they are zero. */
type Direction = (x: number, y: number) => readonly [number, number] | undefined;

function directionOf(g: VectorGrid): Direction {
  const { a, b } = inGrid(g);
  const { nx, ny } = g;
  return (x, y) => {
    if (!(x >= 0 && y >= 0 && x <= nx - 1 && y <= ny - 1)) return undefined;
    const [i, j] = [Math.min(nx - 2, Math.floor(x)), Math.min(ny - 2, Math.floor(y))];
    const [fx, fy] = [x - i, y - j];
    const k = j * nx + i;
    const mix = (v: Float64Array): number =>
      (1 - fy) * ((1 - fx) * v[k]! + fx * v[k + 1]!) + fy * ((1 - fx) * v[k + nx]! + fx * v[k + nx + 1]!);
    const [p, q] = [mix(a), mix(b)];
    const size = Math.hypot(p, q);
    return size > 0 ? [p / size, q / size] : undefined;
  };
}

const STEP = 0.4;

/** The way of a streamline from a place on, with the vectors or against them, until it comes near another one. */
function trace(
  direction: Direction,
  taken: TakenPlaces,
  apart: number,
  [x0, y0]: readonly [number, number],
  sign: 1 | -1,
): number[] {
  const line: number[] = [];
  let [x, y] = [x0, y0];
  // Cells of the line's own way, with when it came there: a spiral ends where it would lie on itself.
  const been = new Map<number, number>();
  const cell = 0.45 * apart;
  const h = sign * STEP;
  for (let n = 0; n < 4000; n++) {
    const k1 = direction(x, y);
    const k2 = k1 && direction(x + (h / 2) * k1[0], y + (h / 2) * k1[1]);
    const k3 = k2 && direction(x + (h / 2) * k2[0], y + (h / 2) * k2[1]);
    const k4 = k3 && direction(x + h * k3[0], y + h * k3[1]);
    if (!k1 || !k2 || !k3 || !k4) break;
    x += (h / 6) * (k1[0] + 2 * k2[0] + 2 * k3[0] + k4[0]);
    y += (h / 6) * (k1[1] + 2 * k2[1] + 2 * k3[1] + k4[1]);
    if (!direction(x, y) || taken.near(x, y, 0.6 * apart)) break;
    const here = Math.floor(y / cell) * 100_003 + Math.floor(x / cell);
    const before = been.get(here);
    if (before !== undefined && n - before > (4 * apart) / STEP) break;
    if (before === undefined) been.set(here, n);
    line.push(x, y);
  }
  return line;
}

/**
 * Streamlines that keep an even distance (B. Jobard, W. Lefer, Creating evenly-spaced streamlines of arbitrary density,
 * 1997), by the classical Runge–Kutta method on the direction of the vectors, bilinear between the grid's places.
 *
 * @param apart distance between lines in steps of the grid
 */
export function streamlines(g: VectorGrid, apart: number): GridLine[] {
  const { nx, ny } = g;
  const direction = directionOf(g);
  const taken = new TakenPlaces(nx, apart);
  const out: GridLine[] = [];
  const seeds: number[] = [];
  const grow = (x: number, y: number): void => {
    if (!direction(x, y) || taken.near(x, y, 0.95 * apart)) return;
    const back = trace(direction, taken, apart, [x, y], -1);
    const forward = trace(direction, taken, apart, [x, y], 1);
    const line: number[] = [];
    for (let k = back.length - 2; k >= 0; k -= 2) line.push(back[k]!, back[k + 1]!);
    line.push(x, y, ...forward);
    if (line.length < 2 * Math.ceil((1.5 * apart) / STEP)) return;
    for (let k = 0; k < line.length; k += 2) {
      taken.add(line[k]!, line[k + 1]!);
      const d = direction(line[k]!, line[k + 1]!);
      if (d && k % 10 === 0)
        for (const s of [1, -1]) seeds.push(line[k]! - s * apart * d[1], line[k + 1]! + s * apart * d[0]);
    }
    out.push(Float64Array.from(line));
  };
  for (let j = apart / 2; j < ny; j += apart)
    for (let i = apart / 2; i < nx; i += apart) {
      grow(i, j);
      while (seeds.length > 0 && out.length < 4000) {
        const y = seeds.pop()!;
        grow(seeds.pop()!, y);
      }
    }
  return out;
}

/** A place on the grid as a place in space. */
export function placeOn(g: VectorGrid, x: number, y: number): readonly [number, number, number] {
  const at = (k: number, d: number): number => g.places[3 * k + d]!;
  const [right, up] = [g.nx - 1, (g.ny - 1) * g.nx];
  return [0, 1, 2].map(
    (d) => at(0, d) + (x / (g.nx - 1)) * (at(right, d) - at(0, d)) + (y / (g.ny - 1)) * (at(up, d) - at(0, d)),
  ) as unknown as readonly [number, number, number];
}
