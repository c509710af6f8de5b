import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { cellTypes } from "./cell-types.js";
import { boundaryFaces } from "./boundary.js";
import { cellMeasures } from "./measures.js";
import { interpolate, locate } from "./locate.js";
import { cutByPlane } from "./plane-cut.js";
import type { Mesh } from "./mesh.js";
import { boxMesh, meshOf, type BoxCells } from "./tests/box-mesh.js";

const volumes: BoxCells[] = [
  "tetra",
  "hexahedron",
  "voxel",
  "wedge",
  "pyramid",
  "polyhedron",
  "quadratic tetra",
  "quadratic hexahedron",
];
const sheets: BoxCells[] = ["triangle", "quad", "polygon", "quadratic triangle", "quadratic quad"];
const linear = (x: number, y: number, z: number): number => 3 + 2 * x - 5 * y + 7 * z;
const field = (m: Mesh, f = linear): Float64Array =>
  Float64Array.from({ length: m.pointCount }, (_, i) =>
    f(m.points[3 * i]!, m.points[3 * i + 1]!, m.points[3 * i + 2]!),
  );

describe("shape functions", () => {
  it.each(
    Object.entries(cellTypes)
      .filter(([, t]) => t.shape)
      .map(([id, t]) => [t.name, Number(id)] as const),
  )("of a %s add up to one, and their derivatives are theirs", (_, id) => {
    const t = cellTypes[id]!;
    const [n, d, n2] = [new Float64Array(32), new Float64Array(96), new Float64Array(32)];
    const scratch = new Float64Array(96);
    const at = [0.21, 0.33, t.dimension === 2 ? 0 : 0.17] as const;
    t.shape!(...at, n, d);
    expect(n.subarray(0, t.nodes).reduce((a, b) => a + b, 0)).toBeCloseTo(1, 14);
    for (let k = 0; k < t.dimension; k++) {
      const moved = at.map((v, j) => (j === k ? v + 1e-6 : v)) as [number, number, number];
      t.shape!(...moved, n2, scratch);
      const off = Array.from({ length: t.nodes }, (_, i) => Math.abs((n2[i]! - n[i]!) / 1e-6 - d[3 * i + k]!));
      expect(Math.max(...off)).toBeLessThan(0.5e-4);
    }
  });
});

