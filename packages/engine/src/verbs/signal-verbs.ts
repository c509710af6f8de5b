import { z } from "zod";
import * as s from "@oxtrum/core/statistics";
import * as t from "@oxtrum/core/tables";
import {
  boundArg,
  boundIn,
  constantsArg,
  constantsOf,
  formulaArg,
  quantityOf,
  quantityValue,
  tableOf,
  tableValue,
  treeOf,
} from "./arguments.js";
import { operation, type Operation } from "./operation.js";
import { Mistake } from "./values.js";

const name = z.object({ name: z.string() });
const axisUnit = (table: t.Table): t.UnitSymbol => t.axisOf(table).unit;
/** A length along a table's axis. */
const lengthOf = (table: t.Table, b: z.infer<typeof boundArg>, what: string): number =>
  boundIn(b, axisUnit(table), what, true);

/** A frequency for an axis: bare numbers are in one over its unit. */
function frequencyOf(table: t.Table, b: z.infer<typeof boundArg>, what: string): number {
  const unit = axisUnit(table);
  return boundIn(b, unit === null ? null : t.powerUnit(t.parseUnit(unit), -1).symbol, what);
}

const cycleArgs = z.object({
  name: z.string(),
  period: boundArg,
  from: boundArg.optional(),
  points: z.number().int().optional(),
});
const shiftArgs = z.object({ name: z.string(), other: z.string().optional(), most: boundArg.optional() });
const histogramArgs = z.object({
  name: z.string(),
  count: z.number().optional(),
  width: boundArg.optional(),
  edges: z.array(boundArg).optional(),
});

function cycleOptions(table: t.Table, a: z.infer<typeof cycleArgs>): s.CycleOptions & { points?: number | undefined } {
  return {
    period: lengthOf(table, a.period, "cycles: period"),
    ...(a.from !== undefined && { from: boundIn(a.from, axisUnit(table), "cycles: from") }),
    points: a.points,
  };
}

function shiftOptions(table: t.Table, a: z.infer<typeof shiftArgs>): s.ShiftOptions {
  return { other: a.other, ...(a.most !== undefined && { most: lengthOf(table, a.most, "most") }) };
}

/** Bins of a column as numbers in its unit. */
export function binOptions(
  table: t.Table,
  a: Omit<z.infer<typeof histogramArgs>, "name">,
  column: string,
): { count?: number; width?: number; edges?: number[] } {
  const { unit } = t.numbers(table, column);
  return {
    ...(a.count !== undefined && { count: a.count }),
    ...(a.width !== undefined && { width: boundIn(a.width, unit, "bins: width", true) }),
    ...(a.edges !== undefined && { edges: a.edges.map((e) => boundIn(e, unit, "bins: edges")) }),
  };
}

/** The axis counted from an event; with `length` only so much after it. */
function since(table: t.Table, event: t.Quantity, length: z.infer<typeof boundArg> | undefined): t.Table {
  if (event.reason !== undefined || event.value !== event.value)
    throw new Mistake(`since: the event has no place: ${event.reason ?? "it is missing"}`);
  const axis = t.axisOf(t.risingAlong(table));
  const at = boundIn({ value: event.value, unit: event.unit }, axis.unit, "since");
  const move = (rows: t.Table): t.Table =>
    s.moveAxis(rows, -at, `counted from ${t.formatNumber(at)} ${t.displayUnit(axis.unit)}`.trimEnd());
  if (table.rows === 0) return move(table);
  // The window is taken on the axis as it is: near zero, nothing tells rounding from a step.
  const last = Math.max(at, axis.values[table.rows - 1]!);
  const to = length === undefined ? last : at + boundIn(length, axis.unit, "since: for", true);
  return move(t.windowRows(table, axis.name, [at, to]));
}

