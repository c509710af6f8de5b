import { describe, expect, it } from "@jest/globals";
import { makeTable, numberColumn, sliceRows, textColumn } from "@oxtrum/core/tables";
import { packValue } from "../store/serialize.js";
import { sha256 } from "../store/keys.js";
import { carryOut } from "../workers/evaluate.js";
import { formulaArgument } from "./arguments.js";
import { operations } from "./registry.js";
import type { Outcome } from "./values.js";

/**
 * What every operation gives for fixed inputs, as a digest, by its name and version. Kept results of other machines and of
 * last year are found by name and version: whoever changes what an operation gives has to raise its version, and then
 * writes the new digest here.
 */
const golden: Readonly<Record<string, string>> = {
  "table.pick@1": "214d96e5f1526b1e",
  "table.drop@1": "948c241a4f9ba0cc",
  "table.rename@1": "d9fed2af29fb63c4",
  "table.along@1": "c1c1d8af1fdbb96c",
  "table.where@2": "5828dac3e6b3ae5f",
  "table.window@3": "3802b270b9562d9d",
  "table.sortBy@1": "9e91b093ce0f1f6a",
  "table.derive@2": "c268a2aae9f9b12f",
  "table.to@1": "c210ec83b2b208b5",
  "table.unit@1": "ce0697d8a330e04c",
  "table.label@1": "a9108aa7986b9376",
  "table.cumulative@3": "807506fbccd4824c",
  "table.derivative@2": "5afbe3d58eff681b",
  "table.resample@1": "7a05652bd35547d3",
  "table.join@1": "d31cd233d4f2ddad",
  "table.concat@1": "d76fdc7770d7bbff",
  "table.head@1": "531d0bd7ab26c036",
  "table.compareTo@2": "5a6a4da2a0175f52",
  "table.crossings@2": "060441bb8ee8bb92",
  "table.spectrum@3": "3bb71b9efea40079",
  "table.dominant@2": "d2bdbde03c6e1d30",
  "table.converge@2": "310bc5d43ea9cb4d",
  "table.max@2": "ef7f36d4ae3b58ee",
  "table.min@2": "72a5cc0d46bf9987",
  "table.mean@3": "850d7727fd4d62e5",
  "table.sum@1": "e63c99976bef4e4b",
  "table.covariance@1": "83f316937d6ffb24",
  "table.meanInterval@1": "d7d7960363fd7462",
  "table.tail@1": "5dd160c2cc3bf24f",
  "table.rowNumber@1": "dac82fe836a0491e",
  "table.percentiles@1": "e561cd025e7cd0bb",
  "table.amplitudes@1": "6da6a38227ad5e46",
  "table.rms@3": "9d8de763d9b5422a",
  "table.std@4": "b8d26e10ec8e6c10",
  "table.percentile@2": "2759241b849b61fc",
  "table.integral@3": "6329d60559cd331a",
  "table.count@1": "61fe5b4d1baa37a1",
  "table.at@2": "de5adfc3f87864b4",
  "table.settles@2": "66324e9cf369b512",
  "fit.terms@3": "2d263937020bdc6a",
  "fit.term@2": "1680ddc3ddceb74d",
  "fit.quality@3": "1138c0618839fddd",
  "fit.at@1": "afb831a24e2394a0",
  "fit.curve@1": "6068834aa0f24a9f",
  "fit.applied@1": "4e2f3dc92dd19292",
  "quantity.at@1": "401e779c0cfdc1be",
  "quantity.in@1": "82cc8d17ff9c434e",
  "quantity.power@1": "9fe6cc5df45edbe9",
  "quantity.abs@1": "050afedd981ad23b",
  "runs.rows@1": "d757f4bc9a15461a",
  "runs.stack@2": "d3f6f7c0b0b67865",
  "runs.wide@2": "13f91c73be685eca",
  "runs.across@4": "839b1b4a70e53610",
  "check@2": "b7a2a5f257d3bf4a",
  "rule.judge@1": "56581dee3e5be0ab",
  "rule.verdicts@1": "c7ab1b625216e89d",
  "table.smooth@2": "5569ecff0c4fc4f9",
  "table.lowpass@1": "914b269c14beb406",
  "table.detrend@1": "95b32f796b4f9b79",
  "table.running@1": "6b793fcf9d5bc551",
  "table.peaks@1": "526b805a132f09c9",
  "table.cycles@1": "587b97147807b729",
  "table.cycleMean@1": "9a4eebb225eca92f",
  "table.histogram@2": "2733842b6f9efbc9",
  "table.describe@3": "397065f067cecf86",
  "table.since@2": "7f2af8495645230c",
  "table.move@1": "1ceeed995daa4205",
  "table.crossCorrelation@1": "de72c03c7884cb37",
  "table.timeShift@1": "75149dc70f141139",
  "table.skewness@2": "7ce50a7cc2fb6228",
  "table.kurtosis@2": "00779d84a123706d",
  "table.steadyFrom@1": "1e992b9c502a8b0a",
  "table.meanError@1": "9ae180fa0fdce292",
  "table.correlationLength@1": "55276aa32e7b6040",
  "table.timeAbove@2": "6134c8486b764338",
  "table.timeBelow@2": "61f94b17108fd193",
  "table.value@4": "92d0a04b1601e0c3",
  "table.groupBy@2": "a0ff61ea3bbd817a",
  "table.bins@2": "a2cd262f068a9322",
  "table.pivot@2": "4abf35b5ef1c6ffd",
  "table.balance@1": "5a6c45a7217996d5",
  "table.rank@1": "2d4d6a223c7aa36b",
  "table.governing@1": "c2feb44b7f1ce925",
  "table.outliers@2": "b7ea32d02b245222",
  "table.correlations@1": "47d4b289c391a65c",
  "table.effects@1": "a5998a3b7bb5cd85",
  "table.sensitivities@1": "8acba7209424540a",
  "table.pairs@1": "a2d623a5145f09be",
  "against.summary@1": "c9bd23ca838a2f93",
  "against.side@1": "48abd380bcfa18d4",
  "against.measure@1": "07060a4fa4e961b0",
  "law.at@1": "0e6edc8d95f3b489",
  "law.curve@1": "bb9694a5f080e374",
  "table.law@1": "b5b204116b157449",
  "table.wallUnits@1": "aeac83c1496faddd",
  "quantity.unit@1": "e1beb14c56f7187b",
  "quantity.formula@1": "d7f077453e189fcb",
  "together@1": "982eaa186106a5de",
};

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
  table: makeTable([numberColumn("time", "s", Float64Array.from({ length: 64 }, (_, i) => i / 4)), numberColumn("p", "Pa", Float64Array.from({ length: 64 }, (_, i) => (i % 7) - (i % 3)))], { axis: "time" }),
}; // prettier-ignore
const twoFans: Outcome = { kind: "table", table: makeTable([numberColumn("fan", "%", [50, 75]), numberColumn("fan2", "1", [0.6, 0.7])]) }; // prettier-ignore
const profile: Outcome = { kind: "table", table: makeTable([numberColumn("y", "mm", [0, 0.1, 1]), numberColumn("u", "m/s", [0, 0.5, 2])]) }; // prettier-ignore
const judged: Outcome = {
  kind: "check",
  check: { verdict: "failed", value: { value: 3, unit: "K" }, limit: "below 1 K" },
};
const law = { kind: "exponential", y: "T", x: ["time"] };

