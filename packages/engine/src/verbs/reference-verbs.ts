import { z } from "zod";
import { dictionary } from "../dictionary.js";
import * as s from "@oxtrum/core/statistics";
import * as t from "@oxtrum/core/tables";
import {
  boundArg,
  boundIn,
  constantsArg,
  constantsOf,
  formulaArg,
  quantityArg,
  quantityOf,
  quantityValue,
  tableOf,
  tableValue,
  treeOf,
} from "./arguments.js";
import { operation, type Operation } from "./operation.js";
import { Mistake, type Outcome } from "./values.js";

const againstArgs = z.object({
  y: z.string(),
  reference: z.string().optional(),
  on: z.string().optional(),
  within: z.union([z.object({ amount: boundArg }), z.object({ relative: boundArg })]).optional(),
  shift: z.union([z.literal("estimate"), boundArg]).optional(),
  maxLag: boundArg.optional(),
});
type Against = z.infer<typeof againstArgs>;

function options(table: t.Table, a: Against): s.AgainstOptions {
  const { unit } = t.numbers(table, a.y);
  const axis = t.axisOf(table, a.on).unit;
  const { within, shift, maxLag, ...rest } = a;
  return {
    ...rest,
    ...(within !== undefined && {
      within:
        "amount" in within
          ? { amount: boundIn(within.amount, unit, "against: within", true) }
          : { relative: boundIn(within.relative, "1", "against: within") },
    }),
    ...(shift !== undefined && { shift: shift === "estimate" ? shift : boundIn(shift, axis, "against: shift", true) }),
    ...(maxLag !== undefined && { maxLag: boundIn(maxLag, axis, "against: maxLag", true) }),
  };
}

/** Names and units of both sides, before there are rows. */
function checked(a: Against, inputs: readonly Outcome[]): { table: t.Table; unit: t.UnitSymbol; axis: t.NumberColumn } {
  const [table, reference] = [tableOf(inputs[0]), tableOf(inputs[1])];
  options(table, a);
  t.numbers(reference, a.reference ?? a.y);
  return { table, unit: t.numbers(table, a.y).unit, axis: t.axisOf(table, a.on) };
}

const difference = (unit: t.UnitSymbol): t.UnitSymbol => t.stepOf(unit).unit;

const agreement = (a: Against, inputs: readonly Outcome[]): s.Agreement =>
  s.against(tableOf(inputs[0]), tableOf(inputs[1]), options(tableOf(inputs[0]), a));

const measureArgs = againstArgs.extend({ what: z.enum(["bias", "rms", "largest", "within", "shift", "correlation"]) });

function measure(a: z.infer<typeof measureArgs>, inputs: readonly Outcome[]): t.Quantity {
  const found = agreement(a, inputs);
  const unit =
    a.what === "shift" ? found.axis.unit : a.what === "within" || a.what === "correlation" ? "1" : found.differenceUnit;
  const value = found[a.what];
  if (value !== value)
    return t.missing(a.what === "within" ? "no tolerance was given: { within: … }" : "one side does not change", unit);
  const method = found.notes.join("; ");
  const at = a.what === "largest" ? { at: { ...found.axis, value: found.where } } : {};
  return { value, unit, method, ...at };
}

/** A column's agreement with measured data, another run or a formula. */
export const againstVerbs: readonly Operation[] = [
  operation({
    name: "against.summary",
    version: 3,
    args: againstArgs,
    run: (a, inputs) => tableValue(s.agreementTable(agreement(a, inputs))),
    infer: (a, inputs) => {
      checked(a, inputs);
      return tableValue(s.agreementTable(undefined));
    },
  }),
  operation({
    name: "against.side",
    version: 2,
    args: againstArgs,
    run: (a, inputs) => tableValue(agreement(a, inputs).side),
    infer: (a, inputs) => {
      const { table, unit, axis } = checked(a, inputs);
      const offset = t.stepOf(unit).ownZero;
      const none: number[] = [];
      return tableValue(
        t.makeTable(
          [
            t.numberColumn(axis.name, axis.unit, none),
            { ...t.numbers(table, a.y), values: new Float64Array(0) },
            t.numberColumn("reference", unit, none),
            t.numberColumn("difference", difference(unit), none),
            ...(offset ? [] : [t.numberColumn("percent", "%", none)]),
          ],
          { axis: axis.name },
        ),
      );
    },
  }),
  operation({
    name: "against.measure",
    version: 2,
    args: measureArgs,
    run: (a, inputs) => quantityValue(measure(a, inputs)),
    infer: (a, inputs) => {
      const { unit, axis } = checked(a, inputs);
      return quantityValue({
        value: Number.NaN,
        unit: a.what === "shift" ? axis.unit : a.what === "within" || a.what === "correlation" ? "1" : difference(unit),
      });
    },
  }),
];

