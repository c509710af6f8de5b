import { z } from "zod";
import {
  combineQuantities,
  displayUnit,
  formatNumber,
  missing,
  parseUnit,
  powerUnit,
  quantityIn,
  type Quantity,
  conditionText,
  mergeConditions,
  nearly,
  type Condition,
} from "@oxtrum/core/tables";
import { boundArg, quantityArg, quantityOf, quantityValue } from "./arguments.js";
import { operation, type Operation } from "./operation.js";
import {
  isRefused,
  mergeExcluded,
  Mistake,
  notTried,
  type CheckResult,
  type ExcludedRun,
  type Outcome,
} from "./values.js";

function power(q: Quantity, exponent: number): Quantity {
  const unit = q.unit === null ? null : powerUnit(parseUnit(q.unit), exponent).symbol;
  return q.reason === undefined ? { value: q.value ** exponent, unit } : missing(q.reason, unit);
}

const combine = z.object({
  op: z.enum(["plus", "minus", "times", "over"]),
  /** A bare number: it is in the unit of the quantity that it is added to or taken from. */
  bare: z.number().optional(),
  /** The other one was written with its unit, as `5 K`. */
  literal: z.boolean().optional(),
});

function combined({ op, bare, literal }: z.infer<typeof combine>, a: Quantity, b: Quantity | undefined): Quantity {
  if (bare === undefined) return combineQuantities(op, a, b!, literal);
  if (a.reason !== undefined) return missing(a.reason, a.unit);
  return { value: op === "plus" ? a.value + bare : a.value - bare, unit: a.unit };
}

/** Verbs on quantities. */
export const quantityVerbs: readonly Operation[] = [
  operation({
    name: "constant",
    version: 1,
    args: quantityArg,
    run: (a) => quantityValue({ value: a.value, unit: a.unit }),
  }),
  operation({
    name: "quantity.in",
    version: 1,
    args: z.object({ unit: z.string() }),
    run: (a, [i]) => quantityValue(quantityIn(quantityOf(i), a.unit)),
  }),
  operation({
    name: "quantity.unit",
    version: 1,
    args: z.object({ unit: z.string() }),
    run: (a, [i]) => quantityValue({ ...quantityOf(i), unit: parseUnit(a.unit).symbol }),
  }),
  operation({
    name: "quantity.combine",
    version: 2,
    args: combine,
    run: (a, [i, j]) => quantityValue(combined(a, quantityOf(i), j && quantityOf(j))),
  }),
  operation({
    name: "quantity.power",
    version: 1,
    args: z.object({ exponent: z.number() }),
    run: (a, [i]) => quantityValue(power(quantityOf(i), a.exponent)),
  }),
  operation({
    name: "quantity.abs",
    version: 1,
    args: z.object({}),
    run: (_, [i]) => quantityValue({ ...quantityOf(i), value: Math.abs(quantityOf(i).value) }),
  }),
  operation({
    name: "quantity.at",
    version: 1,
    args: z.object({}),
    run: (_, [i]) => {
      const q = quantityOf(i);
      if (q.at) return quantityValue({ value: q.at.value, unit: q.at.unit });
      return quantityValue(missing(q.reason ?? "this value belongs to no place on an axis"));
    },
    // Where a value lies is known with the value.
    infer: () => undefined,
  }),
];

/** Arithmetic on quantities that are known while the script runs; the same operations as in the graph. */
export function knownArithmetic(request: { op: string; args: unknown; a?: unknown; b?: unknown }): Quantity {
  const found = quantityVerbs.find((o) => o.name === request.op);
  if (!found) throw new Mistake(`no operation ${request.op}`);
  const inputs: Outcome[] = [request.a, request.b]
    .filter((x) => x !== undefined)
    .map((x) => quantityValue(quantityArg.parse(x) as Quantity));
  return quantityOf(found.run(found.args.parse(request.args), inputs));
}

const limit = z.array(z.union([boundArg, z.object({ input: z.number() })])).optional();
const checkArgs = z.object({
  below: limit,
  above: limit,
  within: limit,
  equal: limit,
  missing: z.enum(["undecided", "allow"]),
  conditions: z.enum(["undecided", "allow"]).default("undecided"),
});

/** Conditions that leave open what a value would be without them; others only say how it came to be. */
const open: ReadonlySet<Condition["kind"]> = new Set<Condition["kind"]>([
  "cut off",
  "unfinished line",
  "damaged rows",
  "missing cells",
  "long lines",
  "diverged",
  "gap",
  "coverage",
  "not finished",
]);

const say = (q: Quantity): string => `${formatNumber(q.value)}${displayUnit(q.unit) ? " " + displayUnit(q.unit) : ""}`;

