import { TableError, type UnitSymbol } from "../tables/table.js";
import { RunningSum } from "../tables/sums.js";
import type { Place } from "./places.js";

/** Pieces with values at their corners: what reductions run over. */
export interface Part {
  /** 1 for single places and points of integration, 2 for lines, 3 for triangles, 4 for tetrahedra. */
  readonly corners: number;
  /** Of what is measured: 0 for places, 1 for lines, 2 for surfaces, 3 for volumes. */
  readonly dimension: number;
  /** By piece: its cell, where several pieces make up one. */
  readonly cell?: Int32Array | undefined;
  /** The number of the block that these cells are of. */
  readonly of?: number;
  readonly size: Float64Array;
  readonly places: Float64Array;
  readonly normals: Float64Array | undefined;
  readonly columns: ReadonlyMap<string, { readonly values: Float64Array; readonly unit: UnitSymbol }>;
}

export function totalSize(parts: readonly Part[]): number {
  const sum = new RunningSum();
  for (const p of parts) for (const s of p.size) sum.add(s);
  return sum.value;
}

/** The unit of a column. @throws TableError for a vector, of which a component has to be named */
export function unitOf(parts: readonly Part[], name: string): UnitSymbol {
  const found = parts.find((p) => p.columns.has(name));
  if (parts.length > 0 && !found)
    throw new TableError(`"${name}" is a vector: name one of its components, as in "${name}.x" or "${name}.mag"`);
  return found?.columns.get(name)!.unit ?? null;
}

/** Goes through the pieces in order: a column's values, the first corner's number, the piece's size. */
function each(
  parts: readonly Part[],
  name: string,
  take: (values: Float64Array, first: number, size: number, part: Part, t: number) => void,
): void {
  for (const p of parts) {
    const values = p.columns.get(name)?.values;
    if (!values) continue;
    for (let t = 0; t < p.size.length; t++) take(values, p.corners * t, p.size[t]!, p, t);
  }
}

const meanOf = (v: Float64Array, first: number, k: number): number => {
  let m = 0;
  for (let i = 0; i < k; i++) m += v[first + i]!;
  return m / k;
};

/** The integral of a column that is linear in each piece. */
export function integral(parts: readonly Part[], name: string): number {
  const sum = new RunningSum();
  each(parts, name, (v, first, size, p) => sum.add(size * meanOf(v, first, p.corners)));
  return sum.value;
}

/** The mean of the cells' means (of places: of their values), each counting alike. */
export function plainMean(parts: readonly Part[], name: string): number {
  let sum = 0;
  let n = 0;
  const cells = new Map<string, { sum: number; size: number }>();
  each(parts, name, (v, first, size, p, t) => {
    const mean = meanOf(v, first, p.corners);
    if (!p.cell) {
      sum += mean;
      n++;
      return;
    }
    const key = `${p.of ?? 0} ${p.cell[t]!}`;
    const c = cells.get(key) ?? { sum: 0, size: 0 };
    cells.set(key, c);
    c.sum += size * mean;
    c.size += size;
  });
  for (const c of cells.values()) {
    sum += c.sum / c.size;
    n++;
  }
  return sum / n;
}

/**
 * The pieces on which all of some columns have values, and how much of the size has none: what is missing does not
 * count.
 */
export function present(
  parts: readonly Part[],
  names: readonly string[],
): { parts: readonly Part[]; missing: number; total: number } {
  let missing = 0;
  let total = 0;
  const out = parts.map((p): Part => {
    const columns = names.map((n) => p.columns.get(n)?.values);
    const k = p.corners;
    const own: number[] = [];
    for (let t = 0; t < p.size.length; t++) {
      total += p.size[t]!;
      let whole = true;
      for (const c of columns)
        for (let i = k * t; whole && i < k * (t + 1); i++) if (!c || c[i] !== c[i]) whole = false;
      if (whole) own.push(t);
      else missing += p.size[t]!;
    }
    if (own.length === p.size.length) return p;
    const some = (a: Float64Array, per: number): Float64Array => {
      const made = new Float64Array(own.length * per);
      own.forEach((t, i) => made.set(a.subarray(t * per, (t + 1) * per), i * per));
      return made;
    };
    return {
      ...p,
      cell: p.cell && Int32Array.from(own, (t) => p.cell![t]!),
      size: some(p.size, 1),
      places: some(p.places, 3 * k),
      normals: p.normals && some(p.normals, 3),
      columns: new Map([...p.columns].map(([n, c]) => [n, { ...c, values: some(c.values, k) }])),
    };
  });
  return { parts: out, missing, total };
}

