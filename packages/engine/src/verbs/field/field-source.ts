import type { DerivedField, FieldAtTime } from "@oxtrum/core/sampling";
import { formatNumber, nearly, type UnitSymbol } from "@oxtrum/core/tables";
import { boundIn } from "../arguments.js";
import type { FieldArgs } from "../field-arguments.js";
import { Mistake } from "../values.js";

/** A field over its times. `steps` are undefined where files say no time. */
export interface FieldSource {
  readonly axis: string;
  readonly unit: UnitSymbol;
  readonly lengthUnit: UnitSymbol;
  readonly steps: readonly (number | undefined)[];
  /** Works with one step; what it has opened is closed again behind it. */
  withStep<T>(step: number, derived: readonly DerivedField[], use: (f: FieldAtTime) => T): T;
}

const SAME = 1e-9;

/** Which steps a choice means, with their weights: one step, or two to interpolate between. */
export function chosenSteps(source: FieldSource, when: FieldArgs["when"]): { step: number; weight: number }[] {
  const { steps } = source;
  const last = steps.length - 1;
  if (when === "last") return [{ step: last, weight: 1 }];
  if (when === "first") return [{ step: 0, weight: 1 }];
  if (when === undefined) {
    if (steps.length === 1) return [{ step: 0, weight: 1 }];
    throw new Mistake(
      `this field has ${steps.length} times: choose one with .at({ ${source.axis}: … }), or ask for a .history`,
    );
  }
  const value = boundIn(when.value, source.unit, `at ${source.axis}`);
  const known = steps.map((s) => s ?? Number.NaN);
  const near = known.reduce((best, s, k) => (Math.abs(s - value) < Math.abs(known[best]! - value) ? k : best), 0);
  const scale = Math.max(Math.abs(known[0]!), Math.abs(known[last]!), 1e-300);
  if (when.pick === "nearest" || Math.abs(known[near]! - value) <= SAME * scale) return [{ step: near, weight: 1 }];
  if (when.pick === "linear") {
    const right = known.findIndex((s) => s > value);
    if (right > 0) {
      const t = (value - known[right - 1]!) / (known[right]! - known[right - 1]!);
      return [
        { step: right - 1, weight: 1 - t },
        { step: right, weight: t },
      ];
    }
  }
  throw new Mistake(
    `there is no ${source.axis} ${formatNumber(value)}; there is ` +
      `${listed(known)}${when.pick === "exact" ? '. To take the nearest one, add { pick: "nearest" }' : ""}`,
  );
}

const listed = (steps: readonly number[]): string =>
  steps.length <= 6
    ? steps.map((s) => formatNumber(s)).join(", ")
    : `${steps
        .slice(0, 3)
        .map((s) => formatNumber(s))
        .join(", ")} … ${formatNumber(steps[steps.length - 1]!)}, ${steps.length} in all`;

/** The steps of the chosen times or of the window; all of them where nothing is said. */
export function stepsWithin(a: FieldArgs, source: FieldSource): number[] {
  if (a.times) {
    const asked = a.times.map((t) => chosenSteps(source, { value: t, pick: "exact" })[0]!.step);
    return [...new Set(asked)].sort((x, y) => x - y);
  }
  const range = a.window?.map((b) => boundIn(b, source.unit, `window on ${source.axis}`));
  const within = source.steps.flatMap((t, k) => (range && !inWindow(t ?? k, range as [number, number]) ? [] : [k]));
  if (within.length === 0) throw new Mistake(`no ${source.axis} of this field lies in the window`);
  return within;
}

/** Whether a time lies in a window, ends included; ends that were converted are compared within rounding. */
const inWindow = (t: number, [from, to]: readonly [number, number]): boolean =>
  (t >= from || nearly(t, from)) && (t <= to || nearly(t, to));
