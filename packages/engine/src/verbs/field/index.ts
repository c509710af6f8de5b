/**
 * Operations on fields, which read a run's files themselves: at one time, over times, and what there is. How scripts
 * ask for them is in `sandbox/runtime/fields.ts`, their arguments in `../field-arguments.ts`; core samples and reduces.
 */
import type { Table } from "@oxtrum/core/tables";
import { fieldArgs, type FieldArgs } from "../field-arguments.js";
import { readingOperation, type Operation } from "../operation.js";
import { reduce, sample, surface } from "./at-one-time.js";
import type { FieldOperation } from "./field-operation.js";
import type { FieldSource } from "./field-source.js";
import { history } from "./history.js";
import { overTime } from "./over-time.js";
import { blocks, times } from "./what-there-is.js";

const all = [sample, reduce, history, times, overTime, surface, blocks];
const byName: ReadonlyMap<string, FieldOperation> = new Map(all.map((o) => [o.name, o]));

/** The same as operations of the graph. */
export const fieldReads: readonly Operation[] = all.map((o) =>
  readingOperation(o.name, o.version, fieldArgs, { of: "run", what: "field" }),
);

/** The steps that an operation reads. */
export const wantedSteps = (op: string, a: FieldArgs, source: FieldSource): number[] =>
  byName.get(op)!.steps(a, source);

/** Carries out a field operation on a field that is open. */
export const executeField = (op: string, a: FieldArgs, source: FieldSource): Table => byName.get(op)!.run(a, source);

export { chosenSteps, type FieldSource } from "./field-source.js";