/** Verbs along one axis: smoothing, filters, cycles, peaks, steadiness, distribution. */
export const signalVerbs: readonly Operation[] = [
  operation({
    name: "table.smooth",
    version: 2,
    args: z.object({
      name: z.string(),
      over: boundArg.optional(),
      rows: z.number().optional(),
      trailing: z.boolean().optional(),
      how: z.enum(["mean", "peaks"]).optional(),
      degree: z.number().optional(),
    }),
    run: (a, [i]) => {
      if ((a.over === undefined) === (a.rows === undefined))
        throw new Mistake("smooth: say how wide the window is: over so much of the axis, or so many rows");
      if (a.rows !== undefined)
        return tableValue(s.movingAverage(tableOf(i), a.name, { rows: a.rows, trailing: a.trailing }));
      return tableValue(s.smooth(tableOf(i), a.name, { ...a, over: lengthOf(tableOf(i), a.over!, "smooth: over") }));
    },
  }),
  operation({
    name: "table.lowpass",
    version: 1,
    args: z.object({ name: z.string(), below: boundArg, order: z.number().optional() }),
    run: (a, [i]) => {
      const table = tableOf(i);
      t.numbers(table, a.name);
      return tableValue(s.lowpass(table, a.name, { ...a, below: frequencyOf(table, a.below, "lowpass: below") }));
    },
  }),
  operation({
    name: "table.detrend",
    version: 2,
    args: z.object({ name: z.string(), degree: z.number().optional() }),
    run: (a, [i]) => tableValue(s.detrend(tableOf(i), a.name, a.degree)),
  }),
  operation({
    name: "table.running",
    version: 1,
    args: z.object({ name: z.string(), what: z.enum(["max", "min"]) }),
    run: (a, [i]) => tableValue(s.running(tableOf(i), a.name, a.what)),
  }),
  operation({
    name: "table.peaks",
    version: 1,
    args: z.object({
      name: z.string(),
      above: boundArg.optional(),
      prominence: boundArg.optional(),
      apart: boundArg.optional(),
    }),
    run: (a, [i]) => {
      const table = tableOf(i);
      const { unit } = t.numbers(table, a.name);
      return tableValue(
        s.peaks(table, a.name, {
          ...(a.above !== undefined && { above: boundIn(a.above, unit, "peaks: above") }),
          ...(a.prominence !== undefined && { prominence: boundIn(a.prominence, unit, "peaks: prominence", true) }),
          ...(a.apart !== undefined && { apart: lengthOf(table, a.apart, "peaks: apart") }),
        }),
      );
    },
  }),
  operation({
    name: "table.cycles",
    version: 1,
    args: cycleArgs,
    run: (a, [i]) => tableValue(s.cycles(tableOf(i), a.name, cycleOptions(tableOf(i), a))),
  }),
  operation({
    name: "table.cycleMean",
    version: 1,
    args: cycleArgs,
    run: (a, [i]) => tableValue(s.cycleMean(tableOf(i), a.name, cycleOptions(tableOf(i), a))),
  }),
  operation({
    name: "table.histogram",
    version: 2,
    args: histogramArgs,
    run: (a, [i]) => tableValue(s.histogram(tableOf(i), a.name, binOptions(tableOf(i), a, a.name))),
    infer: (a, [i]) => {
      const table = t.sliceRows(tableOf(i), 0, 0);
      return tableValue({
        ...s.histogram(table, a.name, binOptions(table, { count: a.count, width: a.width }, a.name)),
        notes: [],
      });
    },
  }),
  operation({
    name: "table.describe",
    version: 3,
    args: z.object({ names: z.array(z.string()) }),
    run: (a, [i]) => tableValue(s.describeColumns(tableOf(i), a.names)),
    infer: (a, [i]) => tableValue(t.sliceRows(s.describeColumns(tableOf(i), a.names), 0, 0)),
  }),
  operation({
    name: "table.since",
    version: 2,
    args: z.object({ length: boundArg.optional() }),
    run: (a, [i, j]) => tableValue(since(tableOf(i), quantityOf(j), a.length)),
    infer: (a, [i, j]) => {
      quantityOf(j);
      t.axisOf(tableOf(i));
      return tableValue(tableOf(i));
    },
  }),
  operation({
    name: "table.move",
    version: 1,
    args: z.object({}),
    run: (_, [i, j]) => {
      const table = tableOf(i);
      const by = quantityOf(j);
      if (by.reason !== undefined) throw new Mistake(`move: there is no shift: ${by.reason}`);
      const unit = axisUnit(table);
      const d = boundIn({ value: by.value, unit: by.unit }, unit, "move", true);
      return tableValue(s.moveAxis(table, d, `moved by ${t.formatNumber(d)} ${t.displayUnit(unit)}`.trimEnd()));
    },
    infer: (_, [i, j]) => {
      quantityOf(j);
      t.axisOf(tableOf(i));
      return tableValue(tableOf(i));
    },
  }),
  operation({
    name: "table.crossCorrelation",
    version: 1,
    args: shiftArgs,
    run: (a, [i, j]) => tableValue(s.crossCorrelation(tableOf(i), a.name, tableOf(j), shiftOptions(tableOf(i), a))),
  }),
];

const level = z.object({ name: z.string(), level: boundArg });
const exceeds = (way: "above" | "below"): Operation =>
  operation({
    name: way === "above" ? "table.timeAbove" : "table.timeBelow",
    version: 2,
    args: level,
    run: (a, [i]) =>
      quantityValue(
        s.exceedance(tableOf(i), a.name, boundIn(a.level, t.numbers(tableOf(i), a.name).unit, `time ${way}`), way),
      ),
  });

/** Verbs along one axis that give a quantity. */
export const signalReductions: readonly Operation[] = [
  operation({
    name: "table.skewness",
    version: 2,
    args: name,
    run: (a, [i]) => quantityValue(s.skewness(tableOf(i), a.name)),
  }),
  operation({
    name: "table.kurtosis",
    version: 2,
    args: name,
    run: (a, [i]) => quantityValue(s.kurtosis(tableOf(i), a.name)),
  }),
  operation({
    name: "table.steadyFrom",
    version: 1,
    args: name,
    run: (a, [i]) => quantityValue(s.steadyFrom(tableOf(i), a.name)),
  }),
  operation({
    name: "table.meanError",
    version: 1,
    args: name,
    run: (a, [i]) => quantityValue(s.meanError(tableOf(i), a.name)),
  }),
  operation({
    name: "table.correlationLength",
    version: 1,
    args: name,
    run: (a, [i]) => {
      t.numbers(tableOf(i), a.name);
      return quantityValue(s.correlationLength(tableOf(i), a.name));
    },
  }),
  exceeds("above"),
  exceeds("below"),
  operation({
    name: "table.timeShift",
    version: 2,
    args: shiftArgs,
    run: (a, [i, j]) => quantityValue(s.timeShift(tableOf(i), a.name, tableOf(j), shiftOptions(tableOf(i), a))),
  }),
  operation({
    name: "table.value",
    version: 5,
    args: z.object({ formula: formulaArg, unit: z.string().optional(), constants: constantsArg }),
    run: (a, inputs) => {
      const q = s.reduceFormula(tableOf(inputs[0]), treeOf(a.formula), constantsOf(a.constants, inputs));
      return quantityValue(a.unit === undefined ? q : t.quantityIn(q, a.unit));
    },
  }),
];
