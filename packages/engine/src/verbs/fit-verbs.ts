import { z } from "zod";
import { dictionary } from "../dictionary.js";
import { fit, fitApplied, fitCurve, fitTable, fitTerms, type Fit, type FitRequest } from "@oxtrum/core/statistics";
import {
  missing,
  NoSuchColumn,
  numberColumn,
  numbers,
  makeTable,
  stepOf,
  textColumn,
  type Table,
} from "@oxtrum/core/tables";
import { boundArg, boundIn, formulaArg, quantityValue, tableOf, tableValue, treeOf } from "./arguments.js";
import { operation, type Operation } from "./operation.js";
import { Mistake, type Outcome, type Value } from "./values.js";

const request = z.object({
  kind: z.enum(["linear", "polynomial", "power", "exponential", "formula"]),
  y: z.string(),
  x: z.array(z.string()).min(1).max(20),
  degree: z.number().int().min(1).max(12).optional(),
  intercept: z.boolean().optional(),
  formula: formulaArg.optional(),
  start: dictionary(z.number()).optional(),
  bounds: dictionary(z.object({ lower: z.number().optional(), upper: z.number().optional() }).strict()).optional(),
  weights: z.string().optional(),
  confidence: z.number().min(0.01).max(0.9999).optional(),
});
type Args = z.infer<typeof request>;

const asked = ({ formula, ...rest }: Args): FitRequest => ({ ...rest, ...(formula && { formula: treeOf(formula) }) });

/** Names that a fit needs, looked up before there are rows. */
function known(args: Args, table: Table): FitRequest {
  const r = asked(args);
  numbers(table, r.y);
  for (const x of r.x) numbers(table, x);
  if (r.weights !== undefined) numbers(table, r.weights);
  if (r.kind === "formula" && !r.formula) throw new Mistake("a fit of a formula needs its formula");
  return r;
}

/** An operation on the fit of a table; `empty` gives the columns before there are rows. */
function ofFit<A extends Args>(
  name: string,
  args: z.ZodType<A>,
  make: (f: Fit, table: Table, r: FitRequest, a: A) => Value,
  empty: (table: Table, r: FitRequest, a: A) => Value | undefined,
  version = 1,
): Operation {
  return operation<A>({
    name,
    version,
    args,
    run: (a, [input]: readonly Outcome[]) => {
      const table = tableOf(input);
      return make(fit(table, known(a, table)), table, asked(a), a);
    },
    infer: (a, [input]: readonly Outcome[]) => {
      const table = tableOf(input);
      return empty(table, known(a, table), a);
    },
  });
}

const none: number[] = [];
const term = (r: FitRequest, name: string): void => {
  if (!fitTerms(r).includes(name)) throw new NoSuchColumn(name, fitTerms(r));
};

export const fitVerbs: readonly Operation[] = [
  ofFit(
    "fit.terms",
    request,
    (f, _, r) => tableValue(fitTable(f, r.confidence ?? 0.95, r)),
    () =>
      tableValue(
        makeTable([
          textColumn("term", []),
          ...["value", "error", "lower", "upper"].map((n) => numberColumn(n, null, none)),
          numberColumn("pValue", "1", none),
          textColumn("unit", []),
        ]),
      ),
    5,
  ),
  ofFit(
    "fit.term",
    request.extend({ term: z.string(), what: z.enum(["value", "error", "lower", "upper", "pValue"]) }),
    (f, _, r, a) => {
      term(r, a.term);
      const t = f.terms.find((x) => x.name === a.term)!;
      const method = `${r.kind} fit, ${f.points} points`;
      if (a.what === "pValue" && Number.isNaN(t.pValue))
        return quantityValue({ ...missing("a factor that is fitted as a logarithm has no p-value", "1"), method });
      return quantityValue({
        value: t[a.what],
        unit: a.what === "error" ? t.errorUnit : a.what === "pValue" ? "1" : t.unit,
        method,
      });
    },
    // The unit of a constant is known when the law is fitted.
    (_, r, a) => (term(r, a.term), a.what === "pValue" ? quantityValue({ value: Number.NaN, unit: "1" }) : undefined),
    3,
  ),
  ofFit(
    "fit.quality",
    request.extend({ what: z.enum(["rSquared", "adjusted", "residual", "points"]) }),
    (f, _, __, a) => quantityValue({ value: f[a.what], unit: a.what === "residual" ? f.residualUnit : "1" }),
    (table, r, a) =>
      quantityValue({
        value: Number.NaN,
        unit:
          a.what === "residual" && r.kind !== "power" && r.kind !== "exponential"
            ? stepOf(numbers(table, r.y).unit).unit
            : "1",
      }),
    3,
  ),
  ofFit(
    "fit.at",
    request.extend({ place: dictionary(boundArg) }),
    (f, table, r, a) => {
      const x = r.x.map((n) => {
        if (a.place[n] === undefined) throw new Mistake(`at: "${n}" is not given`);
        return boundIn(a.place[n], numbers(table, n).unit, `at ${n}`);
      });
      return quantityValue({ value: f.at(x).value, unit: numbers(table, r.y).unit, method: `${r.kind} fit` });
    },
    (table, r) => quantityValue({ value: Number.NaN, unit: numbers(table, r.y).unit }),
  ),
  ofFit(
    "fit.curve",
    request.extend({ points: z.number().int().min(2).max(100_000) }),
    (f, table, r, a) => tableValue(fitCurve(table, r, f, a.points)),
    (table, r) => {
      if (r.x.length !== 1) throw new Mistake("a curve is drawn over one x; use .applied() for several");
      const unit = numbers(table, r.y).unit;
      return tableValue(
        makeTable(
          [
            numberColumn(r.x[0]!, numbers(table, r.x[0]!).unit, none),
            ...["fit", "lower", "upper"].map((w) => numberColumn(`${r.y}.${w}`, unit, none)),
          ],
          { axis: r.x[0] },
        ),
      );
    },
    2,
  ),
  ofFit(
    "fit.applied",
    request,
    (f, table, r) => tableValue(fitApplied(table, r, f)),
    (table, r) =>
      tableValue({
        ...table,
        columns: [
          ...table.columns,
          numberColumn(`${r.y}.fit`, numbers(table, r.y).unit, none),
          numberColumn(`${r.y}.residual`, stepOf(numbers(table, r.y).unit).unit, none),
        ],
      }),
    2,
  ),
];
