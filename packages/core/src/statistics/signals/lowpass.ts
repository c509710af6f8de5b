import { TableError, withColumns, type Table } from "../../tables/table.js";
import { evenRows } from "./rows.js";

export interface LowpassOptions {
  /** The frequency at which one pass halves the power, in 1 / (axis unit). */
  readonly below: number;
  /** Of one pass: 2, 4, 6 or 8; 4 unless said otherwise. */
  readonly order?: number | undefined;
}

interface Section {
  readonly b0: number;
  readonly b1: number;
  readonly b2: number;
  readonly a1: number;
  readonly a2: number;
}

/**
 * Second-order sections of a Butterworth low-pass by the bilinear transform; `ratio` is the cut-off over the sampling
 * rate.
 */
function sections(order: number, ratio: number): Section[] {
  const k = Math.tan(Math.PI * ratio);
  return Array.from({ length: order / 2 }, (_, i) => {
    const q = 1 / (2 * Math.cos((Math.PI * (2 * i + 1)) / (2 * order)));
    const norm = 1 / (1 + k / q + k * k);
    const b0 = k * k * norm;
    return { b0, b1: 2 * b0, b2: b0, a1: 2 * (k * k - 1) * norm, a2: (1 - k / q + k * k) * norm };
  });
}

/** One pass of a section, begun as if the first value had been there for ever. */
function pass(v: Float64Array, s: Section): void {
  let z1 = (1 - s.b0) * v[0]!;
  let z2 = (s.b2 - s.a2) * v[0]!;
  for (let i = 0; i < v.length; i++) {
    const x = v[i]!;
    const y = s.b0 * x + z1;
    z1 = s.b1 * x - s.a1 * y + z2;
    z2 = s.b2 * x - s.a2 * y;
    v[i] = y;
  }
}

/**
 * Adds `name.lowpass`: the slow part of a column, without a shift in time: a Butterworth low-pass filter run forwards
 * and backwards (so a quarter of the power is left at the cut-off). Both ends are continued by three of its periods,
 * turned about the end point (F. Gustafsson, IEEE Trans. Signal Process. 44, 1996, discusses the ends).
 *
 * @throws TableError for uneven steps, gaps, or a frequency that the steps cannot hold
 * @example lowpass(history, "p", { below: 0.5 })
 */
export function lowpass(table: Table, name: string, options: LowpassOptions): Table {
  const { below, order = 4 } = options;
  if (![2, 4, 6, 8].includes(order)) throw new TableError(`lowpass: order ${order} has to be 2, 4, 6 or 8`);
  if (table.rows === 0) return added(table, name, new Float64Array(0), []);
  const { values, step } = evenRows(table, name, "a low-pass", 8);
  const ratio = below * step;
  if (!(ratio > 0 && ratio < 0.5))
    throw new TableError(
      `lowpass: ${below} has to lie above zero and below ${0.5 / step}, half the rate of the rows (in 1 over the axis's unit)`,
    );
  const n = values.length;
  const pad = Math.min(n - 1, Math.ceil(3 / ratio));
  const v = new Float64Array(n + 2 * pad);
  v.set(values, pad);
  for (let k = 1; k <= pad; k++) {
    v[pad - k] = 2 * values[0]! - values[k]!;
    v[pad + n - 1 + k] = 2 * values[n - 1]! - values[n - 1 - k]!;
  }
  const parts = sections(order, ratio);
  for (const s of parts) pass(v, s);
  v.reverse();
  for (const s of parts) pass(v, s);
  v.reverse();
  return added(table, name, v.slice(pad, pad + n), [
    `"${name}.lowpass": Butterworth low-pass of order ${order} below ${below}, forwards and backwards`,
  ]);
}

function added(table: Table, name: string, values: Float64Array, notes: string[]): Table {
  const c = table.columns.find((x) => x.name === name);
  const unit = c?.kind === "number" ? c.unit : null;
  return withColumns(table, [...table.columns, { kind: "number", name: `${name}.lowpass`, unit, values }], notes);
}
