import { describe, expect, it } from "@jest/globals";
import { chartNumbers, seriesKind, type ChartDescription } from "@oxtrum/core/charts";
import { drawPng, drawSvg } from "@oxtrum/core/exports";
import { convertColumns, makeTable, numberColumn, pick, textColumn, type Table } from "@oxtrum/core/tables";
import { packValue } from "../../store/serialize.js";
import { execute } from "../../scheduler/evaluate.js";
import type { Outcome } from "../values.js";
import { layerKindOf, layerKinds } from "./kinds/index.js";
import { namedColumns } from "./layer-kind.js";
import type { LayerOptions } from "./layer-options.js";

/** What each kind is asked for, of one table. */
const asked: Readonly<Record<string, Readonly<Record<string, unknown>>>> = {
  lines: { x: "time", y: ["T", "T2"], right: "p" },
  points: { x: "time", y: "T", color: "state", marker: "state" },
  linePoints: { x: "time", y: "T", name: "hall" },
  steps: { x: "time", y: "T" },
  bars: { x: "state", y: "T", stacked: true },
  band: { y: "T", show: ["mean", "min", "max"] },
  errorBars: { x: "time", y: "T", lower: "T.min", upper: "T.max" },
  box: { x: "state", y: "T" },
  histogram: { x: "T", count: 4 },
  heat: { x: "time", y: "state", z: "T" },
  parity: { x: "T", y: "T2", within: { value: 1, unit: "K" } },
  residuals: { x: "time", y: "r" },
};

const n = 12;
const column = (name: string, unit: string, f: (i: number) => number): ReturnType<typeof numberColumn> =>
  numberColumn(
    name,
    unit,
    Float64Array.from({ length: n }, (_, i) => f(i)),
  );
const table = makeTable(
  [
    column("time", "s", (i) => 60 * i),
    column("T", "K", (i) => 280 + Math.sin(i)),
    column("T2", "K", (i) => 280.5 + Math.sin(i)),
    column("T.mean", "K", (i) => 280 + Math.sin(i)),
    column("T.min", "K", (i) => 279 + Math.sin(i)),
    column("T.max", "K", (i) => 281 + Math.sin(i)),
    column("p", "Pa", (i) => 1e5 + i),
    column("r", "1", (i) => 10 ** -i),
    textColumn(
      "state",
      Array.from({ length: n }, (_, i) => `s${i}`),
    ),
  ],
  { axis: "time" },
);

function chartOf(kind: string, of: Table, more: object = {}): Outcome {
  const layers = [{ kind, count: 1, source: { from: "table" }, options: { ...asked[kind], ...more } }];
  return execute("chart", { layers, options: { title: kind } }, [{ kind: "table", table: of }]);
}

const described = (o: Outcome): ChartDescription => {
  if (o.kind === "chart") return o.chart;
  throw new Error(o.kind === "failure" ? o.reason : o.kind);
};

/** The numbers of a chart in one order, with words where axes have words. */
const numbersOf = (c: ChartDescription): readonly (readonly (string | number)[])[] =>
  chartNumbers(c).columns.map((x) => [...x.values]);

