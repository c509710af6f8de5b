import { interpolate, type Located } from "../mesh/locate.js";
import type { Asked, Block } from "./field-set.js";
import { planFor } from "./plans.js";

/** Magnitude or one component of values that lie together. */
export function componentOf(values: Float64Array, components: number, component: number): Float64Array {
  if (components === 1) return values;
  const n = values.length / components;
  const out = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    if (component >= 0) out[i] = values[i * components + component]!;
    else out[i] = Math.hypot(values[i * components]!, values[i * components + 1]!, values[i * components + 2]!);
  }
  return out;
}

/** Values at places in several blocks; a place belongs to the first block that holds it. NaN outside all of them. */
export function sampleAt(
  blocks: readonly Block[],
  places: Float64Array,
  asked: readonly Asked[],
): { columns: Float64Array[]; outside: number } {
  const count = places.length / 3;
  const columns = asked.map(() => new Float64Array(count).fill(Number.NaN));
  const taken = new Uint8Array(count);
  for (const block of blocks) {
    const at = planFor(block, places);
    const own: number[] = [];
    for (let i = 0; i < count; i++) if (at.cell[i]! >= 0 && taken[i] === 0) own.push(i);
    if (own.length === 0) continue;
    for (const i of own) taken[i] = 1;
    const fields = new Map<string, Float64Array>();
    asked.forEach((a, k) => {
      const on = block.locationOf(a.field);
      if (on === undefined) return;
      const { stored, components } = a.field;
      let values = fields.get(`${on} ${stored}`);
      if (!values) {
        values =
          on === "point" ? pointValues(block, at, stored, components) : cellValues(block, at, stored, components);
        fields.set(`${on} ${stored}`, values);
      }
      const part = componentOf(values, components, a.component);
      for (const i of own) columns[k]![i] = part[i]!;
    });
  }
  return { columns, outside: taken.reduce((n, t) => n + (t === 0 ? 1 : 0), 0) };
}

/** Point values, of which only those of the cells hit are read where the file lets one. */
function pointValues(block: Block, at: Located, stored: string, components: number): Float64Array {
  if (at.nodes.length * 4 > block.grid.points) return interpolate(at, block.values("point", stored), components);
  const used = Int32Array.from(new Set(at.nodes)).sort();
  const values = block.some("point", stored, used);
  const place = new Map<number, number>();
  used.forEach((v, k) => place.set(v, k));
  return interpolate({ ...at, nodes: at.nodes.map((v) => place.get(v)!) }, values, components);
}

function cellValues(block: Block, at: Located, stored: string, components: number): Float64Array {
  const out = new Float64Array(at.cell.length * components).fill(Number.NaN);
  const hit: number[] = [];
  at.cell.forEach((c, i) => c >= 0 && hit.push(i));
  const values = block.some(
    "cell",
    stored,
    hit.map((i) => at.cell[i]!),
  );
  hit.forEach((i, k) => {
    for (let d = 0; d < components; d++) out[i * components + d] = values[k * components + d]!;
  });
  return out;
}
