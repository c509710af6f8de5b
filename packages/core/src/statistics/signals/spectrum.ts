import {
  axisOf,
  makeTable,
  numberColumn,
  numbers,
  numbersOf,
  TableError,
  type Table,
  type UnitSymbol,
} from "../../tables/table.js";
import { missing, type Quantity } from "../../tables/quantity.js";
import { multiplyUnits, parseUnit, powerUnit, stepOf } from "../../tables/units.js";
import { fourier } from "./fourier.js";
import { evenRows } from "./rows.js";

export interface SpectrumOptions {
  /** Rows of a segment, a power of two: the largest that gives about eight half-overlapping ones when not given. */
  readonly length?: number | undefined;
}

/**
 * The one-sided power spectral density of a column over its axis (P. Welch, IEEE Trans. Audio Electroacoust. 15, 1967):
 * segments that overlap by half, each about its own mean, under a Hann window; periodograms averaged. Its integral over
 * frequency is the variance. Columns: `frequency` and `name.psd`.
 *
 * @throws TableError for uneven steps, missing values, or less than 8 rows, saying what to do
 * @example spectrum(history, "level")
 */
export function spectrum(table: Table, name: string, options: SpectrumOptions = {}): Table {
  const { length, step, values, unit, axisUnit } = evenly(table, name, options.length);
  const re = new Float64Array(length);
  const im = new Float64Array(length);
  const window = Float64Array.from({ length }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / length));
  const power = window.reduce((s, w) => s + w * w, 0);
  const half = length >> 1;
  const psd = new Float64Array(half + 1);
  let count = 0;
  const put = (into: Float64Array, start: number): void => {
    let sum = 0;
    for (let i = 0; i < length; i++) sum += values[start + i]! - values[start]!;
    const mean = values[start]! + sum / length;
    for (let i = 0; i < length; i++) into[i] = (values[start + i]! - mean) * window[i]!;
    count++;
  };
  // Two segments at a time, as the real and the imaginary part: their powers add up to half of those of k and −k
  // together.
  for (let start = 0; start + length <= values.length; start += length) {
    put(re, start);
    if (start + half + length <= values.length) put(im, start + half);
    else im.fill(0);
    fourier(re, im);
    for (let k = 0; k <= half; k++) {
      const o = (length - k) & (length - 1);
      const both = (re[k]! ** 2 + im[k]! ** 2 + re[o]! ** 2 + im[o]! ** 2) / 2;
      psd[k]! += (k === 0 || k === half ? 1 : 2) * both * (step / power);
    }
  }
  for (let k = 0; k <= half; k++) psd[k]! /= count;
  return {
    ...shaped(
      name,
      unit,
      axisUnit,
      Float64Array.from(psd, (_, k) => k / (length * step)),
      psd,
    ),
    notes: [`Welch: ${count} segments of ${length} rows, half overlapping, Hann window, each about its mean`],
  };
}

/** The columns of a spectrum before there are rows. */
export function spectrumShape(table: Table, name: string): Table {
  const none = new Float64Array(0);
  return shaped(name, numbers(table, name).unit, axisOf(table).unit, none, none);
}

function shaped(
  name: string,
  unit: UnitSymbol,
  axisUnit: UnitSymbol,
  frequency: Float64Array,
  psd: Float64Array,
): Table {
  const inverse = axisUnit === null ? null : axisUnit === "s" ? "Hz" : powerUnit(parseUnit(axisUnit), -1).symbol;
  const step = stepOf(unit);
  const square = step.unit === null ? null : powerUnit(parseUnit(step.unit), 2).symbol;
  const density =
    square === null || inverse === null
      ? null
      : multiplyUnits(parseUnit(square), powerUnit(parseUnit(inverse), -1)).symbol;
  return makeTable(
    [
      numberColumn("frequency", inverse, frequency),
      numbersOf(psd, `${name}.psd`, density, (v) => v * step.factor ** 2),
    ],
    { axis: "frequency" },
  );
}

/** The frequency at which the spectrum is largest, between its lines by a parabola through the logarithms of three. */
export function dominantFrequency(table: Table, name: string, options: SpectrumOptions = {}): Quantity {
  const s = spectrum(table, name, options);
  const [f, p] = [numbers(s, "frequency"), numbers(s, `${name}.psd`).values];
  let best = -1;
  for (let k = 1; k < p.length - 1; k++) if (p[k]! > 0 && (best < 0 || p[k]! > p[best]!)) best = k;
  if (best < 0) return missing(`"${name}" does not change`, f.unit);
  const [a, b, c] = [p[best - 1]!, p[best]!, p[best + 1]!].map((v) => Math.log(Math.max(v, 1e-300))) as [
    number,
    number,
    number,
  ];
  const bend = a - 2 * b + c;
  const shift = bend < 0 ? Math.max(-0.5, Math.min(0.5, (a - c) / (2 * bend))) : 0;
  return { value: (best + shift) * f.values[1]!, unit: f.unit, method: s.notes[0]! };
}

function evenly(
  table: Table,
  name: string,
  wanted: number | undefined,
): { length: number; step: number; values: Float64Array; unit: UnitSymbol; axisUnit: UnitSymbol } {
  const { values, step, axis, column } = evenRows(table, name, "a spectrum", 8);
  const n = table.rows;
  let length = 8;
  while (2 * length <= (wanted ?? Math.max(8, Math.floor((2 * n) / 9)))) length *= 2;
  if (wanted !== undefined && (wanted !== length || wanted > n))
    throw new TableError(`a segment of ${wanted} rows: it has to be a power of two, from 8 to the ${n} rows there are`);
  return { length, step, values, unit: column.unit, axisUnit: axis.unit };
}
