import { describe, expect, it } from "@jest/globals";
import { toCsv } from "@oxtrum/core/exports";
import { makeTable, numberColumn, textColumn } from "@oxtrum/core/tables";
import { tableSlice } from "./table-slice.js";

const table = makeTable([
  textColumn("run", ["a", "b", "", "d"]),
  numberColumn("r", "1/m", [1 / 3, Infinity, Number.NaN, -Infinity]),
  numberColumn("n", null, [0, -0, 1e-320, 1e308]),
]);

describe("a table's rows for the screen", () => {
  it("are what its file says: missing is missing, and infinite is not", () => {
    const { rows, columns } = tableSlice(table, 0, 10);
    expect([rows, columns.map((c) => [c.name, c.kind, c.unit])]).toEqual([
      4,
      [
        ["run", "text", null],
        ["r", "number", "1/m"],
        ["n", "number", null],
      ],
    ]);
    expect(columns.map((c) => c.values)).toEqual([
      ["a", "b", "", "d"],
      [1 / 3, "Inf", null, "-Inf"],
      [0, -0, 1e-320, 1e308],
    ]);
    // As they travel, and as they are written.
    const travelled = JSON.parse(JSON.stringify(columns)) as typeof columns;
    const lines = Buffer.from(toCsv(table)).toString().trimEnd().split("\n").slice(1);
    expect(lines.map((l) => l.split(",")[1])).toEqual(travelled[1]!.values.map((v) => String(v ?? "")));
  });
  it.each([
    [0, 2, ["a", "b"]],
    [1, 3, ["b", ""]],
    [3, 9, ["d"]],
    [4, 9, []],
    [-3, 1, ["a"]],
    [3, 1, []],
  ])("from %i to %i", (from, to, run) => {
    const slice = tableSlice(table, from, to);
    expect(slice.columns[0]!.values).toEqual(run);
    for (const c of slice.columns) expect(c.values).toHaveLength(run.length);
    expect(slice.rows).toBe(4);
  });
});