/** ∫ab over a simplex of linear a and b: size · (Σaᵢbᵢ + Σa Σb) / (k (k + 1)). */
function product(a: Float64Array, b: Float64Array, first: number, k: number, size: number): number {
  let [ab, sa, sb] = [0, 0, 0];
  for (let i = 0; i < k; i++) {
    ab += a[first + i]! * b[first + i]!;
    sa += a[first + i]!;
    sb += b[first + i]!;
  }
  return (size * (ab + sa * sb)) / (k * (k + 1));
}

/** ∫ab and ∫b of a quantity and a weight, both linear in each piece. */
export function weighted(
  parts: readonly Part[],
  name: string,
  weight: (p: Part) => Float64Array,
): { sum: number; weight: number } {
  let [sum, total] = [0, 0];
  for (const p of parts) {
    const a = p.columns.get(name)!.values;
    const b = weight(p);
    for (let t = 0; t < p.size.length; t++) {
      sum += product(a, b, p.corners * t, p.corners, p.size[t]!);
      total += p.size[t]! * meanOf(b, p.corners * t, p.corners);
    }
  }
  return { sum, weight: total };
}

/** The integral of the squared distance from a value, exact for linear fields. */
export function squares(parts: readonly Part[], name: string, about: number): number {
  const sum = new RunningSum();
  each(parts, name, (v, first, size, { corners: k }) => {
    let [u, u2] = [0, 0];
    for (let i = 0; i < k; i++) {
      const w = v[first + i]! - about;
      u += w;
      u2 += w * w;
    }
    sum.add((size * (u2 + u * u)) / (k * (k + 1)));
  });
  return sum.value;
}

/** ∫|v − v̄| by the pieces' means. */
export function spread(parts: readonly Part[], name: string, about: number): number {
  const sum = new RunningSum();
  each(parts, name, (v, first, size, p) => sum.add(size * Math.abs(meanOf(v, first, p.corners) - about)));
  return sum.value;
}

/** The least or largest corner value, and where; of equal ones the first. */
export function extreme(parts: readonly Part[], name: string, way: "min" | "max"): { value: number; place: Place } {
  let value = Number.NaN;
  let place: Place = [Number.NaN, Number.NaN, Number.NaN];
  for (const p of parts) {
    const v = p.columns.get(name)?.values ?? new Float64Array(0);
    for (let i = 0; i < v.length; i++)
      if (value !== value || (way === "max" ? v[i]! > value : v[i]! < value)) {
        value = v[i]!;
        place = [p.places[3 * i]!, p.places[3 * i + 1]!, p.places[3 * i + 2]!];
      }
  }
  return { value, place };
}

/** The value below which a share of the size lies: pieces in order of their means, linear between their middles. */
export function percentile(parts: readonly Part[], name: string, percent: number): number {
  const list: { v: number; w: number }[] = [];
  each(parts, name, (v, first, size, p) => {
    const m = meanOf(v, first, p.corners);
    if (m === m && size > 0) list.push({ v: m, w: size });
  });
  if (list.length === 0) return Number.NaN;
  list.sort((a, b) => a.v - b.v);
  const total = list.reduce((s, x) => s + x.w, 0);
  const target = (percent / 100) * total;
  let below = 0;
  let last: { v: number; at: number } | undefined;
  for (const x of list) {
    const at = below + x.w / 2;
    if (at >= target) {
      if (!last) return x.v;
      return last.v + ((x.v - last.v) * (target - last.at)) / (at - last.at);
    }
    last = { v: x.v, at };
    below += x.w;
  }
  return last!.v;
}

