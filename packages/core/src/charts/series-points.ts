import { decimate } from "./decimate.js";
import type { ChartAxis, Series } from "./description.js";
import type { Drawing } from "./drawing.js";
import { simplified } from "./simplify.js";

/** Pixels per unit along an axis, about: before the axes are laid out their room is guessed. */
function pixelScale(axis: ChartAxis, low: number, high: number, room: number): (v: number) => number {
  const log = axis.scale === "log";
  const [a, b] = [axis.min ?? low, axis.max ?? high].map((v) => (log ? Math.log(v) : v)) as [number, number];
  const k = b > a && Number.isFinite(b - a) ? room / (b - a) : 0;
  return log ? (v) => (Math.log(v) - a) * k : (v) => (v - a) * k;
}

function spanOf(values: ArrayLike<number>): [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < values.length; i++) {
    if (values[i]! < low) low = values[i]!;
    if (values[i]! > high) high = values[i]!;
  }
  return [low, high];
}

/** Widths of the drawing that a line may go up and down before it fills its room. */
const FULL = 40;

export function fillsRoom(d: Drawing, s: Series, points: readonly { x: number; y: number }[]): boolean {
  if (points.length < 500) return false;
  const axis = s.axis === "right" && d.chart.right ? d.chart.right : d.chart.y;
  const py = pixelScale(axis, ...spanOf(s.y), d.look.height);
  let length = 0;
  for (let i = 1; i < points.length; i++) {
    const step = Math.abs(py(points[i]!.y) - py(points[i - 1]!.y));
    if (step > 0) length += step;
  }
  return length > FULL * d.look.width;
}

/** A line without the points that nobody would see to be missing: smooth curves in files are a tenth of the size. */
function lean(
  d: Drawing,
  s: Series,
  line: { x: ArrayLike<number>; y: ArrayLike<number> },
): { x: ArrayLike<number>; y: ArrayLike<number> } {
  if (line.x.length < 50) return line;
  const axis = s.axis === "right" && d.chart.right ? d.chart.right : d.chart.y;
  const px = pixelScale(d.chart.x, ...spanOf(line.x), d.look.width);
  const py = pixelScale(axis, ...spanOf(line.y), d.look.height);
  const keep = simplified(Float64Array.from(line.x, px), Float64Array.from(line.y, py));
  return { x: Float64Array.from(keep, (k) => line.x[k]!), y: Float64Array.from(keep, (k) => line.y[k]!) };
}

/** Which points of a series are left out because nobody would see that they are missing. */
export type Thinning = "line" | "area" | "none";

/** The points of a series as the drawing takes them: thinned, and not billions of pixels away. */
export function pointsOf(d: Drawing, s: Series, y: ArrayLike<number>, thinning: Thinning): { x: number; y: number }[] {
  const { chart } = d;
  const buckets = Math.max(100, Math.round(d.look.width));
  const whole = { x: withPlaces(s.x), y: withPlaces(y) };
  const fewer = thinning === "none" ? whole : decimate(whole.x, whole.y, buckets);
  const thin = thinning === "line" ? lean(d, s, fewer) : fewer;
  const [cx, cy] = [clamp(chart.x), clamp(s.axis === "right" && chart.right ? chart.right : chart.y)];
  return Array.from({ length: thin.x.length }, (_, i) => ({ x: cx(thin.x[i]!), y: cy(thin.y[i]!) }));
}

/** Values of which those that are infinite, and so have no place, are gaps. */
function withPlaces(values: ArrayLike<number>): ArrayLike<number> {
  for (let i = 0; i < values.length; i++)
    if (values[i] === Infinity || values[i] === -Infinity)
      return Float64Array.from(values, (v) => (Number.isFinite(v) ? v : Number.NaN));
  return values;
}

/** Values far outside a fixed range are moved nearer: a dashed line to a point billions of pixels away never ends. */
function clamp(axis: ChartAxis): (v: number) => number {
  const { min, max } = axis;
  if (min === undefined || max === undefined) return (v) => v;
  const reach = 10 * Math.abs(max - min);
  const low = axis.scale === "log" ? 0 : Math.min(min, max) - reach;
  const high = Math.max(min, max) + reach;
  return (v) => (v < low ? low : v > high ? high : v);
}
