import { describe, expect, it } from "@jest/globals";
import { pick, sliceRows } from "@oxtrum/core/tables";
import { packValue } from "../store/serialize.js";
import { sha256 } from "../store/keys.js";
import { execute } from "../scheduler/evaluate.js";
import { calls, verbCalls } from "../testing/operation-calls.js";
import { PlainHost } from "../testing/plain-host.js";
import { operations } from "./registry.js";
import type { Outcome } from "./values.js";

/**
 * What every operation gives for fixed inputs, as a digest, by its name and version; those of verbs stand with the
 * verbs. Kept results of other machines and of last year are found by name and version: whoever changes what an
 * operation gives has to raise its version, and then writes the new digest here.
 */
const golden: Readonly<Record<string, string>> = {
  "fit.terms@5": "c501959783083624",
  "fit.term@3": "1680ddc3ddceb74d",
  "fit.quality@3": "1138c0618839fddd",
  "fit.at@1": "afb831a24e2394a0",
  "fit.curve@2": "e2a69b17b7f772d6",
  "fit.applied@2": "c632775af1cf7d02",
  "quantity.at@1": "401e779c0cfdc1be",
  "quantity.in@1": "82cc8d17ff9c434e",
  "quantity.power@1": "9fe6cc5df45edbe9",
  "quantity.abs@1": "050afedd981ad23b",
  "runs.rows@3": "d757f4bc9a15461a",
  "runs.stack@4": "d3f6f7c0b0b67865",
  "runs.wide@4": "13f91c73be685eca",
  "runs.across@9": "8e5a8b84de0c21f9",
  "check@4": "46a986f43d58b52a",
  "rule.judge@3": "bd4547b78de69075",
  "rule.verdicts@2": "d4d6769407c5c8dd",
  "against.summary@3": "c9bd23ca838a2f93",
  "against.side@2": "4b6aaafa7df47c16",
  "against.measure@2": "ca3c4c40fe31d79b",
  "law.at@1": "0e6edc8d95f3b489",
  "law.curve@2": "2097e1a591ed8d45",
  "quantity.unit@1": "e1beb14c56f7187b",
  "quantity.formula@1": "d7f077453e189fcb",
  "together@1": "982eaa186106a5de",
};

const verbs = verbCalls(await PlainHost.load());
const all = [...calls, ...verbs.map((v) => v.call)];

const digestOf = ([op, args, ...inputs]: (typeof calls)[number]): string => {
  const o = execute(op, args, inputs);
  return o.kind === "failure" ? `failed: ${o.reason}` : sha256(packValue(o)).slice(0, 16);
};

/** Names, kinds and units of what an operation gives; a unit of null is one that is only known later. */
function schemaOf(o: Outcome): unknown {
  if (o.kind === "table")
    return [o.table.columns.map((c) => [c.name, c.kind, c.kind === "number" ? c.unit : ""]), o.table.axis];
  return o.kind === "quantity" ? ["quantity", o.quantity.unit] : o.kind === "failure" ? o.reason : o.kind;
}

describe("operations give what they gave", () => {
  it.each(calls.map((c) => [`${c[0]}@${operations.get(c[0])?.version}`, c] as const))("%s", (key, call) => {
    expect([key, digestOf(call)]).toEqual([key, golden[key]]);
  });
  it.each(verbs.map((v) => [`${v.call[0]}@${operations.get(v.call[0])?.version}`, v] as const))(
    "%s, as scripts call it",
    (key, { call, digest }) => {
      expect([key, digestOf(call)]).toEqual([key, digest]);
    },
  );
  it.each(all.filter(([op]) => !op.startsWith("rule.")).map((c) => [c[0], c] as const))(
    "%s: what is foreseen of its columns is what comes out",
    (_, [op, args, ...inputs]) => {
      const operation = operations.get(op)!;
      const empty = inputs.map((i): Outcome =>
        i.kind === "table"
          ? { ...i, table: { ...sliceRows(i.table, 0, 0), notes: [] } }
          : i.kind === "quantity"
            ? { ...i, quantity: { value: Number.NaN, unit: i.quantity.unit } }
            : i,
      );
      const foreseen = (operation.infer ?? operation.run).call(operation, operation.args.parse(args), empty);
      expect(foreseen && schemaOf(foreseen)).toEqual(foreseen && schemaOf(execute(op, args, inputs)));
    },
  );
  it.each(all.filter(([op]) => operations.get(op)!.needs !== undefined).map((c) => [c[0], c] as const))(
    "%s: the columns that it says it needs are enough",
    (_, [op, args, first, ...others]) => {
      if (first?.kind !== "table") throw new Error("the first input is a table");
      const { needs } = operations.get(op)!;
      const whole = execute(op, args, [first, ...others]);
      const left = (o: Outcome, names: readonly string[]): unknown =>
        o.kind === "table" ? packValue({ ...o, table: pick(o.table, names) }) : packValue(o);
      const results = whole.kind === "table" ? whole.table.columns.map((c) => [c.name]) : [[]];
      for (const wanted of results) {
        const asked = needs!(args, wanted);
        if (asked === undefined) continue;
        const enough = asked.filter((n) => first.table.columns.some((c) => c.name === n));
        const fewer = execute(op, args, [{ ...first, table: pick(first.table, [...new Set(enough)]) }, ...others]);
        expect(left(fewer, wanted)).toEqual(left(whole, wanted));
      }
    },
  );
  it("all of them, but for charts and pictures, which have tests of their own, and sums and products, which are exact", () => {
    const tested = new Set(all.map((c) => c[0]));
    const left = [...operations.values()]
      .filter((o) => !o.reads)
      .map((o) => o.name)
      .filter((o) => !tested.has(o))
      .sort();
    expect(left).toEqual(["chart", "constant", "picture", "quantity.combine"]);
  });
});
