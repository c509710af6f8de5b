import { pointsToCells } from "../../mesh/transfer.js";
import { componentOf } from "../at-places.js";
import { ByteCache } from "../byte-cache.js";
import type { Asked, Block } from "../field-set.js";
import { scatteredWeights, type Method, type Scattered } from "./methods.js";
import { PointTree } from "./tree.js";
import { Triangulation } from "./triangulation.js";

/** Points that carry values: those of the mesh for point fields, the cells' middles for cell fields. */
interface Cloud {
  readonly coordinates: Float64Array;
  readonly tree: PointTree;
}

const clouds = new ByteCache<Cloud>();

type Location = "point" | "cell";

const keyOf = (blocks: readonly (readonly [Block, Location])[]): string =>
  blocks.map(([b, on]) => `${on} ${b.digest}`).join(" ");

function cloudOf(blocks: readonly (readonly [Block, Location])[]): Cloud {
  const key = keyOf(blocks);
  const known = clouds.get(key);
  if (known) return known;
  const parts = blocks.map(([b, on]) => (on === "point" ? b.mesh.points : pointsToCells(b.mesh, b.mesh.points, 3)));
  const coordinates = new Float64Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const p of parts) {
    coordinates.set(p, at);
    at += p.length;
  }
  const made = { coordinates, tree: new PointTree(coordinates) };
  // The tree holds about as much again as the coordinates.
  clouds.set(key, made, 2 * coordinates.byteLength);
  return made;
}

const triangulations = new ByteCache<Triangulation>();

function triangulationOf(blocks: readonly (readonly [Block, Location])[], cloud: Cloud): Triangulation {
  const key = keyOf(blocks);
  const known = triangulations.get(key);
  if (known) return known;
  const made = new Triangulation(cloud.coordinates, cloud.tree.order);
  triangulations.set(key, made, made.bytes);
  return made;
}

/** Values at places from the points around them, whether or not these form cells. */
export function sampleScattered(
  blocks: readonly Block[],
  places: Float64Array,
  asked: readonly Asked[],
  method: Method,
): { columns: Float64Array[]; outside: number; notes: string[] } {
  const count = places.length / 3;
  const notes = new Set<string>();
  const plans = new Map<string, Scattered>();
  let outside = 0;
  const columns = asked.map((a) => {
    const { stored, components } = a.field;
    const own = blocks.flatMap((b): [Block, Location][] => {
      const on = b.locationOf(a.field);
      return on === undefined ? [] : [[b, on]];
    });
    const out = new Float64Array(count).fill(Number.NaN);
    if (own.length === 0) return out;
    const raw = own.map(([b, on]) => componentOf(b.values(on, stored), components, a.component));
    const values = new Float64Array(raw.reduce((n, v) => n + v.length, 0));
    let at = 0;
    for (const v of raw) {
      values.set(v, at);
      at += v.length;
    }
    const cloud = cloudOf(own);
    // A variogram is estimated from the values: each quantity has its own.
    const key = method.kind === "kriging" ? a.column : keyOf(own);
    let plan = plans.get(key);
    if (!plan)
      plans.set(
        key,
        (plan = scatteredWeights(cloud.tree, cloud.coordinates, places, method, values, () =>
          triangulationOf(own, cloud),
        )),
      );
    notes.add(method.kind === "kriging" && asked.length > 1 ? `${a.column}: ${plan.note}` : plan.note);
    let lost = 0;
    for (let i = 0; i < count; i++) {
      const from = plan.points[i]!;
      if (from.length === 0) {
        lost++;
        continue;
      }
      let sum = 0;
      for (let k = 0; k < from.length; k++)
        if (plan.weights[i]![k] !== 0) sum += plan.weights[i]![k]! * values[from[k]!]!;
      out[i] = sum;
    }
    outside = Math.max(outside, lost);
    return out;
  });
  return { columns, outside, notes: [...notes] };
}
