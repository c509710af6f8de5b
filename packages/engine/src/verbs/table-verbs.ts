import { z } from "zod";
import { dictionary } from "../dictionary.js";
import * as t from "@oxtrum/core/tables";
import * as s from "@oxtrum/core/statistics";
import {
  baselineKey,
  boundArg,
  boundIn,
  constantsArg,
  constantsOf,
  formulaArg,
  quantityValue,
  tableOf,
  tableValue,
  treeOf,
} from "./arguments.js";
import { operation, type Operation } from "./operation.js";

const names = z.object({ names: z.array(z.string()) });
const name = z.object({ name: z.string() });

const condition = z.object({
  formula: formulaArg.optional(),
  equal: z
    .record(z.string(), z.union([boundArg, z.string(), z.array(z.union([boundArg, z.string()])), z.null()]))
    .optional(),
  constants: constantsArg,
});

/** Rows that fulfil a formula or equal given values, as 0 and 1. */
function keepMask(
  table: t.Table,
  args: z.infer<typeof condition>,
  constants: Parameters<typeof t.evaluateFormula>[2],
): { keep: Float64Array; what: string } {
  if (args.formula !== undefined)
    return { keep: t.evaluateFormula(treeOf(args.formula), table, constants).values, what: args.formula.text };
  const keep = new Float64Array(table.rows).fill(1);
  for (const [key, wanted] of Object.entries(args.equal ?? {})) {
    const c = t.column(table, key);
    const list = (Array.isArray(wanted) ? wanted : [wanted]).map((w) =>
      c.kind === "text" || w === null || typeof w === "string" ? w : boundIn(w, c.unit, `where ${key}`),
    );
    for (let i = 0; i < keep.length; i++) if (!list.includes(c.values[i]! as never)) keep[i] = 0;
  }
  return { keep, what: Object.keys(args.equal ?? {}).join(", ") };
}

const windowArgs = z.object({
  axis: z.string(),
  range: z.tuple([boundArg, boundArg]),
  cover: z.enum(["warn", "need"]).optional(),
});
const weights = z.object({
  name: z.string(),
  weights: z.union([z.enum(["axis", "none"]), z.strictObject({ by: z.string() })]).default("axis"),
});
const spacing = z.union([
  z.object({ step: boundArg, from: boundArg.optional(), to: boundArg.optional() }),
  z.object({ at: z.array(boundArg) }),
  z.object({ count: z.number() }),
]);

function spacingIn(given: z.infer<typeof spacing>, unit: t.UnitSymbol): t.Spacing {
  const at = (b: z.infer<typeof boundArg>, difference = false): number => boundIn(b, unit, "resample", difference);
  if ("at" in given) return { at: given.at.map((b) => at(b)) };
  if ("count" in given) return given;
  return {
    step: at(given.step, true),
    ...(given.from !== undefined && { from: at(given.from) }),
    ...(given.to !== undefined && { to: at(given.to) }),
  };
}

