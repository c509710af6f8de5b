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
} from "@oxtrum/core/tables";
import { boundArg, quantityArg, quantityOf, quantityValue } from "./arguments.js";
import { operation, type Operation } from "./operation.js";
import { isRefused, joinLeft, Mistake, notTried, type CheckResult, type LeftOut, type Outcome } from "./values.js";

function power(q: Quantity, exponent: number): Quantity {
  const unit = q.unit === null ? null : powerUnit(parseUnit(q.unit), exponent).symbol;
  return q.reason === undefined ? { value: q.value ** exponent, unit } : missing(q.reason, unit);
}

const combine = z.object({ op: z.enum(["plus", "minus", "times", "over"]) });

/** Verbs on quantities. */
export const quantityVerbs: readonly Operation[] = [
  operation({ name: "constant", version: 1, args: quantityArg, run: (a) => quantityValue({ value: a.value, unit: a.unit }) }),
  operation({ name: "quantity.in", version: 1, args: z.object({ unit: z.string() }), run: (a, [i]) => quantityValue(quantityIn(quantityOf(i), a.unit)) }),
  operation({ name: "quantity.combine", version: 1, args: combine, run: (a, [i, j]) => quantityValue(combineQuantities(a.op, quantityOf(i), quantityOf(j))) }),
  operation({ name: "quantity.power", version: 1, args: z.object({ exponent: z.number() }), run: (a, [i]) => quantityValue(power(quantityOf(i), a.exponent)) }),
  operation({ name: "quantity.abs", version: 1, args: z.object({}), run: (_, [i]) => quantityValue({ ...quantityOf(i), value: Math.abs(quantityOf(i).value) }) }),
  operation({
    name: "quantity.at", version: 1, args: z.object({}),
    run: (_, [i]) => {
      const q = quantityOf(i);
      if (q.at) return quantityValue({ value: q.at.value, unit: q.at.unit });
      return quantityValue(missing(q.reason ?? "this value belongs to no place on an axis"));
    },
    infer: () => quantityValue({ value: Number.NaN, unit: null }),
  }),
]; // prettier-ignore

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
});

const say = (q: Quantity): string => `${formatNumber(q.value)}${displayUnit(q.unit) ? " " + displayUnit(q.unit) : ""}`;

function whoIsOut(left: readonly LeftOut[]): string {
  const out = left.filter((l) => l.reason !== notTried);
  const waiting = left.length - out.length;
  const named = out.slice(0, 3).map((l) => l.run);
  return [
    ...(out.length > 0
      ? [`${out.length} run${out.length === 1 ? " is" : "s are"} out: ${named.join(", ")}${out.length > 3 ? " …" : ""}`]
      : []),
    ...(waiting > 0 ? [`${waiting} run${waiting === 1 ? " is" : "s are"} not in yet`] : []),
  ].join("; ");
}

/** Whether a value keeps its limits. */
export function judge(
  args: z.infer<typeof checkArgs>,
  q: Quantity,
  inputs: readonly Outcome[],
  left: readonly LeftOut[],
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
    const same = bounds.map((b) =>
      b.unit === q.unit || q.unit === null || (b.unit === "1" && q.unit === "1")
        ? b.value
        : quantityIn(b, q.unit).value,
    );
    if (!holds(q.value, same)) good = false;
  };
  test(limits(args.below), "below", (x, [b]) => x < b!);
  test(limits(args.above), "above", (x, [b]) => x > b!);
  test(limits(args.within), "within", (x, [a, b]) => x >= a! && x <= b!);
  test(limits(args.equal), "equal to", (x, [b]) => x === b);
  const limitWords = words.join(", ");
  const base = { value: q, limit: limitWords };
  if (q.reason !== undefined || q.value !== q.value)
    return { ...base, verdict: "failed", reason: `there is no value: ${q.reason ?? "it is missing"}` };
  const open = left.filter((l) => !isRefused(l));
  if (open.length > 0 && args.missing !== "allow")
    return { ...base, verdict: good ? "undecided" : "failed", reason: whoIsOut(open) };
  return { ...base, verdict: good ? "passed" : "failed" };
}

/** A check: passed, failed, or undecided while a run is out. It never passes on what is missing. */
export const checkOperation: Operation = operation({
  name: "check", version: 1, args: checkArgs, takesFailures: true,
  run: (a, inputs) => {
    const failed = inputs.find((i) => i.kind === "failure");
    if (failed?.kind === "failure") return { kind: "check", check: { verdict: "undecided", value: missing(failed.reason), limit: "", reason: failed.reason } };
    const left = joinLeft(...inputs.map((i) => (i.kind === "failure" ? [] : i.left)));
    const runs = inputs.flatMap((i) => (i.kind !== "failure" && i.runs ? [i.runs] : []))[0];
    return { kind: "check", check: judge(a, quantityOf(inputs[0]), inputs, left), left, ...(runs && { runs }) };
  },
}); // prettier-ignore
