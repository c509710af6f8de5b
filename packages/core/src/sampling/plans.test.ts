import { describe, expect, it } from "@jest/globals";
import { bufferSource, openMesh, type ByteSource, type MeshFile } from "../formats/index.js";
import { writeUnstructured } from "../formats/vtk/tests/write-xml.js";
import { boxMesh } from "../mesh/tests/box-mesh.js";
import { numbers } from "../tables/table.js";
import { forgetGeometry } from "./byte-cache.js";
import { Block } from "./field-set.js";
import { unifiedFields } from "./unified-fields.js";
import { sampleSite } from "./sample.js";
import type { Site } from "./sites/index.js";

const mesh = boxMesh("tetra", 12, 0.1);
const cells = Array.from({ length: mesh.cellCount }, (_, c) => ({
  type: 10,
  nodes: Array.from(mesh.nodes.subarray(mesh.offsets[c]!, mesh.offsets[c + 1]!)),
}));
/** A raw file of the mesh whose field is `scale · (1 + x + 2y − z)`. */
const fileOf = (points: readonly number[], scale: number): Uint8Array =>
  writeUnstructured(
    { format: "appended-raw" },
    { points, cells },
    [
      {
        on: "point",
        name: "q",
        type: "float64",
        values: Array.from(
          { length: mesh.pointCount },
          (_, i) => scale * (1 + points[3 * i]! + 2 * points[3 * i + 1]! - points[3 * i + 2]!),
        ),
      },
      { on: "point", name: "other", type: "float64", values: Array.from({ length: mesh.pointCount }, (_, i) => i) },
    ],
    true,
  );

function sample(bytes: Uint8Array, site: Site): { values: number[]; read: number } {
  let read = 0;
  const source = bufferSource("m.vtu", bytes);
  const counting: ByteSource = {
    name: source.name,
    size: source.size,
    read: (at, n) => {
      const b = source.read(at, n);
      read += b.length;
      return b;
    },
  };
  const none = {
    open: (): never => {
      throw new Error("no other files");
    },
  };
  const blocks = (openMesh(counting, none) as MeshFile).grids.map((g) => new Block(g, "m.vtu"));
  const { fields } = unifiedFields(
    blocks.map((b) => b.grid),
    {},
    (_, own) => own,
  );
  const t = sampleSite({ file: "m.vtu", blocks, fields, lengthUnit: null, derived: [] }, site, ["q"]);
  return { values: Array.from(numbers(t, "q").values), read };
}

describe("plans of few places", () => {
  const site: Site = {
    kind: "points",
    places: [
      [0.311, 0.427, 0.533],
      [1.234, 0.777, 0.123],
      [1.9, 0.05, 0.93],
    ],
  };
  const exact = (scale: number): unknown[] =>
    site.kind === "points" ? site.places.map(([x, y, z]) => expect.closeTo(scale * (1 + x + 2 * y - z), 11)) : [];
  const points = Array.from(mesh.points);

  it("are kept over files of the same mesh, of which only the cells' corners and values are read", () => {
    const first = sample(fileOf(points, 1), site);
    expect(first.values).toEqual(exact(1));
    const second = sample(fileOf(points, 3), site);
    expect(second.values).toEqual(exact(3));
    forgetGeometry();
    // Then all of it is read again.
    expect(sample(fileOf(points, 3), site)).toEqual({ values: exact(3), read: first.read });
    const size = fileOf(points, 3).length;
    expect(first.read).toBeGreaterThan(size / 2);
    expect(second.read).toBeLessThan(size / 10);
  });

  it("are not kept for a mesh that has moved at these places, however little", () => {
    sample(fileOf(points, 1), site);
    const moved = points.map((v, i) => (i % 3 === 0 && v > 0 && v < 2 ? v + 1e-3 * Math.sin(i) : v));
    const r = sample(fileOf(moved, 2), site);
    expect(r.values).toEqual(exact(2));
    expect(r.read).toBeGreaterThan(fileOf(moved, 2).length / 2);
  });

  it("are not kept where a place lies on a face, or outside", () => {
    const at: Site = {
      kind: "points",
      places: [
        [0, 0.5, 0.5],
        [7, 7, 7],
      ],
    };
    sample(fileOf(points, 1), at);
    const again = sample(fileOf(points, 5), at);
    expect(again.values).toEqual([expect.closeTo(5 * 1.5, 11), Number.NaN]);
    expect(again.read).toBeGreaterThan(fileOf(points, 5).length / 2);
  });
});
