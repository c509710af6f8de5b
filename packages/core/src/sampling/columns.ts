import { derive, type evaluateFormula } from "../tables/formula.js";
import { formulaNames, type FormulaTree } from "../tables/formula-tree.js";
import { makeTable, numberColumn, numbers, TableError, type Column, type UnitSymbol } from "../tables/table.js";
import type { FieldNote } from "./unified-fields.js";
import { askedColumns, componentNames, type Asked, type Block, type NamedField } from "./field-set.js";

/** A column by formula, made after sampling. */
export interface DerivedField {
  readonly name: string;
  readonly formula: FormulaTree;
  readonly unit?: string | undefined;
  readonly constants: Parameters<typeof evaluateFormula>[2];
}

/** One time of a field with what is known of its names and units. */
export interface FieldAtTime {
  readonly file: string;
  readonly blocks: readonly Block[];
  readonly fields: readonly NamedField[];
  readonly lengthUnit: UnitSymbol;
  readonly derived: readonly DerivedField[];
  /** What is to be known of its fields where they are used. */
  readonly fieldNotes?: readonly FieldNote[];
}

/** A vector's component along the line or along the normal of the surface that is sampled: `U.along`, `U.normal`. */
interface Projection {
  readonly column: string;
  readonly field: NamedField;
}

/** The columns that are wanted: those of the file, and those made from them. */
export interface Wanted {
  readonly asked: readonly Asked[];
  readonly projections: readonly Projection[];
  readonly derived: readonly DerivedField[];
  readonly shown: readonly string[];
}

/** What is read for some names: components are told apart, formulas bring what they need. */
export function wantedOf(f: FieldAtTime, names: readonly string[]): Wanted {
  const derived: DerivedField[] = [];
  const needed: string[] = [];
  const projections: Projection[] = [];
  const projected = (name: string): Projection | undefined => {
    const [, of] = /^(.*)\.(?:along|normal)$/.exec(name) ?? [];
    const field = of === undefined ? undefined : f.fields.find((x) => x.name === of && x.components === 3);
    return field && { column: name, field };
  };
  const visit = (name: string, depth = 0): void => {
    const d = f.derived.find((x) => x.name === name);
    if (!d || depth > 20) {
      const p = projected(name);
      if (p && !projections.some((o) => o.column === name)) projections.push(p);
      for (const n of p ? componentNames(p.field.name, 3) : [name]) if (!needed.includes(n)) needed.push(n);
      return;
    }
    for (const used of formulaNames(d.formula))
      if (!Object.hasOwn(d.constants ?? {}, used) && !["x", "y", "z"].includes(used)) visit(used, depth + 1);
    if (!derived.includes(d)) derived.push(d);
  };
  for (const n of names) visit(n);
  const asked = askedColumns(f.fields, needed);
  const shown = names.flatMap((n) =>
    f.derived.some((d) => d.name === n) || projected(n) ? [n] : askedColumns(f.fields, [n]).map((a) => a.column),
  );
  return { asked, projections, derived, shown: [...new Set(shown)] };
}

/** What is to be known of the fields that these names are read from. */
export function notesOf(f: FieldAtTime, names: readonly string[]): string[] {
  if (!f.fieldNotes || f.fieldNotes.length === 0) return [];
  const used = new Set(wantedOf(f, names).asked.map((a) => a.field.name.replace(/@(?:point|cell)$/, "")));
  return f.fieldNotes.filter((n) => used.has(n.field)).map((n) => n.text);
}

/**
 * All columns that are wanted, made from those that were read.
 *
 * @param direction three numbers per row: the line's or the normal's; undefined where the site has none
 */
export function completed(read: readonly Column[], wanted: Wanted, direction: Float64Array | undefined): Column[] {
  const out = [...read];
  for (const p of wanted.projections) {
    if (!direction)
      throw new TableError(
        `"${p.column}" needs a direction: \`.along\` is for lines and paths, \`.normal\` for planes and patches`,
      );
    const parts = componentNames(p.field.name, 3).map((n) => out.find((c) => c.name === n)!.values as Float64Array);
    const values = Float64Array.from(parts[0]!, (_, i) =>
      parts.reduce((s, v, d) => s + v[i]! * direction[3 * i + d]!, 0),
    );
    out.push(numberColumn(p.column, p.field.unit, values));
  }
  for (const d of wanted.derived) {
    const table = makeTable(out);
    // As in a table: a unit that is asked for converts, and needs one that is known.
    const asked = derive(table, d.name, d.formula, { unit: d.unit, constants: d.constants });
    const made = numbers(asked, d.name);
    out.push(numberColumn(d.name, made.unit, made.values));
  }
  return out;
}

/** The columns x, y and z of places. */
export const coordinates = (xyz: Float64Array, unit: UnitSymbol): Column[] =>
  (["x", "y", "z"] as const).map((name, d) =>
    numberColumn(
      name,
      unit,
      Float64Array.from({ length: xyz.length / 3 }, (_, i) => xyz[3 * i + d]!),
    ),
  );
