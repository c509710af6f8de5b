import { describe, expect, it } from "@jest/globals";
import { boundaryFaces } from "./boundary.js";
import { cellGradients } from "./gradient.js";
import { cellMeasures } from "./measures.js";
import { isoSurface } from "./plane-cut.js";
import type { Mesh } from "./mesh.js";
import { boxMesh, meshOf, type BoxCells } from "./tests/box-mesh.js";
import { cellsToPoints, pointsToCells } from "./transfer.js";

const kinds: BoxCells[] = [
  "tetra",
  "hexahedron",
  "wedge",
  "pyramid",
  "polyhedron",
  "quadratic tetra",
  "triangle",
  "quad",
];

/** A volume mesh with its boundary's faces listed behind its cells. */
function withBoundary(plain: Mesh): { mesh: Mesh; faces: number } {
  const cells = Array.from({ length: plain.cellCount }, (_, c) => ({
    type: plain.types[c]!,
    nodes: Array.from(plain.nodes.subarray(plain.offsets[c]!, plain.offsets[c + 1]!)),
  }));
  const { offsets, nodes } = boundaryFaces(plain);
  const faces = Array.from({ length: offsets.length - 1 }, (_, f) => ({
    type: offsets[f + 1]! - offsets[f]! === 3 ? 5 : 9,
    nodes: Array.from(nodes.subarray(offsets[f]!, offsets[f + 1]!)),
  }));
  return { mesh: meshOf(Array.from(plain.points), [...cells, ...faces]), faces: faces.length };
}

describe("gradients", () => {
  it.each(kinds)("of linear fields are exact in a mesh of %s, at points and in cells", (kind) => {
    const mesh = boxMesh(kind, 3, 0.12);
    const flat = mesh.dimension === 2;
    const f = (x: number, y: number, z: number): number[] => [3 + 2 * x - 5 * y + 7 * z, x - y + 2 * z];
    const slope = flat ? [2, -5, 0, 1, -1, 0] : [2, -5, 7, 1, -1, 2];
    const p = mesh.points;
    const atPoints = Float64Array.from(
      Array.from({ length: mesh.pointCount }, (_, i) => f(p[3 * i]!, p[3 * i + 1]!, p[3 * i + 2]!)).flat(),
    );
    const middles = pointsToCells(mesh, p, 3);
    const inCells = Float64Array.from(
      Array.from({ length: mesh.cellCount }, (_, c) =>
        f(middles[3 * c]!, middles[3 * c + 1]!, middles[3 * c + 2]!),
      ).flat(),
    );
    for (const g of [cellGradients(mesh, "point", atPoints, 2), cellGradients(mesh, "cell", inCells, 2)]) {
      let off = 0;
      for (let c = 0; c < mesh.cellCount; c++)
        slope.forEach((s, k) => (off = Math.max(off, Math.abs(g[6 * c + k]! - s) || 0)));
      expect([off < 0.5e-9, g.some(Number.isNaN)]).toEqual([true, false]);
    }
  });

  it.each(["hexahedron", "tetra"] as const)("faces beside volumes change nothing in a mesh of %s", (kind) => {
    const plain = boxMesh(kind, 3, 0.1);
    const { mesh, faces } = withBoundary(plain);
    const middles = pointsToCells(mesh, mesh.points, 3);
    // In the cells a linear field, on the faces something else altogether.
    const values = Float64Array.from({ length: mesh.cellCount }, (_, c) =>
      c < plain.cellCount ? 2 * middles[3 * c]! - middles[3 * c + 1]! : 1e6,
    );
    const own = values.slice(0, plain.cellCount);
    expect(faces).toBeGreaterThan(0);
    expect(cellsToPoints(mesh, values)).toEqual(cellsToPoints(plain, own));
    const g = cellGradients(mesh, "cell", values, 1).slice(0, 3 * plain.cellCount);
    expect(g).toEqual(cellGradients(plain, "cell", own, 1));
  });

  it("conservation: the flux through the boundary is the integral of the divergence, for any field on tetrahedra", () => {
    const mesh = boxMesh("tetra", 4, 0.15);
    const p = mesh.points;
    const u = Float64Array.from({ length: 3 * mesh.pointCount }, (_, i) => Math.sin(1.7 * i) + p[i]! ** 2);
    const g = cellGradients(mesh, "point", u, 3);
    const volume = cellMeasures(mesh);
    let inside = 0;
    for (let c = 0; c < mesh.cellCount; c++) inside += volume[c]! * (g[9 * c]! + g[9 * c + 4]! + g[9 * c + 8]!);
    const b = boundaryFaces(mesh);
    let through = 0;
    for (let f = 0; f < b.cell.length; f++) {
      const [i, j, k] = Array.from(b.nodes.subarray(b.offsets[f], b.offsets[f + 1])) as [number, number, number];
      const e = (a: number, d: number): number => p[3 * a + d]! - p[3 * i + d]!;
      for (let d = 0; d < 3; d++) {
        const [x, y] = [(d + 1) % 3, (d + 2) % 3];
        const area = (e(j, x) * e(k, y) - e(j, y) * e(k, x)) / 2;
        through += (area * (u[3 * i + d]! + u[3 * j + d]! + u[3 * k + d]!)) / 3;
      }
    }
    expect(through).toBeCloseTo(inside, 11);
  });
});

describe("carrying over between points and cells", () => {
  it("keeps what is the same everywhere, and linear fields inside an even mesh", () => {
    const mesh = boxMesh("hexahedron", 4);
    expect(Array.from(cellsToPoints(mesh, new Float64Array(mesh.cellCount).fill(7)))).toEqual(
      Array.from({ length: mesh.pointCount }, () => 7),
    );
    const x = Float64Array.from({ length: mesh.pointCount }, (_, i) => mesh.points[3 * i]!);
    const back = cellsToPoints(mesh, pointsToCells(mesh, x));
    for (let i = 0; i < x.length; i++) if (x[i]! > 0 && x[i]! < 2) expect(back[i]!).toBeCloseTo(x[i]!, 12);
  });
});

describe("surfaces of equal value", () => {
  it("a ball has the area and the middle of a ball, nearer with a finer mesh", () => {
    const error = [8, 16].map((n) => {
      const mesh = boxMesh("tetra", n);
      const r = Float64Array.from({ length: mesh.pointCount }, (_, i) =>
        Math.hypot(mesh.points[3 * i]! - 1, mesh.points[3 * i + 1]! - 0.5, mesh.points[3 * i + 2]! - 0.5),
      );
      const area = isoSurface(mesh, r, 0.4).size.reduce((a, b) => a + b, 0);
      return Math.abs(area / (4 * Math.PI * 0.16) - 1);
    });
    expect(error[0]).toBeLessThan(0.06);
    expect(error[1]).toBeLessThan(error[0]! / 2.5);
  });
  it("cells with a missing value are left out", () => {
    const mesh = boxMesh("hexahedron", 3);
    const x = Float64Array.from({ length: mesh.pointCount }, (_, i) =>
      mesh.points[3 * i + 2]! > 0.5 ? Number.NaN : mesh.points[3 * i]!,
    );
    const cut = isoSurface(mesh, x, 1);
    expect(cut.size.reduce((a, b) => a + b, 0)).toBeCloseTo(1 / 3, 12);
  });
});
