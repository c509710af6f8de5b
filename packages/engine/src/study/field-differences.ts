import { displayUnit } from "@oxtrum/core/tables";
import type { FieldShape } from "../definition/catalogue-model.js";

export interface FieldDifference {
  readonly kind: "unit" | "missing-column";
  readonly text: string;
}

/** The shape that most runs' fields of one name have; the first among equals. */
export function usualShape(numbers: readonly (number | undefined)[]): number | undefined {
  const counts = new Map<number, number>();
  for (const n of numbers) if (n !== undefined) counts.set(n, (counts.get(n) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]?.[0];
}

/**
 * What tells a run's field from those of most runs, in words: fields and patches that are missing, units that differ.
 * Empty where nothing does that a script could notice.
 *
 * @example fieldDifferences(shape, usual) // [{ kind: "unit", text: "T in °C here, K elsewhere" }]
 */
export function fieldDifferences(have: FieldShape, usual: FieldShape): FieldDifference[] {
  const unit = (u: string | null): string => displayUnit(u) || (u === null ? "no unit" : "a bare number");
  const out: FieldDifference[] = [];
  const lacks = (text: string): void => void out.push({ kind: "missing-column", text });
  const named = new Map(have.fields.map((f) => [`${f.name}@${f.on}`, f]));
  for (const want of usual.fields) {
    const own = named.get(`${want.name}@${want.on}`);
    if (own === undefined) {
      const moved = have.fields.find((f) => f.name === want.name);
      lacks(moved ? `${want.name} on ${moved.on}s here, ${want.on}s elsewhere` : `no field ${want.name}`);
    } else if (own.components !== want.components)
      lacks(`${want.name} with ${own.components} components here, ${want.components} elsewhere`);
    else if (own.unit !== want.unit)
      out.push({ kind: "unit", text: `${want.name} in ${unit(own.unit)} here, ${unit(want.unit)} elsewhere` });
  }
  const lacking = usual.blocks.filter((b) => !have.blocks.includes(b));
  if (lacking.length > 0) lacks(`no patch ${lacking.join(", ")}`);
  if (have.dimension !== usual.dimension)
    lacks(`cells of dimension ${have.dimension} here, ${usual.dimension} elsewhere`);
  return out;
}