describe("every kind of chart", () => {
  it("is asked for here", () => {
    expect(Object.keys(asked)).toEqual(layerKinds.map((k) => k.name));
  });
  it.each(Object.keys(asked))("%s makes series of kinds that can be drawn, and draws", (kind) => {
    const c = described(chartOf(kind, table));
    expect(c.series.length + (c.heat ? 1 : 0)).toBeGreaterThan(0);
    for (const s of c.series) {
      expect(seriesKind(s).kind).toBe(s.kind);
      expect([s.x.length, s.kind === "box" ? s.boxes!.length : s.x.length]).toEqual([s.y.length, s.y.length]);
    }
    const draw = (): string => Buffer.from(drawSvg(c, { width: 400, height: 300 })).toString("utf8");
    const svg = draw();
    expect(svg).toContain(kind);
    expect(svg).not.toContain("No values");
    expect(draw()).toBe(svg);
  });
  it.each(Object.keys(asked))("%s needs no other columns than its options name", (kind) => {
    const names = namedColumns(layerKindOf(kind), asked[kind]! as LayerOptions);
    if (names === undefined) return;
    const tellers = ["color", "dash", "marker"].flatMap((o) => (asked[kind]![o] as string | undefined) ?? []);
    const fewer = pick(table, [...new Set([...names, ...tellers])]);
    expect(packValue(described(chartOf(kind, fewer)))).toEqual(packValue(described(chartOf(kind, table))));
  });
  it.each(Object.keys(asked))("%s shows the same of a table in other units, in these units", (kind) => {
    const other = convertColumns(
      convertColumns(table, ["T", "T2", "T.mean", "T.min", "T.max"], "degC"),
      ["time"],
      "min",
    );
    const [a, b] = [described(chartOf(kind, table)), described(chartOf(kind, other))];
    const back: Readonly<Record<string, (v: number) => number>> = {
      degC: (v) => v + 273.15,
      min: (v) => 60 * v,
    };
    const toFirst = (unit: string | null, v: number): number => (back[unit ?? ""] ?? ((x: number) => x))(v);
    expect(b.series.length).toBe(a.series.length);
    a.series.forEach((s, k) => {
      const o = b.series[k]!;
      const unitOf = (c: ChartDescription, side: string | undefined): string | null =>
        side === "right" ? (c.right?.unit ?? null) : c.y.unit;
      for (let i = 0; i < s.x.length; i++) {
        expect(toFirst(b.x.unit, o.x[i]!)).toBeCloseTo(s.x[i]!, 6);
        expect(toFirst(unitOf(b, o.axis), o.y[i]!)).toBeCloseTo(s.y[i]!, 6);
      }
    });
    expect(numbersOf(b).length).toBe(numbersOf(a).length);
  });
  it.each(Object.keys(asked))("%s says which column is not there", (kind) => {
    const first = ["z", "error", "lower", "y", "x"].find((o) => typeof asked[kind]![o] === "string")!;
    const wrong = chartOf(kind, table, { [first]: "nowhere" });
    expect(wrong).toMatchObject({ kind: "failure", reason: expect.stringMatching(/no column "nowhere/) });
  });
  it.each(Object.keys(asked))(
    "%s draws what there is of a table with infinite and missing values, and says what is not in it",
    async (kind) => {
      const odd = [Infinity, Number.NaN, -Infinity];
      const holed = makeTable(
        table.columns.map((c) => (c.kind === "number" ? { ...c, values: c.values.map((v, i) => odd[i - 4] ?? v) } : c)),
        { axis: "time" },
      );
      const o = chartOf(kind, holed);
      const c = described(o);
      for (const draw of [drawSvg, drawPng])
        expect((await draw(c, { width: 400, height: 300, scale: 1 })).length).toBeGreaterThan(500);
      const told = o.kind === "failure" ? [] : (o.conditions ?? []);
      expect(told.length).toBeGreaterThan(0);
      for (const t of told) expect(t.kind).toBe("not drawn");
      // Of a whole table nothing is told.
      const whole = chartOf(kind, table);
      expect(whole.kind === "failure" ? whole.reason : whole.conditions).toBeUndefined();
    },
  );
  it.each(Object.keys(asked))("%s draws a table of nothing but such values", (kind) => {
    for (const v of [Infinity, -Infinity, Number.NaN]) {
      const nothing = makeTable(
        table.columns.map((c) => (c.kind === "number" ? { ...c, values: c.values.map(() => v) } : c)),
        { axis: "time" },
      );
      const o = chartOf(kind, nothing);
      // A map of which all cells are one, or none, may be refused; it is never broken.
      const said = o.kind === "failure" ? o.reason : drawSvg(described(o), { width: 400, height: 300 }).toString();
      expect([v, said]).toEqual([v, expect.stringMatching(/^<\?xml|^<svg|for the same cell|no row|values/)]);
    }
  });
});

describe("what a kind cannot show of its table", () => {
  const conditions = (o: Outcome): string[] =>
    o.kind === "failure" ? [o.reason] : (o.conditions ?? []).map((c) => c.text);
  it("more columns of residuals than can be told apart", () => {
    const many = makeTable(
      [column("time", "s", (i) => i), ...Array.from({ length: 30 }, (_, k) => column(`r${k}`, "1", () => 1))],
      { axis: "time" },
    );
    const o = chartOf("residuals", many, { y: undefined });
    expect(described(o).series).toHaveLength(24);
    expect(conditions(o)).toEqual(['6 of 30 columns are not drawn, from "r24" on; choose with y']);
    expect(conditions(chartOf("residuals", many, { y: ["r29"] }))).toEqual([]);
  });
  it("more rings of a box than can be seen: the outermost of both sides stay", () => {
    const values = Float64Array.from({ length: 20_000 }, (_, i) =>
      i < 14_000 ? 100 + (i % 10) / 10 : i % 2 === 0 ? -i : i,
    );
    const large = makeTable([
      numberColumn("T", "K", values),
      textColumn("state", Array<string>(values.length).fill("s")),
    ]);
    const [box] = described(chartOf("box", large)).series[0]!.boxes!;
    expect(box!.beyond).toHaveLength(2000);
    expect([box!.beyond[0], box!.beyond.at(-1)]).toEqual([-19_998, 19_999]);
  });
  it("rows of a map without a place", () => {
    const gaps = makeTable([
      numberColumn("time", "s", [0, Number.NaN, 1]),
      numberColumn("state", "1", [0, 0, 0]),
      numberColumn("T", "K", [1, 2, 3]),
    ]);
    expect(conditions(chartOf("heat", gaps))).toEqual(["1 of 3 rows has no place in the map: a missing coordinate"]);
  });
  it("a comparison of two columns of which one has no unit is refused", () => {
    const t = makeTable([numberColumn("T", null, [1, 2]), numberColumn("T2", "K", [1, 2])]);
    expect(conditions(chartOf("parity", t))).toEqual([
      'chart.parity: the unit of "T" is not known, and that of "T2" is; say it with .unit()',
    ]);
  });
  it("layers along the bottom of which one has another kind of unit are refused by name", () => {
    const t = makeTable([
      numberColumn("open", "s", [1, 2]),
      numberColumn("fan", "%", [50, 75]),
      numberColumn("p", "K", [3, 4]),
    ]);
    const layers = ["open", "fan"].map((x) => ({
      kind: "points",
      count: 1,
      source: { from: "table" },
      options: { x, y: "p" },
    }));
    const refused = execute(
      "chart",
      { layers, options: {} },
      [t, t].map((table) => ({ kind: "table", table })),
    );
    expect(refused).toMatchObject({
      kind: "failure",
      reason: 'chart: "fan" is in %, the axis along the bottom in s; draw it in a chart of its own',
    });
  });
});

describe("what stands along an axis", () => {
  const layer = (kind: string, options: object): object => ({ kind, count: 1, source: { from: "table" }, options });
  const titles = (layers: object[], options: object = {}): (string | undefined)[] => {
    const c = described(
      execute(
        "chart",
        { layers, options },
        layers.map(() => ({ kind: "table" as const, table })),
      ),
    );
    return [c.x.title, c.y.title, c.right?.title];
  };
  it("are all quantities that share it, of one layer or of several, each once", () => {
    expect(titles([layer("lines", { x: "time", y: ["T", "T2"], right: "p" })])).toEqual(["time", "T, T2", "p"]);
    const layers = ["T2", "T", "T2"].map((y) => layer("points", { x: "time", y }));
    expect(titles(layers)).toEqual(["time", "T2, T", undefined]);
    expect(titles([layer("lines", { x: "time", y: ["T", "T2", "T.mean", "T.min"] })])[1]).toBe("T, T2, T.mean, …");
  });
  it("names no column of the chart's numbers: that stays the first one's, in panels too", () => {
    const two = layer("lines", { x: "time", y: ["T", "T2"] });
    for (const panels of [undefined, "state"]) {
      const options = panels === undefined ? {} : { panels };
      const o = execute("chart", { layers: [two], options }, [{ kind: "table", table }]);
      const names = chartNumbers(described(o)).columns.map((c) => c.name);
      expect(names.filter((n) => n !== "panel")).toEqual(["series", "quantity", "unit", "time", "T"]);
    }
  });
  it("is in the unit that curves are said to be in, whatever their columns' own", () => {
    const o = execute("chart", { layers: [layer("lines", { x: "time", y: ["T", "T2"] })], options: {} }, [
      { kind: "table", table: convertColumns(table, ["T2"], "degC") },
    ]);
    const c = described(o);
    expect([c.y.unit, c.series.map((s) => s.legend)]).toEqual(["K", ["T [K]", "T2 [K]"]]);
    expect(c.series[1]!.y[0]).toBeCloseTo(280.5, 9);
  });
  it("is one name where a band and a line are of one quantity, which has a label", () => {
    const labelled = makeTable(
      table.columns.map((c) => {
        if (c.name === "T") return { ...c, label: "Air" };
        return c.name.startsWith("T.") ? { ...c, label: `Air, ${c.name.slice(2)}` } : c;
      }),
      { axis: "time" },
    );
    const layers = [layer("band", asked["band"]!), layer("lines", { x: "time", y: "T" })];
    const o = execute("chart", { layers, options: {} }, [
      { kind: "table", table: labelled },
      { kind: "table", table: labelled },
    ]);
    expect(described(o).y.title).toBe("Air");
  });
  it("is one name where there is one quantity, or where the chart says what", () => {
    for (const kind of ["errorBars", "band", "histogram", "residuals"]) {
      const [, y] = titles([layer(kind, asked[kind]!)]);
      expect([kind, y]).toEqual([kind, expect.not.stringContaining(",")]);
    }
    const two = layer("lines", { x: "time", y: ["T", "T2"] });
    expect(titles([two], { yTitle: "Air" })[1]).toBe("Air");
    expect(titles([layer("lines", { x: "time", y: ["T", "T2"], swapAxes: true })]).slice(0, 2)).toEqual([
      "T, T2",
      "time",
    ]);
  });
});