describe("values inside cells", () => {
  it.each([
    ["nearer than any step between them", [0, 5e-324, 0, 5e-324, 0, 0, 0, 0, 5e-324]],
    ["one apart from many together", [0.5, 0.5, 0.5, ...Array.from({ length: 60 }, (_, i) => 1e-200 * i)]],
    ["farther apart than numbers can say", [0.5, 0.5, 0.5, -1.7e308, 0, 0, 1.7e308, 0, 0]],
  ])("of places %s", (_, list) => {
    const mesh = boxMesh("tetra", 3, 0.15);
    const at = locate(mesh, Float64Array.from(list));
    for (let i = 0; i < at.cell.length; i++) expect([i, at.cell[i]! >= 0]).toEqual([i, Math.abs(list[3 * i]!) < 2]);
    expect(interpolate(at, field(mesh), 1)[0]).toBeCloseTo(linear(list[0]!, list[1]!, list[2]!), 10);
  });
  it.each([...volumes, ...sheets])("linear fields are reproduced to 1e-12 in a mesh of %s", (kind) => {
    const flat = sheets.includes(kind);
    // Voxels are bricks by nature; quadratic cells of moved corners stay straight-edged.
    const mesh = boxMesh(kind, 3, kind === "voxel" ? 0 : 0.15);
    const values = field(mesh);
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.double({ min: 0, max: 2, noNaN: true }),
            fc.double({ min: 0, max: 1, noNaN: true }),
            fc.double({ min: 0, max: 1, noNaN: true }),
          ),
          { minLength: 1, maxLength: 20 },
        ),
        (list) => {
          const places = Float64Array.from(list.flatMap(([x, y, z]) => [x, y, flat ? 0 : z]));
          const at = locate(mesh, places);
          expect(at.outside).toBe(0);
          interpolate(at, values, 1).forEach((v, i) =>
            expect(Math.abs(v - linear(places[3 * i]!, places[3 * i + 1]!, places[3 * i + 2]!))).toBeLessThan(1e-11),
          );
        },
      ),
      { numRuns: 60 },
    );
  });

  it.each(volumes)("corners, edges and faces of %s belong to the mesh, to its lowest cell", (kind) => {
    const mesh = boxMesh(kind, 2, kind === "voxel" ? 0 : 0.1);
    const corners = new Set(mesh.nodes);
    const places = Float64Array.from([...corners].flatMap((v) => Array.from(mesh.points.subarray(3 * v, 3 * v + 3))));
    const at = locate(mesh, places);
    expect(at.outside).toBe(0);
    interpolate(at, field(mesh), 1).forEach((v, i) =>
      expect(v).toBeCloseTo(linear(places[3 * i]!, places[3 * i + 1]!, places[3 * i + 2]!), 10),
    );
    [...corners].forEach((v, i) => {
      let lowest = mesh.cellCount;
      for (let c = mesh.cellCount - 1; c >= 0; c--)
        if (mesh.nodes.subarray(mesh.offsets[c], mesh.offsets[c + 1]).includes(v)) lowest = c;
      expect(at.cell[i]).toBe(lowest);
    });
  });

  it("outside is blank and counted; points that are not numbers are outside", () => {
    const mesh = boxMesh("hexahedron", 2);
    const at = locate(mesh, Float64Array.of(1, 0.5, 0.5, 3, 0.5, 0.5, NaN, 0, 0, 1, 0.5, 1.001));
    expect([Array.from(at.cell), at.outside]).toEqual([[0, -1, -1, -1], 3]);
    expect(Array.from(interpolate(at, field(mesh), 1))).toEqual([linear(1, 0.5, 0.5), NaN, NaN, NaN]);
  });

  it("a quadratic field is exact in straight quadratic cells", () => {
    const f = (x: number, y: number, z: number): number => x * x - 2 * x * y + 3 * z * z + y;
    for (const kind of ["quadratic tetra", "quadratic hexahedron"] as const) {
      const mesh = boxMesh(kind, 2);
      const places = Float64Array.of(0.3, 0.7, 0.2, 1.9, 0.01, 0.99, 1, 0.5, 0.5);
      interpolate(locate(mesh, places), field(mesh, f), 1).forEach((v, i) =>
        expect(v).toBeCloseTo(f(places[3 * i]!, places[3 * i + 1]!, places[3 * i + 2]!), 12),
      );
    }
  });

  it("slivers and flat cells neither crash nor swallow places", () => {
    const mesh = meshOf(
      [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0.3, 0.3, 0.4 + 1e-9, 0.3, 0.3, 0.4],
      [
        { type: 10, nodes: [1, 2, 3, 4] },
        { type: 10, nodes: [4, 5, 4, 5] },
        { type: 10, nodes: [0, 1, 2, 3] },
      ],
    );
    const at = locate(mesh, Float64Array.of(0.1, 0.1, 0.1, 0.9, 0.9, 0.9));
    expect(Array.from(at.cell)).toEqual([2, -1]);
  });
});

describe("measures", () => {
  it.each(volumes)("%s fill the box, and their outer faces close it", (kind) => {
    const mesh = boxMesh(kind, 3, kind === "voxel" ? 0 : 0.15);
    expect(cellMeasures(mesh).reduce((a, b) => a + b, 0)).toBeCloseTo(2, 12);
    const b = boundaryFaces(mesh);
    const perSide = kind === "tetra" || kind === "quadratic tetra" ? 2 : 1;
    const faces = kind === "wedge" ? 9 * (2 * 2 + 4) : 54 * perSide;
    expect(b.cell).toHaveLength(faces);
  });
  it.each(sheets)("%s cover the sheet", (kind) => {
    expect(cellMeasures(boxMesh(kind, 3, 0.15)).reduce((a, b) => a + b, 0)).toBeCloseTo(2, 12);
  });
});

