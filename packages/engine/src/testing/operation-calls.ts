import { makeTable, numberColumn, textColumn } from "@oxtrum/core/tables";
import { formulaArgument } from "../verbs/arguments.js";
import type { Outcome } from "../verbs/values.js";

/** A call of every operation with fixed inputs: for golden values, and for properties that all operations share. */

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
  check: { verdict: "failed", value: { value: 3, unit: "K" }, limit: "below 1 K" },
};
const law = { kind: "exponential", y: "T", x: ["time"] };

export const calls: readonly (readonly [op: string, args: unknown, ...inputs: Outcome[]])[] = [
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
  ["table.compareTo", { baseline: { fan: bound(75, "%") }, match: [] }, rows],
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
  ["table.crossCorrelation", { name: "p", most: bound(2, "s") }, waves, waves],
  ["table.timeShift", { name: "p", most: bound(2, "s") }, waves, waves],
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
  [
    "law.curve",
    {
      law: "wall.composite",
      over: "yPlus",
      from: bound(1, "1"),
      to: bound(300, "1"),
      inputs: {},
      points: 4,
      steps: "log",
    },
  ],
  ["table.law", { as: "rho", law: "air.density", inputs: { T: "T", p: bound(1, "bar") } }, history],
  [
    "table.wallUnits",
    { y: "y", u: "u", inputs: { shear: bound(1, "Pa"), nu: bound(1e-6, "m^2/s"), rho: bound(1000, "kg/m^3") } },
    profile,
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
  ["rule.verdicts", { runs: ["a", "b"], rules: ["steady"] }, judged, { kind: "failure", reason: "there is no file" }],
];
