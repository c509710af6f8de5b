import { z } from "zod";
import { dictionary } from "../dictionary.js";
import * as s from "@oxtrum/core/statistics";
import * as t from "@oxtrum/core/tables";
import { baselineKey, boundArg, tableOf, tableValue } from "./arguments.js";
import { operation, type Operation } from "./operation.js";
import { binOptions } from "./signal-verbs.js";

const show = z.array(z.enum(s.groupStatistics)).optional();
const columns = z.array(z.string()).optional();
const names = z.object({ names: z.array(z.string()) });
const study = z.object({ output: z.string(), parameters: z.array(z.string()) });
const groupArgs = z.object({ by: z.array(z.string()), columns, show });
const binArgs = z.object({
  name: z.string(),
  count: z.number().optional(),
  width: boundArg.optional(),
  edges: z.array(boundArg).optional(),
  columns,
  show,
});
const pivotArgs = z.object({
  rows: z.array(z.string()),
  columns: z.string(),
  values: z.string(),
  show: z.enum(s.groupStatistics).optional(),
});

/** Verbs that sort rows into groups, set them side by side, or judge one against the others. */
export const groupVerbs: readonly Operation[] = [
  operation({
    name: "table.groupBy",
    version: 2,
    args: groupArgs,
    run: (a, [i]) => tableValue(s.groupBy(tableOf(i), a.by, a)),
  }),
  operation({
    name: "table.bins",
    version: 2,
    args: binArgs,
    run: (a, [i]) =>
      tableValue(
        s.bins(tableOf(i), a.name, { ...binOptions(tableOf(i), a, a.name), columns: a.columns, show: a.show }),
      ),
    infer: (a, [i]) => {
      const table = tableOf(i);
      binOptions(table, a, a.name);
      return tableValue({ ...s.bins(table, a.name, { columns: a.columns, show: a.show }), notes: [] });
    },
  }),
  operation({
    name: "table.pivot",
    version: 2,
    args: pivotArgs,
    run: (a, [i]) => tableValue(s.pivot(tableOf(i), a)),
    // Which columns there will be stands in the rows.
    infer: (a, [i]) => {
      s.pivot(tableOf(i), a);
      return undefined;
    },
  }),
  operation({
    name: "table.balance",
    version: 1,
    args: z.object({ names: z.array(z.string()), as: z.string().optional() }),
    run: (a, [i]) => tableValue(s.balance(tableOf(i), a.names, a.as)),
  }),
  operation({
    name: "table.rank",
    version: 1,
    args: z.object({ name: z.string(), order: z.enum(["rising", "falling"]) }),
    run: (a, [i]) => tableValue(s.rank(tableOf(i), a.name, a.order)),
  }),
  operation({
    name: "table.governing",
    version: 1,
    args: z.object({ name: z.string(), which: z.enum(["max", "min"]) }),
    run: (a, [i]) => {
      const table = tableOf(i);
      const c = t.numbers(table, a.name);
      const { value } = s[a.which](table, a.name);
      const row = c.values.indexOf(value);
      return tableValue(
        row < 0
          ? t.sliceRows(table, 0, 0)
          : t.takeRows(
              table,
              [row],
              [`the row with the ${a.which === "max" ? "largest" : "smallest"} "${a.name}" of ${table.rows}`],
            ),
      );
    },
  }),
  operation({
    name: "table.outliers",
    version: 2,
    args: z.object({
      name: z.string(),
      rule: z.enum(["quartiles", "median", "deviation"]).optional(),
      limit: z.number().positive().optional(),
    }),
    run: (a, [i]) => tableValue(s.outliers(tableOf(i), a.name, a)),
  }),
  operation({
    name: "table.correlations",
    version: 1,
    args: names,
    run: (a, [i]) => tableValue(s.correlations(tableOf(i), a.names)),
  }),
  operation({
    name: "table.effects",
    version: 2,
    args: study,
    run: (a, [i]) => tableValue(s.effects(tableOf(i), a.output, a.parameters)),
  }),
  operation({
    name: "table.sensitivities",
    version: 1,
    args: study,
    run: (a, [i]) => tableValue(s.sensitivities(tableOf(i), a.output, a.parameters)),
  }),
  operation({
    name: "table.pairs",
    version: 2,
    args: z.object({ baseline: dictionary(z.union([boundArg, z.string()])), columns }),
    run: (a, [i]) => tableValue(s.pairs(tableOf(i), baselineKey(tableOf(i), a.baseline), a.columns)),
  }),
];
