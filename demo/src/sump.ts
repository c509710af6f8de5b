import fs from "node:fs";
import path from "node:path";
import { rungeKutta, seeded } from "./random.js";
import { collection, vtkFile } from "./write-vtk.js";

/** A sump that sloshes after its pump has tripped. */
export interface SumpCase {
  readonly id: string;
  /** Level at rest, m. */
  readonly level: number;
  readonly baffle: "none" | "half";
}

const LENGTH = 1.2;
const HEIGHT = 0.6;
const NX = 48;
const NZ = 30;
const MODES = 6;
/** Times that are kept, and the time between them, s. */
export const STEPS = 60;
export const INTERVAL = 0.1;

export function sumpCases(): SumpCase[] {
  return [0.2, 0.25, 0.3, 0.35].flatMap((level) =>
    (["none", "half"] as const).map((baffle) => ({ id: `h${Math.round(level * 1000)}_${baffle}`, level, baffle })),
  );
}

const wave = (k: number): number => (k * Math.PI) / LENGTH;

/** Natural angular frequency of a mode (H. Lamb, "Hydrodynamics", §257); a half baffle lowers the first one. */
export function frequencyOf(c: SumpCase, mode: number): number {
  const k = wave(mode);
  const free = Math.sqrt(9.81 * k * Math.tanh(k * c.level));
  return c.baffle === "half" && mode === 1 ? 0.88 * free : free;
}

/** Amplitudes of the modes at the kept times: damped oscillators, let go from the tilt that the trip leaves. */
function amplitudes(c: SumpCase): Float64Array[] {
  const y = new Float64Array(2 * MODES);
  // The surface is tilted, straight from wall to wall: only odd modes are in it.
  for (let k = 1; k <= MODES; k += 2) y[k - 1] = (0.055 * c.level * 4) / (0.3 * (k * Math.PI) ** 2) / 0.4;
  const rates = (_: number, s: Float64Array, d: Float64Array): void => {
    for (let k = 0; k < MODES; k++) {
      const w = frequencyOf(c, k + 1);
      const v = s[MODES + k]!;
      d[k] = v;
      d[MODES + k] = -w * w * s[k]! - 2 * (c.baffle === "half" ? 0.035 : 0.008) * w * v;
    }
  };
  const h = INTERVAL / 50;
  const out: Float64Array[] = [];
  for (let i = 0; i < STEPS; i++) {
    out.push(y.slice(0, MODES));
    for (let n = 0; n < 50; n++) rungeKutta(rates, 0, y, h);
  }
  return out;
}

const surface = (c: SumpCase, a: Float64Array, x: number): number =>
  c.level + a.reduce((s, v, k) => s + v * Math.cos(wave(k + 1) * x), 0);

/** How much of each cell is filled; within a cell the surface counts as flat. */
function fillFile(c: SumpCase, a: Float64Array): Buffer {
  const [dx, dz] = [LENGTH / NX, HEIGHT / NZ];
  const fill = Float32Array.from({ length: NX * NZ }, (_, n) => {
    const level = surface(c, a, ((n % NX) + 0.5) * dx);
    return Math.min(1, Math.max(0, (level - Math.floor(n / NX) * dz) / dz));
  });
  const extent = `0 ${NX} 0 0 0 ${NZ}`;
  return vtkFile(
    "ImageData",
    (array) =>
      `<Piece Extent="${extent}">\n<CellData>\n${array({ name: "fill", values: fill })}</CellData>\n</Piece>\n`,
    ` WholeExtent="${extent}" Origin="0 0 0" Spacing="${dx} 1 ${dz}"`,
  );
}

/** Places of particles at rest: rows with a little disorder. */
function resting(c: SumpCase): [number, number][] {
  const random = seeded(Math.round(c.level * 1000));
  const out: [number, number][] = [];
  for (let j = 0; j < 24; j++)
    for (let i = 0; i < 40; i++)
      out.push([((i + 0.2 + 0.6 * random()) * LENGTH) / 40, ((j + 0.5 + 0.4 * (random() - 0.5)) * c.level) / 24]);
  return out;
}

/** The particles, carried by the waves' motion (linear theory, depth included). */
function particleFile(c: SumpCase, a: Float64Array, rest: readonly [number, number][]): Buffer {
  const points = new Float32Array(3 * rest.length);
  const id = Int32Array.from(rest, (_, i) => i + 1);
  rest.forEach(([x, z], i) => {
    let [mx, mz] = [0, 0];
    for (let k = 1; k <= MODES; k++) {
      const w = wave(k);
      const deep = Math.sinh(w * c.level);
      mx -= ((a[k - 1]! * Math.cosh(w * z)) / deep) * Math.sin(w * x);
      mz += ((a[k - 1]! * Math.sinh(w * z)) / deep) * Math.cos(w * x);
    }
    points.set([x + mx, 0, z + mz], 3 * i);
  });
  const n = rest.length;
  return vtkFile(
    "PolyData",
    (array) =>
      `<Piece NumberOfPoints="${n}" NumberOfVerts="${n}" NumberOfLines="0" NumberOfStrips="0" ` +
      `NumberOfPolys="0">\n<PointData>\n${array({ name: "id", values: id })}</PointData>\n` +
      `<Points>\n${array({ name: "Points", components: 3, values: points })}</Points>\n` +
      `<Verts>\n${array({ name: "connectivity", values: Int32Array.from(id, (v) => v - 1) })}` +
      `${array({ name: "offsets", values: id })}</Verts>\n</Piece>\n`,
  );
}

/** Writes the study of the sump after a pump trip. */
export function writeSumpStudy(folder: string): void {
  for (const c of sumpCases()) {
    const run = path.join(folder, c.id);
    for (const part of ["fill", "particles"]) fs.mkdirSync(path.join(run, part), { recursive: true });
    fs.writeFileSync(
      path.join(run, "case.json"),
      JSON.stringify({ level: `${c.level} m`, baffle: c.baffle }, null, 2) + "\n",
    );
    const rest = resting(c);
    const number = (i: number): string => String(i).padStart(3, "0");
    amplitudes(c).forEach((a, i) => {
      fs.writeFileSync(path.join(run, `fill/fill_${number(i)}.vti`), fillFile(c, a));
      fs.writeFileSync(path.join(run, `particles/cloud_${number(i)}.vtp`), particleFile(c, a, rest));
    });
    const steps = Array.from({ length: STEPS }, (_, i) => ({
      time: Math.round(i * INTERVAL * 1000) / 1000,
      file: `fill_${number(i)}.vti`,
    }));
    fs.writeFileSync(path.join(run, "fill/fill.pvd"), collection(steps));
  }
  const definition = {
    oxtrum: 1,
    title: "does the sump run dry at the pump?",
    runs: { case: "case.json" },
    files: { cloud: { path: "particles/cloud_*.vtp", times: { step: `${INTERVAL} s` } } },
    units: { fields: { fill: "1", x: "m", time: "s" } },
  };
  fs.mkdirSync(path.join(folder, "gauges"), { recursive: true });
  fs.writeFileSync(
    path.join(folder, "gauges/places.csv"),
    "gauge,x [m],y [m],z [m]\nnorth,0.1,0,0\nmiddle,0.6,0,0\npump,1.05,0,0\n",
  );
  fs.writeFileSync(path.join(folder, "oxtrum.study.json"), JSON.stringify(definition, null, 2) + "\n");
}