describe("plane cuts", () => {
  const mean = (m: Mesh, cut: ReturnType<typeof cutByPlane>, f = linear): { area: number; mean: number } => {
    const v = field(m, f);
    let area = 0;
    let sum = 0;
    cut.size.forEach((s, t) => {
      let at = 0;
      for (let k = cut.corners * t; k < cut.corners * (t + 1); k++)
        at += ((1 - cut.part[k]!) * v[cut.from[k]!]! + cut.part[k]! * v[cut.to[k]!]!) / cut.corners;
      area += s;
      sum += s * at;
    });
    return { area, mean: sum / area };
  };
  it.each(volumes)("areas and means through %s have their closed forms", (kind) => {
    const mesh = boxMesh(kind, 3, kind === "voxel" ? 0 : 0.12);
    for (const x of [0.1, 2 / 3, 1, 1.99]) {
      const r = mean(mesh, cutByPlane(mesh, [x, 0, 0], [1, 0, 0]));
      expect(r.area).toBeCloseTo(1, 11);
      expect(r.mean).toBeCloseTo(linear(x, 0.5, 0.5), 11);
    }
    // A slanted plane y + z = 1: √2 wide, two long.
    const slanted = mean(mesh, cutByPlane(mesh, [0, 0.5, 0.5], [0, 1, 1]));
    expect(slanted.area).toBeCloseTo(2 * Math.SQRT2, 11);
    expect(slanted.mean).toBeCloseTo(linear(1, 0.5, 0.5), 11);
  });
  it.each(["triangle", "quad", "polygon"] as const)("lines through %s have their lengths", (kind) => {
    const mesh = boxMesh(kind, 3, 0.1);
    const r = mean(mesh, cutByPlane(mesh, [0.7, 0, 0], [1, 0, 0]));
    expect(r.area).toBeCloseTo(1, 12);
    expect(r.mean).toBeCloseTo(linear(0.7, 0.5, 0), 12);
  });
  it("on faces that two cells share counts once; outside gives nothing", () => {
    const mesh = boxMesh("hexahedron", 2);
    expect(cutByPlane(mesh, [1, 0, 0], [1, 0, 0]).size.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 14);
    expect(cutByPlane(mesh, [5, 0, 0], [1, 0, 0]).size).toHaveLength(0);
    expect(() => cutByPlane(mesh, [0, 0, 0], [0, 0, 0])).toThrow(/may not be zero/);
  });
  it("property: the cut's area does not depend on the cells", () => {
    const meshes = (["tetra", "hexahedron", "wedge", "pyramid"] as const).map((k) => boxMesh(k, 3, 0));
    fc.assert(
      fc.property(
        fc.tuple(
          fc.double({ min: 0.1, max: 1.9, noNaN: true }),
          fc.double({ min: 0.1, max: 0.9, noNaN: true }),
          fc.double({ min: 0.1, max: 0.9, noNaN: true }),
        ),
        fc.tuple(
          fc.double({ min: -1, max: 1, noNaN: true }),
          fc.double({ min: -1, max: 1, noNaN: true }),
          fc.double({ min: 0.1, max: 1, noNaN: true }),
        ),
        (point, normal) => {
          const areas = meshes.map((m) => cutByPlane(m, point, normal).size.reduce((a, b) => a + b, 0));
          areas.forEach((a) => expect(a).toBeCloseTo(areas[0]!, 9));
        },
      ),
      { numRuns: 50 },
    );
  });
});

describe("few places in a large mesh", () => {
  it("asked again, are found by the cells' boxes: the same cells and weights", () => {
    const mesh = boxMesh("hexahedron", 28, 0.3);
    const places = Float64Array.from({ length: 900 }, (_, i) => {
      const v = ((i * 2654435761) % 2 ** 32) / 2 ** 32;
      // Among them places on faces, at the edge and outside.
      return (i % 3 === 0 ? 2 : 1) * (i % 10 === 0 ? Math.round(28 * v) / 28 : 1.02 * v - 0.01);
    });
    const first = locate(mesh, places);
    const again = locate(mesh, places);
    expect(again).toEqual(first);
    expect(first.outside).toBeGreaterThan(0);
    expect(first.outside).toBeLessThan(100);
  });
});
