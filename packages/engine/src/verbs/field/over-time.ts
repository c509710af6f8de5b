import { kindOf, OverTime, type Site } from "@oxtrum/core/sampling";
import { mergeConditions } from "@oxtrum/core/tables";
import { Mistake } from "../values.js";
import { gapsOf, stepOf, withConditions, type FieldOperation } from "./field-operation.js";
import { stepsWithin } from "./field-source.js";

/** Statistics over the times, place by place, weighted by how long each stands. */
export const overTime: FieldOperation = {
  name: "field.overTime",
  version: 6,
  steps: stepsWithin,
  run: (a, source) => {
    const site = a.site as Site;
    if (source.steps.length < 2) throw new Mistake("this field has one time only: there is nothing to compute over");
    if (!kindOf(site).staysOverTime)
      throw new Mistake(
        `statistics over time are for places, patches and blocks: a ${site.kind}'s pieces have no name from one time to the next`,
      );
    const over = new OverTime();
    const steps = stepsWithin(a, source).map((k) => {
      const s = stepOf(a, source, k);
      if (s.table) over.add(source.steps[k] ?? k, s.table);
      return s;
    });
    if (!steps.some((s) => s.table)) throw new Mistake(`no ${source.axis} can be read: ${steps[0]!.reason!}`);
    const table = over.result(a.statistics ?? ["mean", "rms", "min", "max"], source.unit, source.axis);
    return withConditions(table, [
      ...gapsOf(steps, source),
      ...mergeConditions(table.conditions, ...steps.map((s) => s.table?.conditions)),
    ]);
  },
};
