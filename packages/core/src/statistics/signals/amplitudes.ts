import { axisOf, makeTable, numberColumn, numbers, numbersOf, type Table } from "../../tables/table.js";
import { parseUnit, powerUnit, stepOf } from "../../tables/units.js";
import { fourier } from "./fourier.js";
import { evenRows } from "./rows.js";

/**
 * The amplitudes of a column's frequencies over all rows, without a window: `frequency`, `name.amplitude` and
 * `name.phase` in degrees (of a cosine, from the first row). A sine of amplitude A that fits the rows in whole periods
 * gives A at its frequency and 0 elsewhere. The mean is taken off first. Any number of rows (L. Bluestein, IEEE Trans.
 * Audio Electroacoust. 18, 1970).
 *
 * @throws TableError for uneven steps, missing values, or less than 4 rows
 * @example amplitudes(history, "level")
 */
export function amplitudes(table: Table, name: string): Table {
  const { values, step } = evenRows(table, name, "an amplitude spectrum", 4);
  const n = values.length;
  let mean = 0;
  for (const v of values) mean += (v - values[0]!) / n;
  const [re, im] = transform(values.map((v) => v - values[0]! - mean));
  const half = n >> 1;
  const lines = Array.from({ length: half }, (_, k) => k + 1);
  const twice = (k: number): number => (2 * k === n ? 1 : 2);
  return shaped(
    table,
    name,
    Float64Array.from(lines, (k) => k / (n * step)),
    Float64Array.from(lines, (k) => (twice(k) * Math.hypot(re[k]!, im[k]!)) / n),
    Float64Array.from(lines, (k) => (Math.atan2(im[k]!, re[k]!) * 180) / Math.PI),
    [`amplitudes over all ${n} rows, no window, mean taken off`],
  );
}

/** The columns before there are rows. */
export function amplitudesShape(table: Table, name: string): Table {
  const none = new Float64Array(0);
  return shaped(table, name, none, none, none, []);
}

function shaped(
  table: Table,
  name: string,
  frequency: Float64Array,
  amplitude: Float64Array,
  phase: Float64Array,
  notes: string[],
): Table {
  const axisUnit = axisOf(table).unit;
  const inverse = axisUnit === null ? null : axisUnit === "s" ? "Hz" : powerUnit(parseUnit(axisUnit), -1).symbol;
  const { unit, factor } = stepOf(numbers(table, name).unit);
  return makeTable(
    [
      numberColumn("frequency", inverse, frequency),
      numbersOf(amplitude, `${name}.amplitude`, unit, (v) => v * factor),
      numberColumn(`${name}.phase`, "deg", phase),
    ],
    { axis: "frequency", notes: [...table.notes, ...notes] },
  );
}

/** The discrete Fourier transform of a real series of any length. */
function transform(x: Float64Array): [Float64Array, Float64Array] {
  const n = x.length;
  let size = 1;
  while (size < 2 * n) size *= 2;
  if ((n & (n - 1)) === 0) {
    const [re, im] = [x.slice(), new Float64Array(n)];
    fourier(re, im);
    return [re, im];
  }
  // A convolution with a chirp: k² modulo 2n keeps its angle exact.
  const angle = (k: number): number => (Math.PI * ((k * k) % (2 * n))) / n;
  const [ar, ai, br, bi] = Array.from({ length: 4 }, () => new Float64Array(size)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  for (let k = 0; k < n; k++) {
    const [c, s] = [Math.cos(angle(k)), Math.sin(angle(k))];
    ar[k] = x[k]! * c;
    ai[k] = -x[k]! * s;
    br[k] = c;
    bi[k] = s;
    if (k > 0) {
      br[size - k] = c;
      bi[size - k] = s;
    }
  }
  fourier(ar, ai);
  fourier(br, bi);
  for (let k = 0; k < size; k++) {
    const [r, i] = [ar[k]! * br[k]! - ai[k]! * bi[k]!, ar[k]! * bi[k]! + ai[k]! * br[k]!];
    // Transformed forwards once more, with its imaginary part turned: the way back.
    ar[k] = r;
    ai[k] = -i;
  }
  fourier(ar, ai);
  const [re, im] = [new Float64Array(n), new Float64Array(n)];
  for (let k = 0; k < n; k++) {
    const [r, i] = [ar[k]! / size, -ai[k]! / size];
    const [c, s] = [Math.cos(angle(k)), Math.sin(angle(k))];
    re[k] = r * c + i * s;
    im[k] = i * c - r * s;
  }
  return [re, im];
}
