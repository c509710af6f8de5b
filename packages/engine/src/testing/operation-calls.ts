import { makeTable, numberColumn, textColumn } from "@oxtrum/core/tables";
import { formulaArgument } from "../verbs/arguments.js";
import type { Proof, TableVerb } from "../verbs/parameters/table-verb.js";
import { tableVerbs } from "../verbs/table/index.js";
import type { Outcome } from "../verbs/values.js";
import type { OperationCall, PlainHost } from "./plain-host.js";

/**
 * A call of every operation with fixed inputs: for golden values, and for properties that all operations share. Those
 * of verbs stand with the verbs.
 */

const n = 40;
const at = (f: (i: number) => number): Float64Array => Float64Array.from({ length: n }, (_, i) => f(i));
const history: Outcome = {
  kind: "table",
  table: makeTable(
    [
      numberColumn(
        "time",
        "s",
        at((i) => i + (i > 20 ? 0.25 : 0)),
      ),
      numberColumn(
        "T",
        "K",
        at((i) => 280 + 10 * Math.exp(-i / 8) + (i === 7 ? Number.NaN : 0)),
      ),
      numberColumn(
        "q",
        "W",
        at((i) => (i % 5) - 1.5),
      ),
      textColumn(
        "state",
        Array.from({ length: n }, (_, i) => (i % 2 ? "on" : "off")),
      ),
    ],
    { axis: "time" },
  ),
};
const other: Outcome = {
  kind: "table",
  table: makeTable(
    [
      numberColumn("time", "s", [0, 10, 45]),
      numberColumn("T", "K", [281, 285, 279]),
      numberColumn("p", "Pa", [1, 2, 4]),
    ],
    { axis: "time" },
  ),
};
const rows: Outcome = {
  kind: "table",
  table: makeTable([
    textColumn("run", ["a", "b"]),
    numberColumn("fan", "%", [50, 75]),
    numberColumn("peak", "degC", [3, 5]),
  ]),
};
const quantity = (value: number, unit: string): Outcome => ({
  kind: "quantity",
  quantity: { value, unit, at: { name: "time", value: 3, unit: "s" } },
});
const bound = (value: number, unit: string): object => ({ value, unit });
const members = {
  runs: ["a", "b"],
  missing: [{ run: "c", reason: "it broke" }],
  params: [{ fan: 50 }, { fan: 75 }],
  units: { fan: "%" },
};

const levels: Outcome = {
  kind: "table",
  table: makeTable([numberColumn("time", "m", [1, 2, 4, 8]), numberColumn("p", "Pa", [10.25, 11, 14, 26])]),
};
const waves: Outcome = {
  kind: "table",
  table: makeTable(
    [
      numberColumn(
        "time",
        "s",
        Float64Array.from({ length: 64 }, (_, i) => i / 4),
      ),
      numberColumn(
        "p",
        "Pa",
        Float64Array.from({ length: 64 }, (_, i) => (i % 7) - (i % 3)),
      ),
    ],
    { axis: "time" },
  ),
};
const twoFans: Outcome = {
  kind: "table",
  table: makeTable([numberColumn("fan", "%", [50, 75]), numberColumn("fan2", "1", [0.6, 0.7])]),
};
const profile: Outcome = {
  kind: "table",
  table: makeTable([numberColumn("y", "mm", [0, 0.1, 1]), numberColumn("u", "m/s", [0, 0.5, 2])]),
};
const judged: Outcome = {
  kind: "check",
  check: { verdict: "failed", value: { value: 3, unit: "K" }, limit: "< 1 K" },
};
const law = { kind: "exponential", y: "T", x: ["time"] };

/** What the proofs of verbs are asked of, by name. */
export const proofTables: Readonly<Record<string, Outcome>> = { history, other, rows, levels, waves, twoFans, profile };

/** A proof as a script's call, whose result may be several quantities. */
function proofCalls(host: PlainHost, { form }: TableVerb, proof: Proof): OperationCall[] {
  const [first, ...others] = proof.on.split(",").map((name) => host.table(proofTables[name]!));
  const given = proof.given.map((g) =>
    g !== null && typeof g === "object" && !Array.isArray(g)
      ? Object.fromEntries(
          Object.entries(g).map(([k, v]) => {
            const text = (v as { quantity?: string } | null)?.quantity;
            return [k, text === undefined ? (v as unknown) : host.runtime.q(text)];
          }),
        )
      : g,
  );
  // Tables come where the verb has its parameter for them.
  const at = form.parameters
    .filter((p) => p.place !== "option")
    .findIndex((p) => p.kind === "table" || p.kind === "tables");
  if (at >= 0) given.splice(at, 0, ...others);
  const made = first![form.name]!(...given);
  return (form.parts ? form.parts.map((p) => (made as never)[p]) : [made]).map((r) => host.call(r));
}

/** A verb's proofs as calls of its operation, each with its digest. */
export const verbCalls = (host: PlainHost): { readonly call: OperationCall; readonly digest: string }[] =>
  tableVerbs.flatMap((verb) =>
    verb.definition.proof.flatMap((proof) =>
      proofCalls(host, verb, proof).map((call, k) => ({ call, digest: proof.digest.split(" ")[k]! })),
    ),
  );

export const calls: readonly OperationCall[] = [
  ["fit.terms", law, history],
  ["fit.term", { ...law, term: "k", what: "upper" }, history],
  ["fit.quality", { ...law, what: "adjusted" }, history],
  ["fit.at", { ...law, place: { time: bound(0.1, "min") } }, history],
  ["fit.curve", { ...law, points: 5 }, history],
  ["fit.applied", law, history],
  ["quantity.at", {}, quantity(3, "K")],
  ["quantity.in", { unit: "degC" }, quantity(280, "K")],
  ["quantity.power", { exponent: 2 }, quantity(3, "m")],
  ["quantity.abs", {}, quantity(-3, "m")],
  [
    "runs.rows",
    { runs: ["a", "b"], missing: [], columns: [{ name: "peak", start: 0 }] },
    quantity(3, "K"),
    quantity(4, "K"),
  ],
  ["runs.stack", members, history, history],
  ["runs.wide", { ...members, name: "T" }, history, other],
  ["runs.across", { ...members, on: "time", columns: ["T"], percentiles: [5, 95] }, history, other],
  ["check", { below: [bound(4, "K")], missing: "undecided" }, quantity(3, "K")],
  ["against.summary", { y: "T", within: { amount: bound(1, "K") } }, history, other],
  ["against.side", { y: "T" }, history, other],
  ["against.measure", { y: "T", what: "rms" }, history, other],
  ["law.at", { law: "air.density", inputs: { T: bound(5, "degC") } }],
  [
    "law.curve",
    {
      law: "wall.composite",
      over: "y.plus",
      from: bound(1, "1"),
      to: bound(300, "1"),
      inputs: {},
      points: 4,
      steps: "log",
    },
  ],
  ["quantity.unit", { unit: "1/s" }, quantity(140, "MPa")],
  [
    "quantity.formula",
    {
      formula: formulaArgument("sqrt(4 * F / (pi * tau))"),
      unit: "mm",
      constants: { F: bound(3, "kN"), tau: { input: 0 } },
    },
    quantity(140, "MPa"),
  ],
  ["together", { names: ["a", "b"], axis: "intersection" }, history, other],
  [
    "rule.judge",
    { name: "steady", formula: formulaArgument("range(T)"), over: bound(10, "s"), below: bound(1, "K") },
    history,
  ],
  ["rule.verdicts", { runs: ["a", "b"], rules: ["steady"] }, judged, { kind: "failure", reason: "not found" }],
];
