import { glob, tryParseUnit } from "@oxtrum/core/tables";
import { fieldName } from "./field-name.js";
import type { StudyDefinition } from "./definition.js";

/** The units that a definition declares for a field of a run: those of all fields, and those of its file or name. */
export const fieldUnits = (definition: StudyDefinition, run: string, field: string): Record<string, string> =>
  Object.assign({}, ...["fields", fieldName(field), field].map((name) => unitsFor(definition, run, name))) as Record<
    string,
    string
  >;

/**
 * The unit of a field's times in a run: the one that its files say, else the one that is declared for `time`; null of
 * steps, and where neither says one.
 */
export const fieldAxisUnit = (
  definition: StudyDefinition,
  run: string,
  field: string,
  own: { readonly axis: string; readonly axisUnit?: string | null },
): string | null =>
  own.axis === "step" ? null : (own.axisUnit ?? declaredUnit("time", null, fieldUnits(definition, run, field)));

/** The name that scripts have for a column. */
export const renamed = (name: string, names: Readonly<Record<string, readonly string[]>>): { name: string } => ({
  name: Object.keys(names).find((k) => names[k]!.includes(name)) ?? name,
});

/** Patterns of definitions, made ready once: they are compared with every file and column. */
const patterns = new Map<string, (name: string) => boolean>();

function fitsPattern(name: string, pattern: string): boolean {
  let fits = patterns.get(pattern);
  if (!fits) {
    if (patterns.size > 1000) patterns.clear();
    patterns.set(pattern, (fits = glob(pattern)));
  }
  return fits(name);
}

/**
 * The unit the definition declares for a column, by name or pattern; the file's own otherwise.
 *
 * @param stored the name that it has in its file, where scripts have another for it
 */
export function declaredUnit(
  name: string,
  unit: string | null,
  units: Readonly<Record<string, string>>,
  stored = name,
): string | null {
  for (const called of stored === name ? [name] : [name, stored])
    for (const [pattern, declared] of Object.entries(units))
      if (pattern === called || fitsPattern(called, pattern)) return tryParseUnit(declared)?.symbol ?? unit;
  return unit;
}

/** Whether the definition may declare a unit for a column, by the name that it has in its file or in scripts. */
export const hasDeclaredUnit = (
  stored: string,
  names: Readonly<Record<string, readonly string[]>>,
  units: Readonly<Record<string, string>>,
): boolean =>
  Object.keys(units).some((pattern) =>
    [stored, ...Object.keys(names).filter((n) => names[n]!.includes(stored))].some(
      (called) => pattern === called || fitsPattern(called, pattern),
    ),
  );

/** The units a definition declares for one run's file. */
export function unitsFor(definition: StudyDefinition, run: string, file: string): Record<string, string> {
  const out: Record<string, string> = {};
  for (const [pattern, units] of Object.entries(definition.units))
    if (pattern === file || fitsPattern(file, pattern)) Object.assign(out, units);
  for (const r of definition.runUnits)
    if (fitsPattern(run, r.run) && fitsPattern(file, r.file)) Object.assign(out, r.units);
  return out;
}
