import { z } from "zod";
import { fit, type Fit, type FitRequest } from "@oxtrum/core/statistics";
import { numbers, type Table } from "@oxtrum/core/tables";
import { formulaArg, tableOf, treeOf } from "../arguments.js";
import { operation } from "../operation.js";
import { asked, resolved, shapeOf, type AskedOperation, type MethodDefinition } from "../parameters/method.js";
import type { Given, Parameters } from "../parameters/parameter.js";
import { Mistake, type Value } from "../values.js";
import { fitParameters } from "./fit-parameters.js";

/** What is fitted: the kind of law, and what a script gives for it. */
const request = z.object({
  kind: z.enum(["linear", "polynomial", "power", "exponential", "formula"]),
  ...shapeOf(fitParameters),
  formula: formulaArg.optional(),
});
type Args = z.infer<typeof request>;

const requestOf = (args: unknown): FitRequest => {
  const { kind, y, x, degree, intercept, formula, start, bounds, weights, confidence } = args as Args &
    Omit<FitRequest, "kind" | "formula">;
  const given = { degree, intercept, start, bounds, weights, confidence };
  return {
    kind,
    y,
    x,
    ...Object.fromEntries(Object.entries(given).filter(([, v]) => v !== undefined)),
    ...(formula && { formula: treeOf(formula) }),
  };
};

/** A request whose names are looked up before there are rows. */
function known(args: unknown, table: Table): FitRequest {
  const r = requestOf(args);
  numbers(table, r.y);
  for (const x of r.x) numbers(table, x);
  if (r.weights !== undefined) numbers(table, r.weights);
  if (r.kind === "formula" && !r.formula) throw new Mistake("a fit of a formula needs its formula");
  return r;
}

interface FitOperation<P extends Parameters, F extends z.ZodRawShape> {
  readonly name: string;
  /** Raised whenever the same inputs give another result. */
  readonly version: number;
  readonly gives: "table" | "quantity";
  readonly parameters: P;
  /** What its methods fix. */
  readonly fixed: F;
  readonly methods: readonly MethodDefinition[];
  execute(f: Fit, table: Table, r: FitRequest, given: Given<P> & z.infer<z.ZodObject<F>>): Value;
  /** What comes of a table without rows; undefined when only the fit can tell. */
  foresee(table: Table, r: FitRequest, given: Given<P> & z.infer<z.ZodObject<F>>): Value | undefined;
}

/**
 * Makes an operation on the fit of a table from its one description.
 *
 * @example fitOperation({ name: "fit.terms", version: 5, gives: "table", parameters: {}, fixed: {}, methods: […], … })
 */
export function fitOperation<const P extends Parameters, F extends z.ZodRawShape>(
  d: FitOperation<P, F>,
): AskedOperation {
  const all = (args: unknown, table: Table): Given<P> & z.infer<z.ZodObject<F>> => ({
    ...(args as z.infer<z.ZodObject<F>>),
    ...resolved(d.parameters, { verb: d.name, table, args: args as Record<string, unknown>, inputs: [] }),
  });
  const made = operation({
    name: d.name,
    version: d.version,
    args: request.extend({ ...shapeOf(d.parameters), ...d.fixed }) as z.ZodType,
    run: (args, [input]) => {
      const table = tableOf(input);
      return d.execute(fit(table, known(args, table)), table, requestOf(args), all(args, table));
    },
    infer: (args, [input]) => {
      const table = tableOf(input);
      return d.foresee(table, known(args, table), all(args, table));
    },
  });
  return asked(made, d.gives, d.parameters, d.methods);
}
