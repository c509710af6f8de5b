import { fieldColor } from "../charts/colormap.js";
import type { Scene } from "./description.js";
import type { Projection } from "./project.js";

/** Pixels with a depth: what is nearer covers what is farther. */
export class Raster {
  readonly pixels: Uint8ClampedArray;
  readonly #depth: Float32Array;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.pixels = new Uint8ClampedArray(width * height * 4);
    this.#depth = new Float32Array(width * height).fill(-Infinity);
  }

  /** Fills a scene's triangles with the colours of their values, linear within each. */
  fill(scene: Scene, to: Projection, color: ColorTable, shaded: boolean): void {
    const { triangles: t, values } = scene;
    const { width, height, pixels } = this;
    const depth = this.#depth;
    const { eye } = to.basis;
    const m = to.rows;
    const [a, b, c] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];
    const place = (out: Float64Array, o: number): void => {
      const [x, y, z] = [t[o]!, t[o + 1]!, t[o + 2]!];
      out[0] = m[0]! * x + m[1]! * y + m[2]! * z + m[3]!;
      out[1] = m[4]! * x + m[5]! * y + m[6]! * z + m[7]!;
      out[2] = m[8]! * x + m[9]! * y + m[10]! * z + m[11]!;
    };
    for (let k = 0; k < t.length / 9; k++) {
      const o = 9 * k;
      place(a, o);
      place(b, o + 3);
      place(c, o + 6);
      const area = (b[0]! - a[0]!) * (c[1]! - a[1]!) - (c[0]! - a[0]!) * (b[1]! - a[1]!);
      if (!(Math.abs(area) > 1e-12)) continue;
      const light = shaded ? shade(t, o, eye) : 1;
      const x0 = Math.max(0, Math.floor(Math.min(a[0]!, b[0]!, c[0]!)));
      const x1 = Math.min(width - 1, Math.ceil(Math.max(a[0]!, b[0]!, c[0]!)));
      const y0 = Math.max(0, Math.floor(Math.min(a[1]!, b[1]!, c[1]!)));
      const y1 = Math.min(height - 1, Math.ceil(Math.max(a[1]!, b[1]!, c[1]!)));
      const [va, vb, vc] = [values[3 * k]!, values[3 * k + 1]!, values[3 * k + 2]!];
      // Weights of the corners are linear in x and y: along a row they only grow or fall.
      const [bx, by] = [(c[1]! - a[1]!) / area, -(c[0]! - a[0]!) / area];
      const [cx, cy] = [-(b[1]! - a[1]!) / area, (b[0]! - a[0]!) / area];
      const table = color.table;
      for (let y = y0; y <= y1; y++) {
        const py = y + 0.5 - a[1]!;
        const px = x0 + 0.5 - a[0]!;
        let wb = px * bx + py * by;
        let wc = px * cx + py * cy;
        let at = y * width + x0;
        for (let x = x0; x <= x1; x++, at++, wb += bx, wc += cx) {
          const wa = 1 - wb - wc;
          // A hair outside still counts: no gaps between neighbours.
          if (wa < -1e-6 || wb < -1e-6 || wc < -1e-6) continue;
          const z = wa * a[2]! + wb * b[2]! + wc * c[2]!;
          if (z <= depth[at]!) continue;
          depth[at] = z;
          const entry = 3 * color.entry(wa * va + wb * vb + wc * vc);
          const pixel = 4 * at;
          pixels[pixel] = table[entry]! * light;
          pixels[pixel + 1] = table[entry + 1]! * light;
          pixels[pixel + 2] = table[entry + 2]! * light;
          pixels[pixel + 3] = 255;
        }
      }
    }
  }

  /** Draws lines where nothing nearer covers them; what is hidden is drawn pale over the sheet only. */
  lines(
    ends: Float64Array,
    to: Projection,
    ink: readonly [number, number, number],
    thick: number,
    hidden: number,
  ): void {
    const { width, height, pixels } = this;
    // What lies in a surface must not be swallowed by it.
    const bias = 1.5 + thick;
    for (let k = 0; k < ends.length; k += 6) {
      const a = to.to(ends[k]!, ends[k + 1]!, ends[k + 2]!);
      const b = to.to(ends[k + 3]!, ends[k + 4]!, ends[k + 5]!);
      const steps = Math.ceil(Math.max(Math.abs(b[0] - a[0]), Math.abs(b[1] - a[1]), 1) * 2);
      if (steps > 100_000) continue;
      for (let s = 0; s <= steps; s++) {
        const f = s / steps;
        const [x, y, z] = [a[0] + f * (b[0] - a[0]), a[1] + f * (b[1] - a[1]), a[2] + f * (b[2] - a[2])];
        const r = thick / 2;
        for (let py = Math.max(0, Math.round(y - r)); py < Math.min(height, Math.round(y + r)); py++)
          for (let px = Math.max(0, Math.round(x - r)); px < Math.min(width, Math.round(x + r)); px++) {
            const at = py * width + px;
            const seen = z >= this.#depth[at]! - bias;
            const alpha = seen ? 1 : hidden;
            if (alpha === 0) continue;
            const old = pixels[4 * at + 3]!;
            if (old === 0) {
              pixels[4 * at] = ink[0];
              pixels[4 * at + 1] = ink[1];
              pixels[4 * at + 2] = ink[2];
              pixels[4 * at + 3] = 255 * (seen ? 1 : alpha);
            } else if (seen) for (let d = 0; d < 3; d++) pixels[4 * at + d] = ink[d]!;
          }
      }
    }
  }
}

function shade(t: Float64Array, o: number, eye: readonly number[]): number {
  const e = (k: number, d: number): number => t[o + 3 * k + d]! - t[o + d]!;
  const n = [0, 1, 2].map((d) => e(1, (d + 1) % 3) * e(2, (d + 2) % 3) - e(1, (d + 2) % 3) * e(2, (d + 1) % 3));
  const size = Math.hypot(n[0]!, n[1]!, n[2]!) || 1;
  return 0.62 + 0.38 * Math.abs((n[0]! * eye[0]! + n[1]! * eye[1]! + n[2]! * eye[2]!) / size);
}

/** Colours of a range of values, with one for what is missing or infinite. */
export interface ColorTable {
  readonly table: Uint8Array;
  entry(value: number): number;
}

const ENTRIES = 1024;

/** Called for every pixel. */
const placeOf = (v: number): number => (v <= 0 ? 0 : v >= ENTRIES ? ENTRIES - 1 : v | 0);

/** The colours from `min` to `max`; in so many even steps if asked. */
export function colorTable(min: number, max: number, steps: number | undefined): ColorTable {
  const table = new Uint8Array(3 * (ENTRIES + 1));
  for (let k = 0; k < ENTRIES; k++) {
    const share =
      steps === undefined ? k / (ENTRIES - 1) : (Math.min(steps - 1, Math.floor((k / ENTRIES) * steps)) + 0.5) / steps;
    fieldColor(share).forEach((c, d) => (table[3 * k + d] = Math.round(c * 255)));
  }
  table.set([206, 202, 192], 3 * ENTRIES);
  const span = max - min;
  return {
    table,
    // Neither missing nor infinite: what is taken from itself is zero.
    entry: (v) => (v - v !== 0 ? ENTRIES : span > 0 ? placeOf(((v - min) / span) * ENTRIES) : ENTRIES >> 1),
  };
}
