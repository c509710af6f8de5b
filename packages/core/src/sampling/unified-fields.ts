import { splitUnit } from "../formats/text-table/header.js";
import type { FieldHead, Grid } from "../formats/mesh-data.js";
import type { UnitSymbol } from "../tables/table.js";
import {
  applyConversion,
  conversion,
  displayUnit,
  parseUnit,
  sameDimensions,
  type Conversion,
} from "../tables/units.js";
import type { NamedField } from "./field-set.js";

/** One field of one grid by the name scripts use. */
interface Found {
  readonly grid: number;
  readonly head: FieldHead;
  readonly unit: UnitSymbol;
}

/** The fields of several grids under one name, in one unit each. */
export interface UnifiedFields {
  readonly grids: readonly Grid[];
  readonly fields: readonly NamedField[];
  /** What of a grid could not be brought together with the others, and conversions. */
  readonly notes: readonly FieldNote[];
}

/** What is to be known of a field where it is used. */
export interface FieldNote {
  readonly field: string;
  readonly text: string;
}

/**
 * The fields of grids by the names scripts use: without the unit that stands in a file's name, by their aliases. The
 * same name in several grids means one field: values in other units are converted to the first grid's. Where that
 * cannot be (no unit, another quantity, other components) the field is missing in that grid, and a note says so.
 *
 * A name that is on points and in cells of one grid means the points; `T@point` and `T@cell` tell them apart.
 *
 * @param unitOf the unit of a field from its name, the unit that its file tells, and the name that it has in the file
 */
export function unifiedFields(
  grids: readonly Grid[],
  aliases: Readonly<Record<string, readonly string[]>>,
  unitOf: (name: string, own: UnitSymbol, stored: string) => UnitSymbol,
): UnifiedFields {
  const notes = new Map<string, FieldNote>();
  const note = (field: string, text: string): void => void notes.set(text, { field, text });
  const byName = new Map<string, Found[]>();
  grids.forEach((g, grid) => {
    for (const head of g.fields) {
      const split = splitUnit(head.name);
      const plain =
        Object.keys(aliases).find((k) => aliases[k]!.includes(head.name) || aliases[k]!.includes(split.name)) ??
        split.name;
      const unit = unitOf(plain, split.unit, split.name);
      if (split.unit !== null && unit !== split.unit)
        note(
          plain,
          `"${plain}" is taken in ${displayUnit(unit) || "no unit"}, its file says ${displayUnit(split.unit)}`,
        );
      byName.set(plain, [...(byName.get(plain) ?? []), { grid, head, unit }]);
    }
  });
  const fields: NamedField[] = [];
  const views = grids.map((): Map<string, View> => new Map());
  for (const [name, all] of byName) {
    const lead = all.find((f) => f.head.on === "point") ?? all[0]!;
    const { components } = lead.head;
    const first: NamedField = { name, stored: lead.head.name, on: lead.head.on, components, unit: lead.unit };
    fields.push(first);
    const both = grids.some((_, g) =>
      ["point", "cell"].every((on) =>
        all.some((f) => f.grid === g && f.head.on === on && f.head.components === components),
      ),
    );
    if (both)
      for (const on of ["point", "cell"] as const) fields.push({ ...first, name: `${name}@${on}`, on, exact: true });
    for (const f of all) {
      if (f.head.name === first.stored && f.unit === first.unit && f.head.components === components) continue;
      const where = grids[f.grid]!.block === "" ? "one block" : `block "${grids[f.grid]!.block}"`;
      const change =
        f.head.components === components
          ? changeOf(f.unit, first.unit)
          : `it has ${f.head.components} component${f.head.components === 1 ? "" : "s"} there`;
      if (typeof change === "string") note(name, `"${name}" of ${where} is not used: ${change}`);
      else if (f.unit !== first.unit)
        note(name, `"${name}" of ${where} is converted from ${displayUnit(f.unit)} to ${displayUnit(first.unit)}`);
      views[f.grid]!.set(`${f.head.on} ${f.head.name}`, {
        stored: first.stored,
        change: typeof change === "string" ? undefined : change,
      });
    }
  }
  return {
    grids: grids.map((g, k) => (views[k]!.size === 0 ? g : viewed(g, views[k]!))),
    fields,
    notes: [...notes.values()],
  };
}

/** How a field of a grid is shown: by another name and converted; not at all without a conversion. */
interface View {
  readonly stored: string;
  readonly change: Conversion | undefined;
}

/** The conversion between two units, or why there is none. */
function changeOf(from: UnitSymbol, to: UnitSymbol): Conversion | string {
  if (from === to) return { scale: 1, shift: 0 };
  if (from === null)
    return `its unit is not known, elsewhere it is ${displayUnit(to)}; declare it in the study's definition`;
  if (to === null)
    return `it is in ${displayUnit(from)}, elsewhere its unit is not known; declare it in the study's definition`;
  const [a, b] = [parseUnit(from), parseUnit(to)];
  return sameDimensions(a, b) ? conversion(a, b) : `it is in ${displayUnit(from)}, elsewhere in ${displayUnit(to)}`;
}

/** A grid with some of its fields renamed and converted, or left out. */
function viewed(grid: Grid, views: ReadonlyMap<string, View>): Grid {
  const fields = grid.fields.flatMap((f): FieldHead[] => {
    const v = views.get(`${f.on} ${f.name}`);
    if (!v) return [f];
    const { claimed: _, ...head } = f;
    return v.change ? [{ ...head, name: v.stored }] : [];
  });
  /** The name in the file, and what is to be done with the values. */
  const source = (on: string, stored: string): { name: string; change: Conversion | undefined } => {
    for (const [key, v] of views)
      if (v.change && v.stored === stored && key.startsWith(`${on} `))
        return { name: key.slice(on.length + 1), change: v.change };
    return { name: stored, change: undefined };
  };
  const converted = (values: Float64Array, change: Conversion | undefined): Float64Array =>
    !change || (change.scale === 1 && change.shift === 0) ? values : values.map((x) => applyConversion(x, change));
  return {
    ...grid,
    fields,
    readField: (on, name) => {
      const s = source(on, name);
      return converted(grid.readField(on, s.name), s.change);
    },
    readSome: (on, name, indices) => {
      const s = source(on, name);
      return converted(grid.readSome(on, s.name, indices), s.change);
    },
    readsParts: (on, name) => grid.readsParts?.(on, source(on, name).name) ?? false,
  };
}