/** Verbs that give a table. */
export const tableVerbs: readonly Operation[] = [
  operation({ name: "table.pick", version: 1, args: names, run: (a, [i]) => tableValue(t.pick(tableOf(i), a.names)) }),
  operation({ name: "table.drop", version: 1, args: names, run: (a, [i]) => tableValue(t.drop(tableOf(i), a.names)) }),
  operation({
    name: "table.rename",
    version: 1,
    args: z.object({ names: dictionary(z.string()) }),
    run: (a, [i]) => tableValue(t.rename(tableOf(i), a.names)),
  }),
  operation({
    name: "table.along",
    version: 1,
    args: z.object({ axis: z.string() }),
    run: (a, [i]) => tableValue(t.along(tableOf(i), a.axis)),
  }),
  operation({
    name: "table.where",
    version: 2,
    args: condition,
    run: (a, inputs) => {
      const table = tableOf(inputs[0]);
      const { keep, what } = keepMask(table, a, constantsOf(a.constants, inputs));
      return tableValue(t.filterRows(table, keep, what));
    },
  }),
  operation({
    name: "table.window",
    version: 3,
    args: windowArgs,
    run: (a, [i]) => {
      const table = tableOf(i);
      const unit = t.numbers(table, a.axis).unit;
      const range = [
        boundIn(a.range[0], unit, `window on "${a.axis}"`),
        boundIn(a.range[1], unit, `window on "${a.axis}"`),
      ] as const;
      return tableValue(t.windowRows(table, a.axis, range, a.cover === undefined ? {} : { cover: a.cover }));
    },
    infer: (a, [i]) => {
      const table = tableOf(i);
      const unit = t.numbers(table, a.axis).unit;
      a.range.forEach((b) => boundIn(b, unit, `window on "${a.axis}"`));
      return tableValue(table);
    },
  }),
  operation({
    name: "table.sortBy",
    version: 1,
    args: z.object({ name: z.string(), order: z.enum(["rising", "falling"]) }),
    run: (a, [i]) => tableValue(t.sortBy(tableOf(i), a.name, a.order)),
  }),
  operation({
    name: "table.derive",
    version: 2,
    args: z.object({ name: z.string(), formula: formulaArg, unit: z.string().optional(), constants: constantsArg }),
    run: (a, inputs) => {
      const table = tableOf(inputs[0]);
      const constants = constantsOf(a.constants, inputs);
      return tableValue(t.derive(table, a.name, treeOf(a.formula), { unit: a.unit, constants }));
    },
  }),
  operation({
    name: "table.to",
    version: 1,
    args: z.object({ names: z.array(z.string()), unit: z.string() }),
    run: (a, [i]) => tableValue(t.convertColumns(tableOf(i), a.names, a.unit)),
  }),
  operation({
    name: "table.unit",
    version: 1,
    args: z.object({ name: z.string(), unit: z.string() }),
    run: (a, [i]) => tableValue(t.declareUnit(tableOf(i), a.name, a.unit)),
  }),
  operation({
    name: "table.label",
    version: 1,
    args: z.object({ name: z.string(), label: z.string() }),
    run: (a, [i]) => {
      const table = tableOf(i);
      t.column(table, a.name);
      return tableValue(
        t.withColumns(
          table,
          table.columns.map((c) => (c.name === a.name ? { ...c, label: a.label } : c)),
        ),
      );
    },
  }),
  operation({
    name: "table.cumulative",
    version: 3,
    args: name,
    run: (a, [i]) => tableValue(t.cumulative(tableOf(i), a.name)),
  }),
  operation({
    name: "table.derivative",
    version: 2,
    args: name,
    run: (a, [i]) => tableValue(t.derivative(tableOf(i), a.name)),
  }),
  operation({
    name: "table.resample",
    version: 1,
    args: z.object({ axis: z.string(), spacing }),
    run: (a, [i]) =>
      tableValue(t.resample(tableOf(i), spacingIn(a.spacing, t.numbers(tableOf(i), a.axis).unit), a.axis)),
    infer: (a, [i]) => {
      const table = tableOf(i);
      spacingIn(a.spacing, t.numbers(table, a.axis).unit);
      return tableValue(
        t.makeTable(
          table.columns.filter((c) => c.kind === "number"),
          { axis: a.axis },
        ),
      );
    },
  }),
  operation({
    name: "table.join",
    version: 1,
    args: z.object({ on: z.string().optional(), suffix: z.string().optional() }),
    run: (a, [i, j]) => tableValue(t.join(tableOf(i), tableOf(j), a)),
  }),
  operation({
    name: "table.concat",
    version: 1,
    args: z.object({}),
    run: (_, inputs) => tableValue(t.concat(inputs.map(tableOf))),
  }),
  operation({
    name: "table.tail",
    version: 1,
    args: z.object({ count: z.number().int().min(0) }),
    run: (a, [i]) => tableValue(t.sliceRows(tableOf(i), Math.max(0, tableOf(i).rows - a.count), tableOf(i).rows)),
  }),
  operation({
    name: "table.rowNumber",
    version: 1,
    args: z.object({ as: z.string() }),
    run: (a, [i]) => tableValue(s.numbered(tableOf(i), a.as)),
  }),
  operation({
    name: "table.percentiles",
    version: 1,
    args: z.object({ name: z.string(), percents: z.array(z.number()).min(1).max(1000) }),
    run: (a, [i]) => tableValue(s.percentiles(tableOf(i), a.name, a.percents)),
    infer: (a, [i]) => tableValue(s.percentiles(t.sliceRows(tableOf(i), 0, 0), a.name, a.percents)),
  }),
  operation({
    name: "table.amplitudes",
    version: 1,
    args: z.object({ name: z.string() }),
    run: (a, [i]) => tableValue(s.amplitudes(tableOf(i), a.name)),
    infer: (a, [i]) => tableValue(s.amplitudesShape(tableOf(i), a.name)),
  }),
  operation({
    name: "table.head",
    version: 1,
    args: z.object({ count: z.number().int().min(0) }),
    run: (a, [i]) => tableValue(t.sliceRows(tableOf(i), 0, Math.min(a.count, tableOf(i).rows))),
  }),
  operation({
    name: "table.compareTo",
    version: 3,
    args: z.object({ baseline: dictionary(z.union([boundArg, z.string()])), match: z.array(z.string()) }),
    run: (a, [i]) => {
      // The baseline may be among the runs that are out: then there is nothing to compare with, but no mistake.
      const absent = i?.kind === "table" && (i.left?.length ?? 0) > 0 ? "blank" : "error";
      return tableValue(s.compareTo(tableOf(i), baselineKey(tableOf(i), a.baseline), { match: a.match, absent }));
    },
    infer: (a, [i]) => {
      // One row that is its own baseline shows which columns come out.
      const table = tableOf(i);
      const key = baselineKey(table, a.baseline);
      a.match.forEach((m) => t.column(table, m));
      const row = t.makeTable(
        table.columns.map((c) =>
          c.kind === "number"
            ? { ...c, values: Float64Array.of(Number(t.own(key, c.name) ?? 1)) }
            : { ...c, values: [String(t.own(key, c.name) ?? "")] },
        ),
        { axis: table.axis },
      );
      return tableValue({ ...t.sliceRows(s.compareTo(row, key, { match: a.match }), 0, 0), notes: [] });
    },
  }),
  operation({
    name: "table.crossings",
    version: 2,
    args: z.object({ name: z.string(), level: boundArg, direction: z.enum(["both", "rising", "falling"]) }),
    run: (a, [i]) =>
      tableValue(
        s.crossings(tableOf(i), a.name, boundIn(a.level, t.numbers(tableOf(i), a.name).unit, "crossings"), a.direction),
      ),
  }),
  operation({
    name: "table.converge",
    version: 2,
    args: z.object({ name: z.string(), size: z.string() }),
    run: (a, [i]) => tableValue(s.convergenceTable(tableOf(i), a.name, a.size)),
  }),
  operation({
    name: "table.spectrum",
    version: 3,
    args: z.object({ name: z.string(), length: z.number().optional() }),
    run: (a, [i]) => tableValue(s.spectrum(tableOf(i), a.name, a)),
    infer: (a, [i]) => tableValue(s.spectrumShape(tableOf(i), a.name)),
  }),
];

