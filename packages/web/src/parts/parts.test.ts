import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import type { StudySummary } from "@oxtrum/contract";
import { richest } from "../pages/study/richest";
import { ago } from "./ago";
import { chartFromWire } from "./chart/chart-from-wire";
import { count } from "./count";
import { freeName } from "./free-name";

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
