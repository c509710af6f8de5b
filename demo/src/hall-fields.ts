import fs from "node:fs";
import path from "node:path";
import type { HallCase, HallState } from "./hall.js";
import { vtkFile, type FileArray } from "./write-vtk.js";

const NX = 24;
const NY = 12;
const NZ = 12;
const [LX, LY, LZ] = [24, 12, 6];
/** The two blocks of racks, in cells: cut out of the mesh. */
const inRack = (i: number, j: number, k: number): boolean =>
  i >= 6 && i < 18 && ((j >= 2 && j < 4) || (j >= 8 && j < 10)) && k < 9;

/** The hall's mesh: hexahedra, points that no cell uses left out. */
export const hallMesh = (() => {
  const at = (i: number, j: number, k: number): number => i + (NX + 1) * (j + (NY + 1) * k);
  const used = new Map<number, number>();
  const corners: number[] = [];
  for (let k = 0; k < NZ; k++)
    for (let j = 0; j < NY; j++)
      for (let i = 0; i < NX; i++)
        if (!inRack(i, j, k))
          corners.push(
            at(i, j, k),
            at(i + 1, j, k),
            at(i + 1, j + 1, k),
            at(i, j + 1, k),
            at(i, j, k + 1),
            at(i + 1, j, k + 1),
            at(i + 1, j + 1, k + 1),
            at(i, j + 1, k + 1),
          );
  for (const p of [...new Set(corners)].sort((a, b) => a - b)) used.set(p, used.size);
  const points = new Float32Array(3 * used.size);
  for (const [p, n] of used) {
    points[3 * n] = ((p % (NX + 1)) * LX) / NX;
    points[3 * n + 1] = ((Math.floor(p / (NX + 1)) % (NY + 1)) * LY) / NY;
    points[3 * n + 2] = (Math.floor(p / ((NX + 1) * (NY + 1))) * LZ) / NZ;
  }
  const nodes = Int32Array.from(corners, (p) => used.get(p)!);
  const cells = nodes.length / 8;
  return { points, nodes, cells, count: used.size };
})();

/** Temperature at a place: the zones' values between their middles, and the warm tongue that comes in at the door. */
function temperature(s: HallState, c: HallCase, x: number, y: number, z: number): number {
  const along = Math.min(3, Math.max(0, x / 6 - 0.5));
  const k = Math.min(2, Math.floor(along));
  const f = along - k;
  const layer = (first: number): number => (1 - f) * s.zones[first + k]! + f * s.zones[first + k + 1]!;
  const up = Math.min(1, Math.max(0, z / 3 - 0.5));
  const air = (1 - up) * layer(0) + up * layer(4);
  const open = s.time > 30 && s.time < 30 + c.doorOpen + 240 ? Math.min(1, s.doorFlow / 4 + 0.15) : 0;
  const tongue = open * 9 * Math.exp(-(((24 - x) / 5) ** 2) - ((y - 6) / 2.2) ** 2 - ((5.4 - z) / 2.4) ** 2);
  return air + tongue;
}

/** Air velocity: a roll driven by the fans along the hall (free of sources), and the exchange through the door. */
function velocity(s: HallState, c: HallCase, x: number, y: number, z: number): [number, number, number] {
  const fan = (1.6 * c.fan) / 100;
  const [a, b] = [Math.PI / LX, Math.PI / LZ];
  const across = Math.sin((Math.PI * y) / LY);
  // From the stream function ψ = sin(a x) sin(b z): out of the coils along the ceiling, back along the floor.
  const u = -fan * Math.sin(a * x) * Math.cos(b * z) * across;
  const w = fan * (a / b) * Math.cos(a * x) * Math.sin(b * z) * across;
  const jet =
    0.8 * fan * Math.exp(-x / 5) * Math.exp(-(((z - 4.5) / 0.7) ** 2)) * Math.abs(Math.sin((2 * Math.PI * y) / LY));
  const near = Math.exp(-(24 - x) / 4) * Math.exp(-(((y - 6) / 2) ** 2));
  return [
    u + jet + (s.doorFlow / 8) * near * Math.cos(b * z),
    0.05 * fan * Math.sin(2 * a * x) * Math.cos((Math.PI * y) / LY),
    w,
  ];
}

function pointFields(points: Float32Array, s: HallState, c: HallCase): FileArray[] {
  const n = points.length / 3;
  const [T, U, p, humidity] = [new Float32Array(n), new Float32Array(3 * n), new Float32Array(n), new Float32Array(n)];
  for (let i = 0; i < n; i++) {
    const [x, y, z] = [points[3 * i]!, points[3 * i + 1]!, points[3 * i + 2]!];
    const here = temperature(s, c, x, y, z);
    const v = velocity(s, c, x, y, z);
    T[i] = here;
    U.set(v, 3 * i);
    p[i] = s.pDoor * (x / LX) - 0.6 * (v[0] ** 2 + v[2] ** 2) + 1.27 * 9.81 * (LZ - z) * (1 - here / 275);
    humidity[i] = Math.min(1, (s.humidity / 100) * (1 + 0.02 * (here - s.tMean)));
  }
  return [
    { name: "temperature", values: T },
    { name: "velocity", components: 3, values: U },
    { name: "pressure", values: p },
    { name: "humidity", values: humidity },
  ];
}

function hallFile(s: HallState, c: HallCase): Buffer {
  const { points, nodes, cells, count } = hallMesh;
  return vtkFile("UnstructuredGrid", (array) => {
    const ends = Int32Array.from({ length: cells }, (_, k) => 8 * (k + 1));
    const types = new Uint8Array(cells).fill(12);
    return `<Piece NumberOfPoints="${count}" NumberOfCells="${cells}">
<PointData>\n${pointFields(points, s, c).map(array).join("")}</PointData>
<Points>\n${array({ name: "Points", components: 3, values: points })}</Points>
<Cells>\n${[
      array({ name: "connectivity", values: nodes }),
      array({ name: "offsets", values: ends }),
      array({ name: "types", values: types }),
    ].join("")}</Cells>
</Piece>\n`;
  });
}

