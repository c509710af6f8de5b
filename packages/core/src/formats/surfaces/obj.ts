import type { MeshFormat } from "../mesh-format.js";
import { takeRoom } from "../room.js";
import { FormatError, openEndNotes, type ByteSource } from "../source.js";
import { checkCells, vtkCell } from "../cell-building.js";
import type { Grid, MeshFile } from "../mesh-data.js";
import { memoryGrid } from "./surface-grid.js";

const looksLikeObj = (head: Uint8Array): boolean =>
  /^(?:\s*(?:#.*)?\n)*\s*(?:v|o|g|mtllib)\s+\S/.test(Buffer.from(head.subarray(0, 8192)).toString("latin1")) &&
  /^v\s+[-+\d.]/m.test(Buffer.from(head).toString("latin1"));

/** Opens an OBJ surface: vertices and faces; groups and objects become blocks. Curves and materials are passed over. */
function openObj(source: ByteSource): MeshFile {
  const points: number[] = [];
  const groups = new Map<string, { offsets: number[]; nodes: number[]; types: number[] }>();
  let name = "";
  let line = 0;
  // Text, its lines and their numbers.
  takeRoom(6 * source.size);
  for (const raw of Buffer.from(source.read(0, source.size)).toString("latin1").split("\n")) {
    line++;
    const w = raw.trim().split(/\s+/);
    if (w[0] === "v") {
      const xyz = w.slice(1, 4).map(Number);
      if (xyz.length !== 3 || !xyz.every(Number.isFinite))
        throw new FormatError(source.name, "a vertex has no three coordinates", { line });
      points.push(...xyz);
    } else if (w[0] === "g" || w[0] === "o") name = w.slice(1).join(" ");
    else if (w[0] === "f") {
      const group = groups.get(name) ?? { offsets: [0], nodes: [], types: [] };
      groups.set(name, group);
      for (const corner of w.slice(1)) {
        const i = parseInt(corner, 10);
        const v = i > 0 ? i - 1 : points.length / 3 + i;
        if (!Number.isInteger(v) || v < 0)
          throw new FormatError(source.name, `a face names vertex "${corner}"`, { line });
        group.nodes.push(v);
      }
      const n = w.length - 1;
      if (n < 3) throw new FormatError(source.name, `a face has ${n} corners`, { line });
      group.offsets.push(group.nodes.length);
      group.types.push(n === 3 ? vtkCell.triangle : n === 4 ? vtkCell.quad : vtkCell.polygon);
    }
  }
  if (groups.size === 0) throw new FormatError(source.name, "there are no faces in this file", { line });
  const all = Float64Array.from(points);
  const grids = [...groups].map(([block, g]): Grid =>
    memoryGrid(groups.size === 1 ? "" : block, ...compact(all, g, source.name), openEndNotes(source)),
  );
  return { format: "OBJ", grids };
}

/** Only the points that a group uses. */
function compact(
  points: Float64Array,
  g: { offsets: number[]; nodes: number[]; types: number[] },
  file: string,
): [Float64Array, ReturnType<typeof checkCells>, []] {
  const used = [...new Set(g.nodes)].sort((a, b) => a - b);
  if (used.length > 0 && used[used.length - 1]! >= points.length / 3)
    throw new FormatError(
      file,
      `a face names vertex ${used[used.length - 1]! + 1}, but there are only ${points.length / 3}`,
    );
  const place = new Map(used.map((v, k) => [v, k]));
  const own = new Float64Array(3 * used.length);
  used.forEach((v, k) => own.set(points.subarray(3 * v, 3 * v + 3), 3 * k));
  const cells = {
    types: Uint8Array.from(g.types),
    offsets: Int32Array.from(g.offsets),
    nodes: Int32Array.from(g.nodes, (v) => place.get(v)!),
  };
  return [own, checkCells(cells, used.length, file), []];
}

/** Faces and points in lines of text. */
export const obj: MeshFormat = {
  name: "OBJ",
  endings: [".obj"],
  collections: [],
  sniff: looksLikeObj,
  open: openObj,
};
