import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import type { ChartDescription, Series } from "@oxtrum/core/charts";
import type { StudySummary } from "@oxtrum/contract";
import { overlaid } from "../pages/since/overlay";
import { richest } from "../pages/study/richest";
import { ago } from "./ago";
import { chartFromWire } from "./chart/chart-from-wire";
import { valuesAt } from "./chart/reading";
import { count } from "./count";
import { freeName } from "./free-name";

const series = (o: Partial<Series>): Series =>
  ({ name: "s", kind: "lines", x: [0, 1, 2], y: [0, 1, 0], color: { palette: 0 }, ...o }) as Series;
const chart = (list: Series[], more: object = {}): ChartDescription =>
  ({ x: {}, y: {}, series: list, ...more }) as unknown as ChartDescription;

describe("a name for a script", () => {
  it("is made of the wanted words, and is not taken", () => {
    expect(freeName("air of the hall", [])).toBe("air-of-the-hall.ts");
    expect(freeName("air", ["air.ts", "air-2.ts"])).toBe("air-3.ts");
    expect([freeName("../../etc", []), freeName("???", []), freeName("Kühlung", [])]).toEqual([
      "etc.ts",
      "script.ts",
      "Kühlung.ts",
    ]);
    fc.assert(
      fc.property(
        fc.string({ unit: "grapheme" }),
        fc.array(fc.constantFrom("a.ts", "a-2.ts", "script.ts")),
        (w, taken) => {
          const name = freeName(w, taken);
          expect(taken).not.toContain(name);
          expect(name).toMatch(/^[\p{L}\p{N}_-]+\.ts$/u);
        },
      ),
    );
  });
});

it("counts with the noun in the right number", () => {
  expect([count(0, "run"), count(1, "run"), count(2, "run")]).toEqual(["0 runs", "1 run", "2 runs"]);
});

it("says how long ago something was", () => {
  const before = (s: number): string => ago(Date.now() - 1000 * s);
  expect([before(-5), before(59), before(61), before(3599), before(7300), before(86_500), before(3 * 86_400)]).toEqual([
    "just now",
    "just now",
    "1 min ago",
    "59 min ago",
    "2 h ago",
    "yesterday",
    "3 days ago",
  ]);
});

describe("a chart", () => {
  it("has its gaps again when it came over the wire, in panels too", () => {
    const raw = { series: [{ x: [0, 1], y: [null, 2], low: [null, 1], high: [3, null] }] };
    const c = chartFromWire({ ...raw, panels: [raw] } as never);
    for (const { series: list } of [c, c.panels![0]!]) {
      const [s] = list;
      expect(s!.y).toBeInstanceOf(Float64Array);
      expect([s!.y, s!.low!, s!.high!].flatMap((v) => Array.from(v))).toEqual([
        Number.NaN,
        2,
        Number.NaN,
        1,
        3,
        Number.NaN,
      ]);
    }
    const heat = chartFromWire({ series: [], heat: { x: [0], y: [1], values: [null] } } as never).heat!;
    expect(Array.from(heat.values)).toEqual([Number.NaN]);
  });

  it("is read off at the nearest point of each line that is drawn", () => {
    const c = chart([
      series({ name: "a", y: [1, 2, 3] }),
      series({ name: "gap", y: [1, Number.NaN, 3] }),
      series({ name: "pale", faint: true }),
      series({ name: "b", legend: "hidden one" }),
      series({ name: "band", kind: "band" }),
      series({ name: "none", x: [], y: [] }),
    ]);
    const colors = ["red", "blue", "grey", "green", "grey", "grey"];
    expect(valuesAt(c, colors, new Set(["hidden one"]), 1.2)).toEqual([{ name: "a", color: "red", value: 2 }]);
    expect(valuesAt(c, colors, new Set(), 9).map((r) => [r.name, r.color, r.value])).toEqual([
      ["a", "red", 3],
      ["gap", "blue", 3],
      ["b", "green", 0],
    ]);
  });

  it("lies over what it was: what has not changed is drawn once", () => {
    const then = chart([series({ name: "same" }), series({ name: "moved", y: [0, 2, 0] }), series({ name: "gone" })]);
    const now = chart([series({ name: "same" }), series({ name: "moved" }), series({ name: "new" })], { notes: [1] });
    const both = overlaid(then, now);
    expect(both.series.map((s) => [s.name, s.dash ?? 0])).toEqual([
      ["same", 0],
      ["moved", 0],
      ["new", 0],
      ["moved, then", 2],
      ["gone, then", 2],
    ]);
    expect(both).not.toHaveProperty("notes");
    // A gap is the same gap; another length is another line.
    const gap = series({ y: [0, Number.NaN, 0] });
    expect(overlaid(chart([gap]), chart([series({ y: [0, Number.NaN, 0] })])).series).toHaveLength(1);
    expect(overlaid(chart([gap]), chart([series({ x: [0], y: [0] })])).series).toHaveLength(2);
  });

  it("lies over what it was panel by panel, by their titles", () => {
    const panel = (title: string, y: number[]): ChartDescription => chart([series({ y })], { title });
    const then = chart([], { panels: [panel("50", [1, 1, 1]), panel("75", [2, 2, 2])] });
    const now = chart([], { panels: [panel("75", [2, 2, 2]), panel("50", [9, 9, 9])] });
    expect(overlaid(then, now).panels!.map((p) => [p.title, p.series.length])).toEqual([
      ["75", 1],
      ["50", 2],
    ]);
  });
});

it("the table that tells most is that with the most kinds of quantities", () => {
  const file = (name: string, units: (string | null)[]): StudySummary["files"][number] =>
    ({ file: name, columns: units.map((unit, k) => ({ name: `c${k}`, unit })) }) as never;
  const files = [
    file("a", ["s", "K", "K"]),
    file("b", ["s", "K", "kW"]),
    file("c", ["m", "K", "Pa"]),
    file("d", [null]),
  ];
  expect([richest(files)?.file, richest([])]).toEqual(["b", undefined]);
});
