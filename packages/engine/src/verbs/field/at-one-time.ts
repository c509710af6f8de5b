import { formatNumber, mergeConditions, numbers, type Column, type Table } from "@oxtrum/core/tables";
import type { FieldArgs } from "../field-arguments.js";
import { Mistake } from "../values.js";
import { atStep, type FieldOperation } from "./field-operation.js";
import { chosenSteps, type FieldSource } from "./field-source.js";

/** One row's numbers between two of a table's: linear in all number columns. */
function between(parts: readonly { table: Table; weight: number }[]): Table {
  const [first] = parts;
  if (parts.length === 1) return first!.table;
  const columns = first!.table.columns.map((c): Column => {
    if (c.kind === "text") return c;
    const values = new Float64Array(c.values.length);
    for (const p of parts) {
      const other = numbers(p.table, c.name).values;
      for (let i = 0; i < values.length; i++) values[i]! += p.weight * other[i]!;
    }
    return { ...c, values };
  });
  const merged = mergeConditions(...parts.map((p) => p.table.conditions));
  return { ...first!.table, columns, ...(merged.length > 0 && { conditions: merged }) };
}

const steps: FieldOperation["steps"] = (a, source) => chosenSteps(source, a.when).map((c) => c.step);

function run(a: FieldArgs, source: FieldSource): Table {
  const chosen = chosenSteps(source, a.when);
  if (a.view && chosen.length > 1) throw new Mistake("a picture shows one time: one of the file's, or the nearest");
  const table = between(chosen.map(({ step, weight }) => ({ weight, table: atStep(a, source, step) })));
  const times = chosen.map((c) => source.steps[c.step]).filter((t) => t !== undefined);
  if (times.length === 0 || source.steps.length < 2) return table;
  return { ...table, notes: [...table.notes, `${source.axis} ${times.map((t) => formatNumber(t)).join(" and ")}`] };
}

/** Values at a site. */
export const sample: FieldOperation = { name: "field.sample", version: 6, steps, run };
/** Numbers of a site. */
export const reduce: FieldOperation = { name: "field.reduce", version: 9, steps, run };
/** What a picture needs of a site. */
export const surface: FieldOperation = {
  name: "field.surface",
  version: 6,
  steps,
  run: (a, source) => run({ ...a, view: a.view ?? {} }, source),
};
