import type { UnitSymbol } from "../../tables/table.js";

/** What a law takes: in this unit, within this range; without a `usual` value it has to be given. */
export interface LawInput {
  readonly unit: string;
  readonly what: string;
  readonly usual?: number;
  /** From where to where the law was found to hold. */
  readonly range?: readonly [number, number];
}

/** A published law: what it takes and gives, where it holds, and who found it. */
export interface Law {
  readonly name: string;
  readonly what: string;
  readonly source: string;
  readonly inputs: Readonly<Record<string, LawInput>>;
  readonly output: { readonly name: string; readonly unit: UnitSymbol };
  /** Of numbers in the inputs' units; gives the output in its unit, NaN where there is none. */
  readonly of: (x: Readonly<Record<string, number>>) => number;
}

export const RE: LawInput = { unit: "1", what: "Reynolds number, by the hydraulic diameter" };
export const PR = (low: number, high: number): LawInput => ({ unit: "1", what: "Prandtl number", range: [low, high] });

/**
 * Where f is zero between two bounds at which it has different signs, by halving to rounding; NaN when the signs are
 * alike.
 */
export function solve(f: (x: number) => number, low: number, high: number): number {
  let [a, b] = [low, high];
  const fa = f(a);
  if (fa === 0) return a;
  if (!(fa * f(b) <= 0)) return Number.NaN;
  for (let k = 0; k < 200 && b - a > 2e-16 * Math.max(Math.abs(a), Math.abs(b)); k++) {
    const middle = (a + b) / 2;
    if (f(middle) * fa > 0) a = middle;
    else b = middle;
  }
  return (a + b) / 2;
}