/** Verbs that give a quantity. */
export const tableReductions: readonly Operation[] = [
  operation({ name: "table.max", version: 2, args: name, run: (a, [i]) => quantityValue(s.max(tableOf(i), a.name)) }),
  operation({ name: "table.min", version: 2, args: name, run: (a, [i]) => quantityValue(s.min(tableOf(i), a.name)) }),
  operation({
    name: "table.mean",
    version: 3,
    args: weights,
    run: (a, [i]) => quantityValue(s.mean(tableOf(i), a.name, a.weights)),
  }),
  operation({
    name: "table.rms",
    version: 3,
    args: weights,
    run: (a, [i]) => quantityValue(s.rms(tableOf(i), a.name, a.weights)),
  }),
  operation({
    name: "table.std",
    version: 4,
    args: weights.extend({ population: z.boolean().optional() }),
    run: (a, [i]) => quantityValue(s.std(tableOf(i), a.name, a.weights, a.population)),
  }),
  operation({
    name: "table.percentile",
    version: 2,
    args: z.object({ name: z.string(), percent: z.number() }),
    run: (a, [i]) => quantityValue(s.percentile(tableOf(i), a.name, a.percent)),
  }),
  operation({
    name: "table.integral",
    version: 3,
    args: z.object({ name: z.string(), along: z.string().optional() }),
    run: (a, [i]) => quantityValue(t.integral(tableOf(i), a.name, a.along)),
  }),
  operation({ name: "table.sum", version: 1, args: name, run: (a, [i]) => quantityValue(s.sum(tableOf(i), a.name)) }),
  operation({
    name: "table.covariance",
    version: 1,
    args: z.object({ name: z.string(), other: z.string() }),
    run: (a, [i]) => quantityValue(s.covariance(tableOf(i), a.name, a.other)),
  }),
  operation({
    name: "table.meanInterval",
    version: 1,
    args: z.object({ name: z.string(), confidence: z.number().default(0.95), end: z.enum(["lower", "upper"]) }),
    run: (a, [i]) => quantityValue(s.meanInterval(tableOf(i), a.name, a.confidence, a.end)),
  }),
  operation({
    name: "table.count",
    version: 1,
    args: name,
    run: (a, [i]) => quantityValue(s.count(tableOf(i), a.name)),
  }),
  operation({
    name: "table.at",
    version: 2,
    args: z.object({
      name: z.string(),
      place: z.union([boundArg, z.enum(["first", "last"])]),
      pick: z.enum(["exact", "nearest", "linear"]).default("linear"),
      along: z.string().optional(),
    }),
    run: (a, [i]) => {
      const table = tableOf(i);
      if (typeof a.place === "string") return quantityValue(t.rowValue(table, a.name, a.place));
      return quantityValue(
        t.valueAt(table, a.name, boundIn(a.place, t.axisOf(table, a.along).unit, `at "${a.name}"`), a.pick, a.along),
      );
    },
  }),
  operation({
    name: "table.dominant",
    version: 2,
    args: z.object({ name: z.string(), length: z.number().optional() }),
    run: (a, [i]) => quantityValue(s.dominantFrequency(tableOf(i), a.name, a)),
    infer: (a, [i]) =>
      quantityValue({ value: Number.NaN, unit: t.numbers(s.spectrumShape(tableOf(i), a.name), "frequency").unit }),
  }),
  operation({
    name: "table.settles",
    version: 2,
    args: z.object({ name: z.string(), within: boundArg, to: boundArg.optional() }),
    run: (a, [i]) => {
      const table = tableOf(i);
      const { unit } = t.numbers(table, a.name);
      return quantityValue(
        s.settles(table, a.name, {
          within: boundIn(a.within, unit, "settles within", true),
          ...(a.to !== undefined && { to: boundIn(a.to, unit, "settles to") }),
        }),
      );
    },
  }),
];
