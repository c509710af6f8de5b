import { describe, expect, it } from "@jest/globals";
import { cellMeasures, loadMesh } from "../mesh/index.js";
import { withoutGhosts } from "./ghost-cells.js";
import { memoryGrid } from "./surfaces/surface-grid.js";
import type { Grid } from "./mesh-data.js";

/** A row of five unit squares whose cell field is its number; `flags` by cell, or by point. */
function row(arrays: { name: string; on: "point" | "cell"; values: number[] }[]): Grid {
  const points = Float64Array.from({ length: 12 }, (_, i) => [0, 1, 2, 3, 4, 5, 0, 1, 2, 3, 4, 5][i]!);
  const places = new Float64Array(36);
  points.forEach((x, i) => places.set([x, i < 6 ? 0 : 1, 0], 3 * i));
  const nodes = Int32Array.from([0, 1, 2, 3, 4].flatMap((c) => [c, c + 1, c + 7, c + 6]));
  const cells = { types: new Uint8Array(5).fill(9), offsets: Int32Array.from([0, 4, 8, 12, 16, 20]), nodes };
  const field = (name: string, on: "point" | "cell", values: number[]) =>
    ({ name, on, components: 1, type: "float64", values: Float64Array.from(values) }) as const;
  return memoryGrid("", places, cells, [
    field("n", "cell", [0, 1, 2, 3, 4]),
    field("x", "point", [...points]),
    ...arrays.map((a) => field(a.name, a.on, a.values)),
  ]);
}

describe("ghost cells", () => {
  it.each([
    ["duplicate, refined, hidden", { name: "vtkGhostType", on: "cell", values: [1, 8, 0, 32, 2] }, [2, 4]],
    ["by level", { name: "vtkGhostLevels", on: "cell", values: [0, 0, 0, 1, 2] }, [0, 1, 2]],
    [
      "with a hidden point",
      { name: "vtkGhostType", on: "point", values: [2, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1] },
      [1, 2, 3, 4],
    ],
  ] as const)("%s are not counted", (_, array, kept) => {
    const g = withoutGhosts(row([{ ...array, values: [...array.values] }]));
    expect([...g.readField("cell", "n")]).toEqual(kept);
    expect([...g.readSome("cell", "n", [1])]).toEqual([kept[1]]);
    expect(g.fields.map((f) => f.name)).toEqual(["n", "x"]);
    const mesh = loadMesh(g, "f");
    expect([mesh.cellCount, cellMeasures(mesh).reduce((a, b) => a + b, 0)]).toEqual([kept.length, kept.length]);
    // Each kept cell has its own corners still.
    kept.forEach((c, i) => expect(mesh.points[3 * mesh.nodes[mesh.offsets[i]!]!]).toBe(c));
    expect([...g.cellNumbers!]).toEqual(kept);
    expect(g.remarks!.join()).toMatch(new RegExp(`^${5 - kept.length} ghost cells? .* of 5 left out`));
  });
  it("arrays without ghosts change nothing but the list of fields", () => {
    const g = withoutGhosts(row([{ name: "vtkGhostType", on: "cell", values: [0, 0, 0, 0, 0] }]));
    expect([g.cells, g.remarks, g.fields.length]).toEqual([5, undefined, 2]);
    const plain = row([]);
    expect(withoutGhosts(plain)).toBe(plain);
  });
});
