export type VariogramModel = "spherical" | "exponential" | "gaussian" | "linear";

/** Half the mean squared difference of two points' values, over their distance. */
export interface Variogram {
  readonly model: VariogramModel;
  /** Distance at which it has (nearly) reached its sill. */
  readonly range: number;
  readonly sill: number;
  readonly nugget: number;
  readonly estimated: readonly string[];
}

/** The variogram's value at a distance (N. Cressie, "Statistics for Spatial Data", 1993, section 2.3). */
export function variogramValue(v: Variogram, h: number): number {
  if (h === 0) return 0;
  const t = h / v.range;
  const rise = v.sill - v.nugget;
  switch (v.model) {
    case "spherical":
      return v.nugget + rise * (t >= 1 ? 1 : 1.5 * t - 0.5 * t ** 3);
    case "exponential":
      return v.nugget + rise * (1 - Math.exp(-3 * t));
    case "gaussian":
      return v.nugget + rise * (1 - Math.exp(-3 * t * t));
    case "linear":
      return v.nugget + rise * t;
  }
}

/** Points taken for the estimate: evenly through the list, so that it is the same each time. */
const MOST = 600;

/**
 * Completes a variogram: the sill is the values' variance, the nugget 0, and the range the distance at which the
 * measured variogram (pairs in 20 classes up to half the extent) first passes 95 % of the sill.
 */
export function estimateVariogram(
  at: Float64Array,
  values: Float64Array,
  given: {
    model?: VariogramModel | undefined;
    range?: number | undefined;
    sill?: number | undefined;
    nugget?: number | undefined;
  },
): Variogram {
  const model = given.model ?? "spherical";
  const nugget = given.nugget ?? 0;
  const all: number[] = [];
  for (let i = 0; i < values.length; i++) if (Number.isFinite(values[i]! + at[3 * i]!)) all.push(i);
  const step = Math.max(1, all.length / MOST);
  const some = Array.from({ length: Math.min(all.length, MOST) }, (_, k) => all[Math.floor(k * step)]!);
  const mean = some.reduce((s, i) => s + values[i]! / some.length, 0);
  const variance = some.reduce((s, i) => s + (values[i]! - mean) ** 2, 0) / Math.max(1, some.length - 1);
  const sill = given.sill ?? (variance > 0 ? variance + nugget : 1 + nugget);
  const extent = Math.hypot(
    ...[0, 1, 2].map((d) => {
      const v = some.map((i) => at[3 * i + d]!);
      return v.length === 0 ? 0 : Math.max(...v) - Math.min(...v);
    }),
  );
  let { range } = given;
  if (range === undefined) {
    const CLASSES = 20;
    const reach = extent / 2;
    const sum = new Float64Array(CLASSES);
    const pairs = new Float64Array(CLASSES);
    for (let a = 0; a < some.length; a++)
      for (let b = a + 1; b < some.length; b++) {
        const [i, j] = [some[a]!, some[b]!];
        const h = Math.hypot(at[3 * i]! - at[3 * j]!, at[3 * i + 1]! - at[3 * j + 1]!, at[3 * i + 2]! - at[3 * j + 2]!);
        const k = Math.floor((h / reach) * CLASSES);
        if (!(k >= 0 && k < CLASSES)) continue;
        sum[k]! += (values[i]! - values[j]!) ** 2 / 2;
        pairs[k]!++;
      }
    const passed = Array.from({ length: CLASSES }, (_, k) => k).find(
      (k) => pairs[k]! > 0 && sum[k]! / pairs[k]! >= 0.95 * sill,
    );
    range = (((passed ?? CLASSES - 1) + 0.5) * reach) / CLASSES;
  }
  if (!(range > 0)) range = extent > 0 ? extent : 1;
  const estimated = (["range", "sill"] as const).filter((k) => given[k] === undefined);
  return { model, range, sill, nugget, estimated };
}
