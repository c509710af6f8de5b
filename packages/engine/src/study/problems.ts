import {
  convert,
  displayUnit,
  formatNumber,
  parseUnit,
  sameDimensions,
  tryParseUnit,
  type UnitSymbol,
} from "@oxtrum/core/tables";
import type {
  Catalogue,
  CatalogueField,
  CatalogueFile,
  CatalogueRun,
  Problem,
  Shape,
} from "../definition/catalogue-model.js";
import { logicalName } from "../definition/definition.js";
import { isMeshName, isTimeCollection } from "../definition/field-name.js";
import { fieldDifferences, usualShape } from "./field-differences.js";

/** What most runs have, for one file: the measure of what is odd in the others. */
interface Usual {
  readonly runs: number;
  readonly shape: Shape | undefined;
  readonly last: number | undefined;
}

const axisUnit = (shape: Shape | undefined): UnitSymbol =>
  shape?.columns.find((x) => x.name === shape.axis)?.unit ?? null;

/** Where a file ends along its axis, in the unit most runs use; `undefined` where that cannot be said. */
function lastIn(unit: UnitSymbol, f: CatalogueFile, shapes: readonly Shape[]): number | undefined {
  const own = f.shape === undefined ? null : axisUnit(shapes[f.shape]);
  if (f.last === undefined || own === unit) return f.last;
  const [from, to] = [own === null ? undefined : tryParseUnit(own), unit === null ? undefined : tryParseUnit(unit)];
  if (!from || !to || !sameDimensions(from, to)) return undefined;
  return convert(f.last, from.symbol, to.symbol);
}

function usualOf(c: Pick<Catalogue, "runs" | "shapes">): Map<string, Usual> {
  const out = new Map<string, Usual>();
  const files = new Set(c.runs.flatMap((r) => Object.keys(r.files)));
  for (const file of files) {
    const all = c.runs.flatMap((r) => (Object.hasOwn(r.files, file) ? [r.files[file]!] : []));
    const shape = usualShape(all.map((f) => f.shape));
    const usual = shape === undefined ? undefined : c.shapes[shape];
    const unit = axisUnit(usual);
    const lasts = all.flatMap((f) => lastIn(unit, f, c.shapes) ?? []).sort((a, b) => a - b);
    out.set(file, { runs: all.length, shape: usual, last: lasts[lasts.length >> 1] });
  }
  return out;
}

function isLength(unit: UnitSymbol): boolean {
  const known = unit === null ? undefined : tryParseUnit(unit);
  return known !== undefined && sameDimensions(known, parseUnit("m"));
}

/** What most runs have, for one field. */
interface UsualField {
  readonly runs: number;
  readonly shape: number | undefined;
  readonly steps: number;
}

function usualFields(c: Pick<Catalogue, "runs">): Map<string, UsualField> {
  const all = new Map<string, CatalogueField[]>();
  for (const r of c.runs)
    for (const [name, f] of Object.entries(r.fields)) {
      const known = all.get(name);
      if (known) known.push(f);
      else all.set(name, [f]);
    }
  return new Map(
    [...all].map(([name, list]) => {
      const steps = list.map((f) => f.steps ?? 0).sort((x, y) => x - y)[list.length >> 1]!;
      return [name, { runs: list.length, shape: usualShape(list.map((f) => f.shape)), steps }];
    }),
  );
}

/**
 * Fields that a run lacks, that cannot be read, that differ in fields, patches and units, or that end before most
 * others do.
 */
function fieldProblems(
  c: Pick<Catalogue, "runs" | "fieldShapes" | "definition">,
  usual: ReadonlyMap<string, UsualField>,
  run: CatalogueRun,
  add: (kind: Problem["kind"], file: string, text: string) => void,
): void {
  for (const [key, { runs, shape, steps }] of usual) {
    const name = logicalName(c.definition, key);
    const f = Object.hasOwn(run.fields, key) ? run.fields[key]! : undefined;
    if (f === undefined) {
      if (runs > c.runs.length / 2) add("missing-file", name, `no ${name}`);
      continue;
    }
    if (f.error !== undefined) {
      add("unreadable", name, f.error);
      continue;
    }
    if (f.shape !== undefined && shape !== undefined && f.shape !== shape)
      for (const d of fieldDifferences(c.fieldShapes[f.shape]!, c.fieldShapes[shape]!))
        add(d.kind, name, `${name}: ${d.text}`);
    if ((f.steps ?? 0) < steps) {
      const upTo = f.last === undefined ? "" : `, up to ${formatNumber(f.last)}`;
      add("short", name, `${name} has ${f.steps ?? 0} of ${steps} times${upTo}`);
    }
  }
}

/**
 * Lists, run by run, what is missing or odd against what most runs have: files, columns, units, histories that stop
 * early, files that are cut off or cannot be read.
 */
export function findProblems(c: Pick<Catalogue, "runs" | "shapes" | "fieldShapes" | "definition">): CatalogueRun[] {
  const usual = usualOf(c);
  const fields = usualFields(c);
  return c.runs.map((run) => {
    const problems: Problem[] = [...run.problems];
    const add = (kind: Problem["kind"], file: string, text: string): void =>
      void problems.push({ run: run.id, kind, file, text });
    fieldProblems(c, fields, run, add);
    for (const [file, u] of usual) {
      if (isMeshName(file) || isTimeCollection(file)) continue;
      const f = Object.hasOwn(run.files, file) ? run.files[file]! : undefined;
      if (f === undefined) {
        if (u.runs > c.runs.length / 2) add("missing-file", file, `no ${file}`);
        continue;
      }
      if (f.error !== undefined) {
        if (u.shape !== undefined || c.runs.length === 1) add("unreadable", file, `${file}: ${f.error}`);
        continue;
      }
      if (f.cut) {
        add("cut", file, `${file} is cut off in its last line`);
        continue;
      }
      const shape = f.shape === undefined ? undefined : c.shapes[f.shape];
      if (shape && u.shape && shape !== u.shape) {
        for (const want of u.shape.columns) {
          const have = shape.columns.find((x) => x.name === want.name);
          if (!have) add("missing-column", file, `${file} lacks "${want.name}"`);
          else if (have.unit !== want.unit)
            add(
              "unit",
              file,
              `${want.name} in ${displayUnit(have.unit) || "no unit"} here, ${displayUnit(want.unit) || "no unit"} elsewhere`,
            );
        }
      }
      const axis = axisUnit(u.shape);
      // Along a length a table may run either way, and end anywhere: only histories stop early.
      if (isLength(axis)) continue;
      const last = lastIn(axis, f, c.shapes);
      if (last !== undefined && u.last !== undefined && last < u.last - 0.005 * Math.abs(u.last)) {
        const unit = displayUnit(axis);
        add("short", file, `${file} stops at ${formatNumber(last)}${unit ? " " + unit : ""}`);
      }
    }
    return { ...run, problems };
  });
}
