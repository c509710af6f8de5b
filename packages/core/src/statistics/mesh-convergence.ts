import { makeTable, numberColumn, numbers, TableError, textColumn, type Table } from "../tables/table.js";

/** A value on meshes of rising fineness, and what it tends to. */
export interface Convergence {
  /** The observed order; NaN where the values do not approach each other. */
  readonly order: number;
  /** What the value tends to with an ever finer mesh. */
  readonly extrapolated: number;
  /** Relative difference of the two finest values, and of the finest to the extrapolated one. */
  readonly difference: number;
  readonly error: number;
  /** The grid convergence index of the finest mesh, a share: 1.25 times its estimated error. */
  readonly index: number;
  readonly kind: "monotonic" | "oscillating" | "diverging" | "level";
  readonly note: string;
}

const SAFETY = 1.25;

/**
 * Observed order, extrapolated value and grid convergence index from the three finest of three or more meshes, with
 * uneven ratios (I. Celik et al., "Procedure for estimation and reporting of uncertainty due to discretization", J.
 * Fluids Eng. 130, 078001, 2008, after P. Roache). The order solves their equation (by halving).
 *
 * Whether the values converge is judged by the ratio of their differences corrected for uneven refinement: each
 * difference over the logarithm of its ratio of sizes, which is what the differences tend to where the order is small.
 *
 * @param sizes of the cells, in any order; the smallest is the finest
 * @throws Error for less than three meshes, or two of one size
 * @example meshConvergence([1, 1.5, 2], [6.063, 5.972, 5.863]).order // about 1.53 with r = 1.5 and 1.333
 */
export function meshConvergence(sizes: readonly number[], values: readonly number[]): Convergence {
  const all = sizes
    .map((h, i) => ({ h, v: values[i]! }))
    .filter((l) => Number.isFinite(l.h + l.v))
    .sort((a, b) => a.h - b.h);
  if (all.length < 3)
    throw new Error(
      `mesh convergence needs three meshes with a value; there ${all.length === 1 ? "is" : "are"} ${all.length}`,
    );
  const [one, two, three] = all as [{ h: number; v: number }, { h: number; v: number }, { h: number; v: number }];
  if (!(one.h > 0) || one.h === two.h || two.h === three.h)
    throw new Error("the meshes' cells have to differ in size, and be larger than zero");
  const [r21, r32] = [two.h / one.h, three.h / two.h];
  const [e21, e32] = [two.v - one.v, three.v - two.v];
  const difference = Math.abs(e21 / one.v);
  const nothing = { order: Number.NaN, extrapolated: Number.NaN, error: Number.NaN, index: Number.NaN, difference };
  const scale = Math.max(Math.abs(one.v), Math.abs(two.v), Math.abs(three.v));
  if (Math.abs(e21) <= 1e-14 * scale)
    return {
      ...nothing,
      kind: "level",
      note: "the two finest meshes give the same: neither order nor index can be told",
    };
  const ratio = e32 / e21;
  const sign = Math.sign(ratio);
  // Of values that go up and down, differences of alternating sign: their limit does not depend on the ratios of sizes.
  const corrected = sign < 0 ? Math.abs(ratio) : (ratio * Math.log(r21)) / Math.log(r32);
  if (!(corrected > 1))
    return {
      ...nothing,
      kind: "diverging",
      note: "the finer meshes differ by more than the coarser ones, for their ratios of sizes: the values do not approach each other",
    };
  const order = orderOf(Math.abs(ratio), sign, r21, r32);
  if (order === undefined) return { ...nothing, kind: "diverging", note: "no order up to 50 solves for these values" };
  const extrapolated = (r21 ** order * one.v - two.v) / (r21 ** order - 1);
  const error = Math.abs((extrapolated - one.v) / extrapolated);
  const index = (SAFETY * difference) / (r21 ** order - 1);
  return sign < 0
    ? {
        order,
        extrapolated,
        difference,
        error,
        index,
        kind: "oscillating",
        note: "the values go up and down: the order and what follows from it are rough",
      }
    : {
        order,
        extrapolated,
        difference,
        error,
        index,
        kind: "monotonic",
        note: all.length > 3 ? `from the three finest of ${all.length} meshes` : "from three meshes",
      };
}

const HIGHEST = 50;

/** The p at which |ε₃₂/ε₂₁| = r₂₁ᵖ (r₃₂ᵖ − s) / (r₂₁ᵖ − s); the right side rises with p. */
function orderOf(ratio: number, sign: number, r21: number, r32: number): number | undefined {
  const side = (p: number): number => (r21 ** p * (r32 ** p - sign)) / (r21 ** p - sign);
  let [low, high] = [0, 1];
  while (side(high) < ratio && high < HIGHEST) high *= 2;
  if (side(high) < ratio) return undefined;
  for (let k = 0; k < 200 && high - low > 1e-15 * high; k++) {
    const middle = (low + high) / 2;
    if (side(middle) < ratio) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** The mesh convergence of a column over the meshes' cell sizes: a table of one row. */
export function convergenceTable(table: Table, name: string, size: string): Table {
  const [v, h] = [numbers(table, name), numbers(table, size)];
  if (table.rows === 0) return row(v.unit);
  try {
    return row(v.unit, meshConvergence(Array.from(h.values), Array.from(v.values)));
  } catch (e) {
    throw new TableError(`"${name}" over "${size}": ${(e as Error).message}`);
  }
}

const row = (unit: string | null, c?: Convergence): Table =>
  makeTable(
    [
      numberColumn("order", "1", c ? [c.order] : []),
      numberColumn("extrapolated", unit, c ? [c.extrapolated] : []),
      numberColumn("difference", "1", c ? [c.difference] : []),
      numberColumn("error", "1", c ? [c.error] : []),
      numberColumn("gci", "1", c ? [c.index] : []),
      textColumn("kind", c ? [c.kind] : []),
    ],
    { notes: c ? [c.note] : [] },
  );