/** The unit normal of a piece. @throws TableError where pieces have none */
function normalOf(p: Part): Float64Array {
  if (!p.normals) throw new TableError("this needs a plane or a patch: what is sampled has no normal");
  return p.normals;
}

/** A vector's component along the pieces' normals, at their corners. */
export function throughflow(p: Part, components: readonly string[], density?: string): Float64Array {
  const n = normalOf(p);
  const parts = components.map((c) => p.columns.get(c)?.values);
  const rho = density === undefined ? undefined : p.columns.get(density)!.values;
  return Float64Array.from({ length: p.corners * p.size.length }, (_, i) => {
    const t = Math.floor(i / p.corners);
    const flow = parts.reduce((s, v, d) => s + v![i]! * n[3 * t + d]!, 0);
    return rho ? rho[i]! * flow : flow;
  });
}

/** The integral of a place over the pieces, weighted by a column or by size alone. */
export function firstMoment(parts: readonly Part[], name: string | undefined): { moment: Place; weight: number } {
  const moment = [0, 0, 0];
  let weight = 0;
  for (const p of parts) {
    const k = p.corners;
    const w = name === undefined ? undefined : p.columns.get(name)!.values;
    for (let d = 0; d < 3; d++) {
      for (let t = 0; t < p.size.length; t++) {
        let [x, m, xm] = [0, 0, 0];
        for (let i = k * t; i < k * t + k; i++) {
          const v = w ? w[i]! : 1;
          x += p.places[3 * i + d]!;
          m += v;
          xm += p.places[3 * i + d]! * v;
        }
        moment[d]! += (p.size[t]! * (xm + x * m)) / (k * (k + 1));
        if (d === 0) weight += (p.size[t]! * m) / k;
      }
    }
  }
  return { moment: moment as unknown as Place, weight };
}

/** Force and moment about a place, from pressure along the normals and shear. */
export function load(
  parts: readonly Part[],
  pressure: string | undefined,
  reference: number,
  shear: readonly string[] | undefined,
  about: Place,
): { force: Place; moment: Place } {
  const force = [0, 0, 0];
  const moment = [0, 0, 0];
  for (const part of parts) {
    const n = normalOf(part);
    const { corners: k, size, places } = part;
    const p = pressure === undefined ? undefined : part.columns.get(pressure)!.values;
    const tau = shear?.map((s) => part.columns.get(s)!.values);
    for (let t = 0; t < size.length; t++) {
      // Stress and lever arm are linear over the piece: the integral of their product is exact.
      const stress = [0, 1, 2].map((d) =>
        Array.from(
          { length: k },
          (_, i) => (p ? (p[k * t + i]! - reference) * n[3 * t + d]! : 0) + (tau ? tau[d]![k * t + i]! : 0),
        ),
      );
      const arm = [0, 1, 2].map((d) => Array.from({ length: k }, (_, i) => places[3 * (k * t + i) + d]! - about[d]!));
      const integrate = (a: readonly number[], b: readonly number[]): number =>
        (size[t]! *
          (a.reduce((s, v, i) => s + v * b[i]!, 0) + a.reduce((x, y) => x + y, 0) * b.reduce((x, y) => x + y, 0))) /
        (k * (k + 1));
      for (let d = 0; d < 3; d++) {
        const [e, f] = [(d + 1) % 3, (d + 2) % 3];
        force[d]! += (size[t]! * stress[d]!.reduce((a, b) => a + b, 0)) / k;
        moment[d]! += integrate(arm[e]!, stress[f]!) - integrate(arm[f]!, stress[e]!);
      }
    }
  }
  return { force: force as unknown as Place, moment: moment as unknown as Place };
}
