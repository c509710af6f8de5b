import { FormatError } from "@oxtrum/core/formats";
import {
  reduceSite,
  sampleSite,
  viewOf,
  withDerivatives,
  type DerivedField,
  type FieldAtTime,
  type Reductions,
  type SampleOptions,
  type Site,
} from "@oxtrum/core/sampling";
import { formatNumber, maybeStop, type Condition, type Table, type UnitSymbol } from "@oxtrum/core/tables";
import { treeOf } from "../arguments.js";
import type { FieldArgs } from "../field-arguments.js";
import { Mistake } from "../values.js";
import type { FieldSource } from "./field-source.js";

/** An operation on a field: it reads a run's files itself, those of the steps that it needs. */
export interface FieldOperation {
  readonly name: string;
  /** Raised whenever the same files give another result. */
  readonly version: number;
  /** The steps that it reads. */
  steps(a: FieldArgs, source: FieldSource): number[];
  run(a: FieldArgs, source: FieldSource): Table;
}

function derivedOf(a: FieldArgs): DerivedField[] {
  return a.derived.map((d) => ({
    name: d.name,
    formula: treeOf(d.formula),
    unit: d.unit,
    constants: Object.fromEntries(
      Object.entries(d.constants).map(([k, c]) => {
        if ("input" in c) throw new Mistake(`derive "${d.name}": the constant "${k}" has to be known before the run`);
        return [k, c as { value: number; unit: UnitSymbol }];
      }),
    ),
  }));
}

/** What is made of one step: a view, a reduction or a sample, with the fields that a script derives. */
export function atStep(a: FieldArgs, source: FieldSource, step: number): Table {
  const options = (a.sampling ?? {}) as SampleOptions;
  const one = (given: FieldAtTime): Table => {
    maybeStop();
    const f = a.derivatives ? withDerivatives(given, a.derivatives) : given;
    const site = a.site as Site;
    if (a.view) return viewOf(f, site, a.view);
    return a.reductions
      ? reduceSite(f, site, a.reductions as Reductions, options)
      : sampleSite(f, site, a.fields ?? [], options);
  };
  return source.withStep(step, derivedOf(a), one);
}

/** What one time of a history gave, or why it gave nothing. */
export interface StepResult {
  readonly step: number;
  readonly table?: Table;
  readonly reason?: string;
}

/** One of many steps; where gaps are allowed, one that cannot be read says why. */
export function stepOf(a: FieldArgs, source: FieldSource, step: number): StepResult {
  try {
    return { step, table: atStep(a, source, step) };
  } catch (e) {
    if (a.gaps !== "allow" || !(e instanceof FormatError)) throw e;
    return { step, reason: `${e.file}: ${e.message}` };
  }
}

/** A condition for each time that could not be read. */
export const gapsOf = (steps: readonly StepResult[], source: FieldSource): Condition[] =>
  steps.flatMap((s): Condition[] =>
    s.reason === undefined
      ? []
      : [
          {
            kind: "gap",
            file: "",
            text: `${source.axis} ${formatNumber(source.steps[s.step] ?? s.step)} is missing: ${s.reason}`,
          },
        ],
  );

export const withConditions = (table: Table, conditions: readonly Condition[]): Table =>
  conditions.length > 0 ? { ...table, conditions } : table;
