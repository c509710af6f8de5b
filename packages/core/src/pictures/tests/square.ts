import type { PictureDescription, Scene } from "../description.js";
import { cameras } from "../project.js";

export const none = new Float64Array(0);
/** A square from 0 to 1 in x and z at y = 0, of n × n squares of two triangles each, with values f(x, z). */
export function square(
  f: (x: number, z: number) => number,
  n = 20,
  vectors?: (x: number, z: number) => readonly [number, number, number],
): Scene {
  const t: number[] = [];
  const v: number[] = [];
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) {
      const c = [
        [i, j],
        [i + 1, j],
        [i + 1, j + 1],
        [i, j],
        [i + 1, j + 1],
        [i, j + 1],
      ].map(([a, b]) => [a! / n, b! / n] as const);
      for (const [a, b] of c) {
        t.push(a, 0, b);
        v.push(f(a, b));
      }
    }
  const m = 40;
  const places = new Float64Array(3 * m * m);
  const arrows = new Float64Array(3 * m * m);
  for (let j = 0; j < m; j++)
    for (let i = 0; i < m; i++) {
      const [a, b] = [(i + 0.5) / m, (j + 0.5) / m];
      places.set([a, 0, b], 3 * (j * m + i));
      arrows.set(vectors?.(a, b) ?? [0, 0, 0], 3 * (j * m + i));
    }
  return {
    triangles: Float64Array.from(t),
    values: Float64Array.from(v),
    edges: none,
    rim: none,
    ...(vectors && { grid: { nx: m, ny: m, places, vectors: arrows } }),
  };
}
/** Scenes seen from the front, with nothing over them. */
export const plainPicture = (scenes: readonly Scene[], more: Partial<PictureDescription> = {}): PictureDescription => ({
  panels: scenes.map((scene) => ({ scene })),
  camera: cameras["fromY-"]!,
  contours: [],
  arrows: false,
  streamlines: false,
  mesh: false,
  sites: [],
  lengthUnit: "m",
  ...more,
});
