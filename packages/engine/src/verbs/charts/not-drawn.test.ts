import { describe, expect, it } from "@jest/globals";
import type { ChartDescription, Series } from "@oxtrum/core/charts";
import { makeTable, numberColumn } from "@oxtrum/core/tables";
import type { Member } from "./members.js";
import { notCounted, notDrawn } from "./not-drawn.js";

const series = (o: Partial<Series>): Series => ({
  name: "a",
  kind: "lines",
  x: [0, 1, 2],
  y: [1, 2, 3],
  color: { palette: 0 },
  ...o,
});
const chart = (list: Series[], log: { x?: true; y?: true; right?: true } = {}): ChartDescription => ({
  x: { title: "", unit: "s", scale: log.x ? "log" : "linear" },
  y: { title: "", unit: "K", scale: log.y ? "log" : "linear" },
  ...(log.right && { right: { title: "", unit: "W", scale: "log" as const } }),
  series: list,
});
const told = (c: ChartDescription): string[] => notDrawn(c).map((n) => `${n.run ?? ""} ${n.text}`.trim());

describe("values without a place in a drawing", () => {
  it("are none where all are finite or missing", () => {
    expect(notDrawn(chart([series({ y: [1, Number.NaN, -3] }), series({ x: [], y: [] })]))).toEqual([]);
  });
  it("are infinite ones, of edges and ends too, each place once", () => {
    expect(told(chart([series({ run: "r1", quantity: "T", y: [Infinity, -Infinity, 1] })]))).toEqual([
      'r1 2 of 3 points of "T" are not drawn: infinite',
    ]);
    expect(told(chart([series({ kind: "band", y: [-Infinity, 1, 1], high: [Infinity, 2, 2] })]))).toEqual([
      '1 of 3 points of "a" is not drawn: infinite',
    ]);
    expect(told(chart([series({ x: [0, Infinity, 1] })]))).toHaveLength(1);
  });
  it("are those of 0 or less on axes in decades, each series by its own axis", () => {
    const list = [series({ name: "left", y: [0, -1, 1] }), series({ name: "right", axis: "right", y: [0, 1, 1] })];
    expect(told(chart(list, { y: true }))).toEqual([
      '2 of 3 points of "left" are not drawn: 0 or less on a logarithmic axis',
      '1 of 3 points of "right" is not drawn: 0 or less on a logarithmic axis',
    ]);
    expect(told(chart(list, { right: true }))).toEqual([
      '1 of 3 points of "right" is not drawn: 0 or less on a logarithmic axis',
    ]);
    expect(told(chart([series({})], { x: true }))).toEqual([
      '1 of 3 points of "a" is not drawn: 0 or less on a logarithmic axis',
    ]);
  });
  it("are cells of a map that are infinite", () => {
    const heat = { x: [0, 1], y: [0], values: [Infinity, Number.NaN], title: "p", unit: "Pa", min: 0, max: 1 };
    expect(told({ ...chart([]), heat })).toEqual(['1 cell of "p" is not drawn: infinite']);
    expect(told({ ...chart([]), heat: { ...heat, values: [1, Number.NaN] } })).toEqual([]);
  });
  it("are told of each panel", () => {
    const panel = chart([series({ y: [Infinity, 1, 1] })]);
    expect(notDrawn({ ...chart([]), panels: [panel, chart([series({})]), panel] })).toHaveLength(2);
  });
});

describe("values that boxes and counts cannot show", () => {
  it("are told of each run and column", () => {
    const member = (run: string | undefined, y: number[]): Member =>
      ({ run, params: {}, table: makeTable([numberColumn("y", "K", y), numberColumn("z", "K", [1, 2, 3])]) }) as never;
    const members = [
      member("a", [1, Number.NaN, Infinity]),
      member("b", [1, 2, 3]),
      member(undefined, [1, 2, -Infinity]),
    ];
    expect(notCounted(members, ["y", "z"]).map((c) => [c.run, c.text])).toEqual([
      ["a", '2 of 3 values of "y" are missing or infinite and not counted'],
      [undefined, '1 of 3 values of "y" is missing or infinite and not counted'],
    ]);
  });
});
