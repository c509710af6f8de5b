import { z } from "zod";
import * as t from "@oxtrum/core/tables";
import { reduceFormula } from "@oxtrum/core/statistics";
import { boundArg, boundIn, formulaArg, formulaArgument, tableOf, treeOf } from "./arguments.js";
import { operation, type Operation } from "./operation.js";
import { judge } from "./quantity-verbs.js";
import type { CheckResult, Outcome } from "./values.js";

const judgeArgs = z.object({
  name: z.string(),
  formula: formulaArg,
  over: boundArg.optional(),
  where: z.string().optional(),
  below: boundArg.optional(),
  above: boundArg.optional(),
  within: z.tuple([boundArg, boundArg]).optional(),
});
type Judge = z.infer<typeof judgeArgs>;

/** The number that a rule looks at. */
function decisive(a: Judge, given: t.Table): t.Quantity {
  let table = given;
  if (a.over !== undefined) {
    const axis = t.axisOf(table);
    const last = axis.values.reduce((m, v) => (v > m ? v : m), -Infinity);
    if (table.rows > 0) table = t.windowRows(table, axis.name, [last - boundIn(a.over, axis.unit, "over", true), last]);
  }
  if (a.where !== undefined)
    table = t.filterRows(table, t.evaluateFormula(t.parseFormula(a.where), table).values, a.where);
  return reduceFormula(table, treeOf(a.formula));
}

const limits = (a: Judge): Parameters<typeof judge>[0] => ({
  ...(a.below !== undefined && { below: [a.below] }),
  ...(a.above !== undefined && { above: [a.above] }),
  ...(a.within !== undefined && { within: [...a.within] }),
  missing: "allow",
  conditions: "allow",
});

/** A table's number, judged by a rule of the study. A blank value is not accepted. */
function verdictOf(a: Judge, table: t.Table): CheckResult {
  return judge(limits(a), decisive(a, table), [], []);
}

/**
 * A table's number, judged by a rule as a study's definition has it.
 * @throws what a formula or a conversion of units gives
 */
export function judgedBy(
  rule: { readonly value: string } & Partial<Record<"over" | "where" | "below" | "above" | "within", unknown>>,
  table: t.Table,
): CheckResult {
  const { value, over, where, below, above, within } = rule;
  return verdictOf(
    judgeArgs.parse({ name: "", formula: formulaArgument(value), over, where, below, above, within }),
    table,
  );
}

/** The number that a formula of whole columns makes of a table, as rules have it. */
export const numberOf = (formula: string, table: t.Table): t.Quantity =>
  reduceFormula(table, treeOf(formulaArgument(formula)));

const say = (q: t.Quantity): string => `${t.formatNumber(q.value)} ${t.displayUnit(q.unit)}`.trim();

const verdictsArgs = z.object({ runs: z.array(z.string()), rules: z.array(z.string()) });

/** Why a run does not count; the empty word when it does. */
function refusals(rules: readonly string[], own: readonly Outcome[]): string {
  return own
    .flatMap((o, k) => {
      if (o.kind === "failure") return [`${rules[k]!}: cannot be judged: ${o.reason}`];
      if (o.kind !== "check" || o.check.verdict === "passed") return [];
      const { value, limit, reason } = o.check;
      return [`${rules[k]!}: ${reason ?? `${say(value)}, limit: ${limit}`}`];
    })
    .join("; ");
}

/** Whether runs count, by the rules of their study's definition. */
export const ruleVerbs: readonly Operation[] = [
  operation({
    name: "rule.judge",
    version: 3,
    args: judgeArgs,
    run: (a, [i]) => ({ kind: "check", check: verdictOf(a, tableOf(i)) }),
  }),
  operation({
    name: "rule.verdicts",
    version: 2,
    args: verdictsArgs,
    takesFailures: true,
    run: (a, inputs) => {
      const of = (run: number): readonly Outcome[] => inputs.slice(run * a.rules.length, (run + 1) * a.rules.length);
      const because = a.runs.map((_, k) => refusals(a.rules, of(k)));
      const columns = a.rules.map((rule, j): t.Column => {
        const values = a.runs.map((_, k) => {
          const o = of(k)[j];
          return o?.kind === "check" ? o.check.value : undefined;
        });
        const unit = values.find((v) => v !== undefined && v.unit !== null)?.unit ?? null;
        return t.numberColumn(
          rule,
          unit,
          values.map((v) =>
            v === undefined || v.reason !== undefined
              ? Number.NaN
              : v.unit === unit || unit === null || v.unit === null
                ? v.value
                : t.quantityIn(v, unit).value,
          ),
        );
      });
      const table = t.makeTable([
        t.textColumn("run", a.runs),
        t.textsOf(because, "accepted", (b) => (b === "" ? "yes" : "no")),
        ...columns,
        t.textColumn("because", because),
      ]);
      return { kind: "table", table, left: [], runs: a.runs };
    },
    infer: (a) => ({
      kind: "table",
      table: t.makeTable([
        t.textColumn("run", []),
        t.textColumn("accepted", []),
        ...a.rules.map((r) => t.numberColumn(r, null, [])),
        t.textColumn("because", []),
      ]),
    }),
  }),
];