/** A flat patch of quads over a rectangle, turned so that its normal points out of the hall. */
interface Patch {
  readonly name: string;
  readonly origin: readonly [number, number, number];
  readonly u: readonly [number, number, number];
  readonly v: readonly [number, number, number];
  readonly cells: readonly [number, number];
  readonly skip?: (i: number, j: number) => boolean;
}

const patches: readonly Patch[] = [
  { name: "floor", origin: [0, 0, 0], u: [0, 12, 0], v: [24, 0, 0], cells: [12, 24], skip: (j, i) => inRack(i, j, 0) },
  { name: "ceiling", origin: [0, 0, 6], u: [24, 0, 0], v: [0, 12, 0], cells: [24, 12] },
  { name: "south_wall", origin: [0, 0, 0], u: [24, 0, 0], v: [0, 0, 6], cells: [24, 12] },
  { name: "north_wall", origin: [0, 12, 0], u: [0, 0, 6], v: [24, 0, 0], cells: [12, 24] },
  { name: "door", origin: [24, 4, 0], u: [0, 4, 0], v: [0, 0, 4], cells: [8, 8] },
  ...[1, 2, 3, 4].map((k): Patch => ({
    name: `coil_${k}`,
    origin: [0, 3 * k - 2.5, 4],
    u: [0, 0, 1],
    v: [0, 2, 0],
    cells: [4, 8],
  })),
];

function patchFile(p: Patch, s: HallState, c: HallCase): Buffer {
  const [m, n] = p.cells;
  const points = new Float32Array(3 * (m + 1) * (n + 1));
  for (let j = 0; j <= n; j++)
    for (let i = 0; i <= m; i++)
      for (let d = 0; d < 3; d++)
        points[3 * (i + (m + 1) * j) + d] = p.origin[d]! + (p.u[d]! * i) / m + (p.v[d]! * j) / n;
  const nodes: number[] = [];
  for (let j = 0; j < n; j++)
    for (let i = 0; i < m; i++)
      if (!p.skip?.(i, j))
        nodes.push(i + (m + 1) * j, i + 1 + (m + 1) * j, i + 1 + (m + 1) * (j + 1), i + (m + 1) * (j + 1));
  const cells = nodes.length / 4;
  const fields = pointFields(points, s, c);
  const [T, U] = [fields[0]!.values as Float32Array, fields[1]!.values as Float32Array];
  const flux = new Float32Array(cells);
  const shear = new Float32Array(cells);
  for (let k = 0; k < cells; k++) {
    const corner = nodes.slice(4 * k, 4 * k + 4);
    const mean = corner.reduce((a, v) => a + T[v]! / 4, 0);
    const speed = corner.reduce((a, v) => a + Math.hypot(U[3 * v]!, U[3 * v + 1]!, U[3 * v + 2]!) / 4, 0);
    flux[k] =
      (2.5 + 6 * speed ** 0.8) *
      (p.name === "floor" ? 278.15 - mean : p.name === "door" ? 293.15 - mean : 281.15 - mean);
    shear[k] = 0.5 * 1.27 * 0.004 * speed ** 2;
  }
  return vtkFile("PolyData", (array) => {
    const ends = Int32Array.from({ length: cells }, (_, k) => 4 * (k + 1));
    return `<Piece NumberOfPoints="${points.length / 3}" NumberOfVerts="0" NumberOfLines="0" NumberOfStrips="0" NumberOfPolys="${cells}">
<PointData>\n${fields.map(array).join("")}</PointData>
<CellData>\n${array({ name: "heat_flux", values: flux })}${array({ name: "wall_shear", values: shear })}</CellData>
<Points>\n${array({ name: "Points", components: 3, values: points })}</Points>
<Polys>\n${array({ name: "connectivity", values: Int32Array.from(nodes) })}${array({ name: "offsets", values: ends })}</Polys>
</Piece>\n`;
  });
}

/** The times at which fields are kept, s. */
export const fieldTimes = [0, 30, 60, 120, 180, 240, 300, 450, 600, 900, 1200, 1500, 1800];

const fileOf = (t: number): string => `hall_${String(t).padStart(4, "0")}.vtu`;

/** Writes the field of one time, whole or not at all. */
export function writeHallField(run: string, c: HallCase, state: HallState, cutOff = false): void {
  const folder = path.join(run, "fields");
  fs.mkdirSync(folder, { recursive: true });
  const bytes = hallFile(state, c);
  fs.writeFileSync(path.join(folder, fileOf(state.time)), cutOff ? bytes.subarray(0, bytes.length >> 1) : bytes);
}

/** Writes a run's surfaces at one time. */
export function writeHallSurfaces(run: string, c: HallCase, state: HallState): void {
  fs.mkdirSync(path.join(run, "surfaces"), { recursive: true });
  for (const p of patches) fs.writeFileSync(path.join(run, "surfaces", `${p.name}.vtp`), patchFile(p, state, c));
}

/** Writes a run's fields as files numbered by their times in s, and its surfaces at the last; one may be cut off. */
export function writeHallFields(run: string, c: HallCase, states: readonly HallState[], cutOff: boolean): void {
  const times = fieldTimes.filter((t) => t <= states[states.length - 1]!.time);
  for (const t of times) writeHallField(run, c, states[t]!, cutOff && t === 450);
  writeHallSurfaces(run, c, states[times[times.length - 1]!]!);
}
