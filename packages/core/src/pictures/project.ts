import type { Camera, PictureDescription, Scene } from "./description.js";

type Three = readonly [number, number, number];

const unit = (v: Three): Three => {
  const n = Math.hypot(v[0], v[1], v[2]) || 1;
  return [v[0] / n, v[1] / n, v[2] / n];
};
const cross = (a: Three, b: Three): Three => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const dot = (a: Three, b: Three): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** To the right, upwards and towards the eye. */
export interface Basis {
  readonly right: Three;
  readonly up: Three;
  readonly eye: Three;
}

/** The directions of a camera. @throws Error where it looks along its own upward direction */
export function basisOf(camera: Camera): Basis {
  const eye = unit(camera.from);
  const right = cross(camera.up, eye);
  if (Math.hypot(...right) < 1e-9) throw new Error("camera: up may not point towards the eye");
  const r = unit(right);
  return { right: r, up: unit(cross(eye, r)), eye };
}

/** Cameras by name: where the eye stands. */
export const cameras: Readonly<Record<string, Camera>> = {
  "fromX+": { from: [1, 0, 0], up: [0, 0, 1] },
  "fromX-": { from: [-1, 0, 0], up: [0, 0, 1] },
  "fromY+": { from: [0, 1, 0], up: [0, 0, 1] },
  "fromY-": { from: [0, -1, 0], up: [0, 0, 1] },
  "fromZ+": { from: [0, 0, 1], up: [0, 1, 0] },
  "fromZ-": { from: [0, 0, -1], up: [0, 1, 0] },
  isometric: { from: [1, -1.6, 1.1], up: [0, 0, 1] },
};

/** Places on a drawing: pixels to the right and down, and how near to the eye. */
export interface Projection {
  readonly basis: Basis;
  /** Pixels per unit of length. */
  readonly scale: number;
  /** Right, down and near as rows of x, y, z and a constant: for loops over many places. */
  readonly rows: Float64Array;
  to(x: number, y: number, z: number): Three;
}

/** Least and largest places of scenes along the directions of a camera. */
export function extentOf(scenes: readonly Scene[], basis: Basis): { right: [number, number]; up: [number, number] } {
  const right: [number, number] = [Infinity, -Infinity];
  const up: [number, number] = [Infinity, -Infinity];
  for (const s of scenes)
    for (const list of [s.triangles, s.edges, s.rim])
      for (let k = 0; k < list.length; k += 3) {
        const p: Three = [list[k]!, list[k + 1]!, list[k + 2]!];
        const [a, b] = [dot(p, basis.right), dot(p, basis.up)];
        if (a < right[0]) right[0] = a;
        if (a > right[1]) right[1] = a;
        if (b < up[0]) up[0] = b;
        if (b > up[1]) up[1] = b;
      }
  return { right, up };
}

/** How scenes fit into a part of a drawing; the same for all panels, so that they can be compared. */
export function projectionFor(
  p: PictureDescription,
  area: { x: number; y: number; width: number; height: number },
): Projection {
  const basis = basisOf(p.camera);
  const { right, up } = extentOf(
    p.panels.map((o) => o.scene),
    basis,
  );
  const [wide, tall] = [right[1] - right[0], up[1] - up[0]];
  const scale = Math.min(area.width / (wide || tall || 1), area.height / (tall || wide || 1)) || 1;
  const [cx, cy] = [(right[0] + right[1]) / 2, (up[0] + up[1]) / 2];
  const { right: r, up: u, eye: e } = basis;
  const [x0, y0] = [area.x + area.width / 2 - cx * scale, area.y + area.height / 2 + cy * scale];
  const rows = Float64Array.from([
    ...r.map((v) => v * scale),
    x0,
    ...u.map((v) => -v * scale),
    y0,
    ...e.map((v) => v * scale),
    0,
  ]);
  const at = (k: number, x: number, y: number, z: number): number =>
    rows[k]! * x + rows[k + 1]! * y + rows[k + 2]! * z + rows[k + 3]!;
  return { basis, scale, rows, to: (x, y, z) => [at(0, x, y, z), at(4, x, y, z), at(8, x, y, z)] };
}