const calls: readonly (readonly [op: string, args: unknown, ...inputs: Outcome[]])[] = [
  ["table.pick", { names: ["T"] }, history],
  ["table.drop", { names: ["q"] }, history],
  ["table.rename", { names: { T: "air" } }, history],
  ["table.along", { axis: "q" }, history],
  ["table.where", { formula: formulaArgument("T > 283 K"), constants: {} }, history],
  ["table.window", { axis: "time", range: [bound(0.1, "min"), bound(20, "s")] }, history],
  ["table.sortBy", { name: "q", order: "falling" }, history],
  [
    "table.derive",
    { name: "d", formula: formulaArgument("sqrt(T / T0) * q"), constants: { T0: bound(280, "K") } },
    history,
  ],
  ["table.to", { names: ["T"], unit: "degC" }, history],
  ["table.unit", { name: "q", unit: "kW" }, history],
  ["table.label", { name: "q", label: "heat" }, history],
  ["table.cumulative", { name: "q" }, history],
  ["table.derivative", { name: "T" }, history],
  ["table.resample", { axis: "time", spacing: { step: bound(2.5, "s") } }, history],
  ["table.join", {}, history, other],
  ["table.concat", {}, history, other],
  ["table.head", { count: 3 }, history],
  ["table.compareTo", { baseline: { fan: 75 }, match: [] }, rows],
  ["table.crossings", { name: "T", level: bound(284, "K"), direction: "both" }, history],
  ["table.spectrum", { name: "p", length: 16 }, waves],
  ["table.dominant", { name: "p", length: 16 }, waves],
  ["table.converge", { name: "p", size: "time" }, levels],
  ["table.max", { name: "T" }, history],
  ["table.min", { name: "T" }, history],
  ["table.mean", { name: "T" }, history],
  ["table.sum", { name: "q" }, history],
  ["table.covariance", { name: "T", other: "q" }, history],
  ["table.meanInterval", { name: "T", end: "upper" }, history],
  ["table.tail", { count: 3 }, history],
  ["table.rowNumber", { as: "row" }, history],
  ["table.percentiles", { name: "T", percents: [5, 50] }, history],
  ["table.amplitudes", { name: "p" }, waves],
  ["table.rms", { name: "q" }, history],
  ["table.std", { name: "q", weights: "none" }, history],
  ["table.percentile", { name: "T", percent: 90 }, history],
  ["table.integral", { name: "q" }, history],
  ["table.count", { name: "T" }, history],
  ["table.at", { name: "T", place: bound(7.5, "s") }, history],
  ["table.settles", { name: "T", within: bound(0.5, "K") }, history],
  ["fit.terms", law, history],
  ["fit.term", { ...law, term: "k", what: "high" }, history],
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
  ["table.smooth", { name: "p", over: bound(2, "s"), how: "peaks", degree: 2 }, waves],
  ["table.lowpass", { name: "p", below: bound(0.5, "Hz") }, waves],
  ["table.detrend", { name: "T" }, history],
  ["table.running", { name: "q", what: "max" }, history],
  ["table.peaks", { name: "p", prominence: bound(1, "Pa") }, waves],
  ["table.cycles", { name: "p", period: bound(3, "s") }, waves],
  ["table.cycleMean", { name: "p", period: bound(3, "s"), points: 4 }, waves],
  ["table.histogram", { name: "T", count: 5 }, history],
  ["table.describe", { names: [] }, history],
  ["table.since", { length: bound(5, "s") }, history, quantity(10, "s")],
  ["table.move", {}, history, quantity(-1, "min")],
  ["table.crossCorrelation", { name: "p", most: 2 }, waves, waves],
  ["table.timeShift", { name: "p", most: 2 }, waves, waves],
  ["table.skewness", { name: "T" }, history],
  ["table.kurtosis", { name: "T" }, history],
  ["table.steadyFrom", { name: "T" }, history],
  ["table.meanError", { name: "p" }, waves],
  ["table.correlationLength", { name: "p" }, waves],
  ["table.timeAbove", { name: "T", level: bound(283, "K") }, history],
  ["table.timeBelow", { name: "T", level: bound(283, "K") }, history],
  ["table.value", { formula: formulaArgument("range(T) + last(T) - T0"), constants: { T0: bound(280, "K") } }, history],
  ["table.groupBy", { by: ["state"], columns: ["q"] }, history],
  ["table.bins", { name: "time", width: bound(10, "s"), columns: ["q"], show: ["max"] }, history],
  ["table.pivot", { rows: ["run"], columns: "fan", values: "peak" }, rows],
  ["table.balance", { names: ["fan", "fan2"] }, twoFans],
  ["table.rank", { name: "peak", order: "falling" }, rows],
  ["table.governing", { name: "q", which: "max" }, history],
  ["table.outliers", { name: "T" }, history],
  ["table.correlations", { names: ["T", "q"] }, history],
  ["table.effects", { output: "T", parameters: ["state"] }, history],
  ["table.sensitivities", { output: "T", parameters: ["state", "q"] }, history],
  ["table.pairs", { baseline: { fan: 50 } }, rows],
  ["against.summary", { y: "T", within: { amount: bound(1, "K") } }, history, other],
  ["against.side", { y: "T" }, history, other],
  ["against.measure", { y: "T", what: "rms" }, history, other],
  ["law.at", { law: "air.density", inputs: { T: bound(5, "degC") } }],
  ["law.curve", { law: "wall.composite", over: "yPlus", from: bound(1, "1"), to: bound(300, "1"), inputs: {}, points: 4, steps: "log" }],
  ["table.law", { as: "rho", law: "air.density", inputs: { T: "T", p: bound(1, "bar") } }, history],
  ["table.wallUnits", { y: "y", u: "u", inputs: { shear: bound(1, "Pa"), nu: bound(1e-6, "m^2/s"), rho: bound(1000, "kg/m^3") } }, profile],
  ["quantity.unit", { unit: "1/s" }, quantity(140, "MPa")],
  ["quantity.formula", { formula: formulaArgument("sqrt(4 * F / (pi * tau))"), unit: "mm", constants: { F: bound(3, "kN"), tau: { input: 0 } } }, quantity(140, "MPa")],
  ["together", { names: ["a", "b"], axis: "intersection" }, history, other],
  ["rule.judge", { name: "steady", formula: formulaArgument("range(T)"), over: bound(10, "s"), below: bound(1, "K") }, history],
  ["rule.verdicts", { runs: ["a", "b"], rules: ["steady"] }, judged, { kind: "failure", reason: "there is no file" }],
]; // prettier-ignore

const digestOf = ([op, args, ...inputs]: (typeof calls)[number]): string => {
  const o = carryOut(op, args, inputs);
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
  it.each(calls.filter(([op]) => !op.startsWith("rule.")).map((c) => [c[0], c] as const))("%s: what is foreseen of its columns is what comes out", (_, [op, args, ...inputs]) => {
    const operation = operations.get(op)!;
    const empty = inputs.map((i): Outcome => (i.kind === "table" ? { ...i, table: { ...sliceRows(i.table, 0, 0), notes: [] } } : i.kind === "quantity" ? { ...i, quantity: { value: Number.NaN, unit: i.quantity.unit } } : i));
    const foreseen = (operation.infer ?? operation.run).call(operation, operation.args.parse(args), empty);
    if (foreseen !== undefined) expect(schemaOf(foreseen)).toEqual(schemaOf(carryOut(op, args, inputs)));
  }); // prettier-ignore
  it("all of them, but for charts and pictures, which have tests of their own, and sums and products, which are exact", () => {
    const tested = new Set(calls.map((c) => c[0]));
    const left = [...operations.keys()].filter((o) => !tested.has(o)).sort();
    expect(left).toEqual(["chart", "constant", "picture", "quantity.combine"]);
  });
});
