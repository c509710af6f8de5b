import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { pick, sliceRows } from "@oxtrum/core/tables";
import { packValue } from "../store/serialize.js";
import { execute } from "../scheduler/evaluate.js";
import { proofTables } from "../testing/operation-calls.js";
import { PlainHost } from "../testing/plain-host.js";
import { operations } from "./registry.js";
import { tableVerbs } from "./table/index.js";
import type { Outcome } from "./values.js";

/**
 * Verbs after verbs, chosen at random, asked of one history: what is foreseen of the columns is what comes out, and the
 * columns that the chain says it needs of its first table are enough.
 */
const host = await PlainHost.load();
const history = proofTables["history"]!;

/** Verbs of one table that give one, with what their proofs give them. */
const steps = tableVerbs.flatMap(({ form, definition }) =>
  form.gives === "table" && !form.parameters.some((p) => p.kind === "table" || p.kind === "tables")
    ? definition.proof
        .filter((p) => p.on === "history" && !JSON.stringify(p.given).includes('"quantity"'))
        .map((p) => ({ verb: form.name, given: p.given }))
    : [],
);

interface Call {
  readonly op: string;
  readonly args: unknown;
  readonly others: readonly Outcome[];
}

/** The operations of a chain, as a script makes them. */
function callsOf(chain: readonly (typeof steps)[number][]): Call[] {
  let at = host.table(history) as unknown as Record<string, (...given: unknown[]) => { $id: number }>;
  return chain.map(({ verb, given }) => {
    const next = at[verb]!(...given);
    const [op, args, , ...others] = host.call(next);
    at = next as never;
    return { op, args, others };
  });
}

const run = (calls: readonly Call[], first: Outcome): Outcome =>
  calls.reduce((value, c) => execute(c.op, c.args, [value, ...c.others]), first);

function foreseen(calls: readonly Call[], first: Outcome): Outcome | undefined {
  let value: Outcome | undefined = first;
  for (const c of calls) {
    if (value === undefined || value.kind === "failure") return value;
    const o = operations.get(c.op)!;
    try {
      value = (o.infer ?? o.run).call(o, o.args.parse(c.args), [value, ...c.others]);
    } catch (e) {
      return { kind: "failure", reason: (e as Error).message };
    }
  }
  return value;
}

const heads = (o: Outcome): unknown =>
  o.kind === "table"
    ? o.table.columns.map((c) => [c.name, c.kind === "number" ? c.unit : "words"])
    : o.kind === "failure"
      ? `failed: ${o.reason}`
      : o.kind;

const chain = fc.array(fc.constantFrom(...steps), { minLength: 1, maxLength: 5 });
const empty: Outcome =
  history.kind === "table" ? { ...history, table: { ...sliceRows(history.table, 0, 0), notes: [] } } : history;

describe("chains of verbs", () => {
  it("there are many to choose from", () => {
    expect(steps.length).toBeGreaterThan(25);
  });
  it("have the columns and units that are foreseen of them", () => {
    fc.assert(
      fc.property(chain, (chosen) => {
        const calls = callsOf(chosen);
        const ahead = foreseen(calls, empty);
        if (ahead === undefined) return;
        const real = run(calls, history);
        // What fails by the rows that are there cannot be foreseen; what is foreseen to fail fails.
        if (real.kind === "failure") return;
        if (ahead.kind === "table") expect(ahead.table.rows).toBe(0);
        expect(heads(ahead)).toEqual(heads(real));
      }),
      { numRuns: 400 },
    );
  });
  it("say what they need of whatever they are given, before it is checked", () => {
    // By name: what is told of a failure is then read at once.
    const verbs = [...operations.values()].filter((o) => o.needs).map((o) => o.name);
    // Also what no text can be made of, as JSON allows it.
    const odd = fc.oneof(fc.anything(), fc.constant([{ toString: false }]), fc.constant({ toString: null }));
    fc.assert(
      fc.property(fc.constantFrom(...verbs), fc.array(odd, { maxLength: 8 }), (verb, given) => {
        const o = operations.get(verb)!;
        const names = Object.keys((o.args as unknown as { shape: object }).shape);
        const args = Object.fromEntries(names.map((n, k) => [n, given[k]]));
        const needs = o.needs!(args, ["T"]);
        expect(needs === undefined || needs.every((n) => typeof n === "string")).toBe(true);
        if (!o.args.safeParse(args).success) expect(needs).toBeUndefined();
      }),
      { numRuns: 2000 },
    );
  });
  it("need no more columns than they say", () => {
    fc.assert(
      fc.property(chain, (chosen) => {
        const calls = callsOf(chosen);
        const whole = run(calls, history);
        if (whole.kind !== "table" || history.kind !== "table") return;
        for (const { name } of whole.table.columns) {
          let wanted: readonly string[] | undefined = [name];
          for (const c of [...calls].reverse()) wanted = operations.get(c.op)!.needs?.(c.args, wanted);
          if (wanted === undefined) continue;
          const there = [...new Set(wanted)].filter((n) => history.table.columns.some((c) => c.name === n));
          const fewer = run(calls, { ...history, table: pick(history.table, there) });
          const only = (o: Outcome): unknown =>
            o.kind === "table" ? packValue({ ...o, table: pick(o.table, [name]) }) : heads(o);
          expect(only(fewer)).toEqual(only(whole));
        }
      }),
      { numRuns: 150 },
    );
  });
});