/** Inputs of a law: columns by name, quantities as they are, or other nodes. */
const lawInputs = dictionary(z.union([z.string(), quantityArg, z.object({ input: z.number() })]));
type LawInputs = z.infer<typeof lawInputs>;
const outside = z.enum(["blank", "keep"]).optional();

function given(inputs: LawInputs, nodes: readonly Outcome[]): Record<string, string | s.Given> {
  return Object.fromEntries(
    Object.entries(inputs).map(([name, v]) => {
      if (typeof v === "string") return [name, v];
      const q = "input" in v ? quantityOf(nodes[v.input as number]) : (v as t.Quantity);
      return [name, { value: q.value, unit: q.unit }];
    }),
  );
}

function fixed(inputs: LawInputs, nodes: readonly Outcome[]): Record<string, s.Given> {
  const out = given(inputs, nodes);
  for (const [name, v] of Object.entries(out))
    if (typeof v === "string")
      throw new Mistake(`law: ${name} is the name of a column, but there is no table; give a quantity`);
  return out as Record<string, s.Given>;
}

const place = z.union([quantityArg, z.object({ input: z.number() })]);
const curveArgs = z.object({
  law: z.string(),
  over: z.string(),
  from: place,
  to: place,
  inputs: lawInputs,
  points: z.number().int().min(2).max(100_000),
  steps: z.enum(["even", "log"]),
  outside,
});

function curve(a: z.infer<typeof curveArgs>, nodes: readonly Outcome[], points = a.points): t.Table {
  const { from, to } = given({ from: a.from, to: a.to }, nodes) as Record<"from" | "to", s.Given>;
  return s.lawCurve(a.law, a.over, { from, to }, fixed(a.inputs, nodes), points, a.steps, a.outside);
}

/** Published laws, wall units, and formulas of quantities. */
export const lawVerbs: readonly Operation[] = [
  operation({
    name: "law.at",
    version: 1,
    args: z.object({ law: z.string(), inputs: lawInputs, outside }),
    run: (a, nodes) => quantityValue(s.lawAt(a.law, fixed(a.inputs, nodes), a.outside)),
    infer: (a) => quantityValue({ value: Number.NaN, unit: s.lawNamed(a.law).output.unit }),
  }),
  operation({
    name: "law.curve",
    version: 2,
    args: curveArgs,
    run: (a, nodes) => tableValue(curve(a, nodes)),
    infer: (a) => {
      const law = s.lawNamed(a.law);
      const input = Object.hasOwn(law.inputs, a.over) ? law.inputs[a.over]! : undefined;
      if (!input) throw new Mistake(`${law.name} takes ${Object.keys(law.inputs).join(", ")}; not "${a.over}"`);
      return tableValue(
        t.makeTable([t.numberColumn(a.over, input.unit, []), t.numberColumn(law.output.name, law.output.unit, [])], {
          axis: a.over,
        }),
      );
    },
  }),
  operation({
    name: "quantity.formula",
    version: 1,
    args: z.object({ formula: formulaArg, unit: z.string().optional(), constants: constantsArg }),
    run: (a, nodes) => {
      const constants = constantsOf(a.constants, nodes);
      const lost = Object.entries(constants).find(([, c]) => (c as t.Quantity).reason !== undefined);
      const { values, unit } = t.evaluateFormula(treeOf(a.formula), { columns: [], rows: 1, notes: [] }, constants);
      const q: t.Quantity = lost
        ? t.missing(`${lost[0]}: ${(lost[1] as t.Quantity).reason!}`, unit)
        : {
            value: values[0]!,
            unit,
            ...(values[0] === values[0] ? {} : { reason: `${a.formula.text} gives no number` }),
          };
      return quantityValue(a.unit === undefined ? q : t.quantityIn(q, a.unit));
    },
  }),
  operation({
    name: "together",
    version: 1,
    args: z.object({
      names: z.array(z.string()),
      on: z.string().optional(),
      axis: z.union([z.enum(["union", "intersection"]), z.object({ step: boundArg })]).optional(),
    }),
    run: (a, nodes) => {
      const tables = Object.fromEntries(a.names.map((n, k) => [n, tableOf(nodes[k])]));
      const unit = t.axisOf(tableOf(nodes[0]), a.on).unit;
      const axis =
        a.axis === undefined || typeof a.axis === "string"
          ? a.axis
          : { step: boundIn(a.axis.step, unit, "together", true) };
      return tableValue(s.together(tables, { on: a.on, axis }));
    },
  }),
];