function whoIsOut(left: readonly ExcludedRun[]): string {
  const out = left.filter((l) => l.reason !== notTried);
  const waiting = left.length - out.length;
  const named = out.slice(0, 3).map((l) => l.run);
  return [
    ...(out.length > 0
      ? [`${out.length} run${out.length === 1 ? "" : "s"} excluded: ${named.join(", ")}${out.length > 3 ? " …" : ""}`]
      : []),
    ...(waiting > 0 ? [`${waiting} run${waiting === 1 ? "" : "s"} pending`] : []),
  ].join("; ");
}

/**
 * A limit in the value's unit.
 * @throws Mistake where one unit is known and the other is not: no comparison would mean anything
 */
function limitIn(b: Quantity, q: Quantity): number {
  if (b.unit === q.unit || (q.unit === null && b.unit === "1")) return b.value;
  if (q.unit === null || b.unit === null)
    throw new Mistake(
      `the ${q.unit === null ? "value" : "limit"} has no known unit, and the ` +
        `${q.unit === null ? "limit" : "value"} is in ` +
        `${displayUnit(q.unit ?? b.unit) || "plain numbers"}: say the unit with .unit()`,
    );
  return quantityIn(b, q.unit).value;
}

/** Whether a value keeps its limits. */
export function judge(
  args: z.infer<typeof checkArgs>,
  q: Quantity,
  inputs: readonly Outcome[],
  left: readonly ExcludedRun[],
  conditions: readonly Condition[] = [],
): CheckResult {
  const limits = (list: z.infer<typeof limit>): Quantity[] =>
    (list ?? []).map((l) =>
      typeof l === "number"
        ? { value: l, unit: q.unit }
        : "input" in l
          ? quantityOf(inputs[l.input as number])
          : (l as Quantity),
    );
  const words: string[] = [];
  let good = true;
  const test = (bounds: Quantity[], word: string, holds: (x: number, b: number[]) => boolean): void => {
    if (bounds.length === 0) return;
    words.push(`${word} ${bounds.map(say).join(" … ")}`);
    const same = bounds.map((b) => limitIn(b, q));
    if (!holds(q.value, same)) good = false;
  };
  // A limit in another unit is off by its rounding: what is equal but for that is equal.
  test(limits(args.below), "<", (x, [b]) => x < b! && !nearly(x, b!));
  test(limits(args.above), ">", (x, [b]) => x > b! && !nearly(x, b!));
  test(limits(args.within), "within", (x, [a, b]) => (x >= a! || nearly(x, a!)) && (x <= b! || nearly(x, b!)));
  test(limits(args.equal), "=", (x, [b]) => nearly(x, b!));
  const limitWords = words.join(", ");
  const base = { value: q, limit: limitWords };
  if (q.reason !== undefined || q.value !== q.value)
    return { ...base, verdict: "failed", reason: `there is no value: ${q.reason ?? "it is missing"}` };
  const out = left.filter((l) => !isRefused(l));
  if (out.length > 0 && args.missing !== "allow")
    return { ...base, verdict: good ? "undecided" : "failed", reason: whoIsOut(out) };
  const doubts = conditions.filter((c) => open.has(c.kind));
  if (doubts.length > 0 && args.conditions !== "allow") {
    const open = doubts.filter((c) => c.kind === "not finished");
    if (open.length > 0) return { ...base, verdict: good ? "undecided" : "failed", reason: pending(open) };
    const more = doubts.length > 1 ? ` and ${doubts.length - 1} more conditions` : "";
    return { ...base, verdict: good ? "undecided" : "failed", reason: `${conditionText(doubts[0]!)}${more}` };
  }
  return { ...base, verdict: good ? "passed" : "failed" };
}

/** That runs are still being computed: the value may change. */
function pending(open: readonly Condition[]): string {
  const runs = [...new Set(open.map((c) => c.run ?? ""))].filter((r) => r !== "");
  const named = runs.length > 0 ? ` (${runs.slice(0, 3).join(", ")}${runs.length > 3 ? ", …" : ""})` : "";
  return `pending: ${runs.length > 1 ? `${runs.length} runs are` : "a run is"} not finished${named}`;
}

/** A check: passed, failed, or undecided while a run is out. It never passes on what is missing. */
export const checkOperation: Operation = operation({
  name: "check",
  version: 4,
  args: checkArgs,
  takesFailures: true,
  run: (a, inputs) => {
    const failed = inputs.find((i) => i.kind === "failure");
    if (failed?.kind === "failure")
      return {
        kind: "check",
        check: { verdict: "undecided", value: missing(failed.reason), limit: "", reason: failed.reason },
      };
    const left = mergeExcluded(...inputs.map((i) => (i.kind === "failure" ? [] : i.left)));
    const runs = inputs.flatMap((i) => (i.kind !== "failure" && i.runs ? [i.runs] : []))[0];
    const conditions = mergeConditions(...inputs.map((i) => (i.kind === "failure" ? undefined : i.conditions)));
    return {
      kind: "check",
      check: judge(a, quantityOf(inputs[0]), inputs, left, conditions),
      left,
      ...(runs && { runs }),
    };
  },
});
