import { z } from "zod";
import {
  reduceSite,
  sampleSite,
  type DerivedField,
  type FieldAtTime,
  type Reductions,
  type Site,
} from "@oxtrum/core/sampling";
import {
  formatNumber,
  makeTable,
  numberColumn,
  numbers,
  type Column,
  type Table,
  type UnitSymbol,
} from "@oxtrum/core/tables";
import { boundArg, boundIn, constantsArg, formulaArg, treeOf } from "./arguments.js";
import { Mistake } from "./values.js";

const place = z.tuple([z.number(), z.number(), z.number()]);
const count = z.number().int().min(1).max(10_000_000);
const siteArg = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("points"), places: z.array(place).min(1), names: z.array(z.string()).optional() }),
  z.object({ kind: z.literal("line"), from: place, to: place, count: count.min(2) }),
  z.object({ kind: z.literal("path"), through: z.array(place).min(2), count: count.min(2) }),
  z.object({ kind: z.literal("grid"), origin: place, step: place, count: z.tuple([count, count, count]) }),
  z.object({ kind: z.literal("plane"), point: place, normal: place }),
  z.object({ kind: z.literal("patch"), match: z.string() }),
  z.object({ kind: z.literal("all") }),
  z.object({ kind: z.literal("stations"), along: z.enum(["x", "y", "z"]), from: z.number(), to: z.number(), count }),
]);
const reduction = z.union([
  z.object({ mean: z.string(), weights: z.enum(["size", "plain"]).optional() }).strict(),
  z.object({ min: z.string() }).strict(),
  z.object({ max: z.string() }).strict(),
  z.object({ std: z.string() }).strict(),
  z.object({ integral: z.string() }).strict(),
  z.object({ flux: z.string() }).strict(),
  z.object({ size: z.literal(true) }).strict(),
]);

/** What all verbs of a field are given. */
export const fieldArgs = z.object({
  study: z.string(),
  file: z.string(),
  run: z.number().optional(),
  when: z.union([z.enum(["first", "last"]), z.object({ value: boundArg, pick: z.enum(["exact", "nearest", "linear"]) })]).optional(),
  window: z.tuple([boundArg, boundArg]).optional(),
  derived: z.array(z.object({ name: z.string(), formula: formulaArg, unit: z.string().optional(), constants: constantsArg })).default([]),
  site: siteArg.optional(),
  fields: z.array(z.string()).optional(),
  reductions: z.record(z.string(), reduction).optional(),
}); // prettier-ignore

export type FieldArgs = z.infer<typeof fieldArgs>;

/** Operations on fields, by name, with their versions: they read a run's files themselves. */
export const fieldVersions: Readonly<Record<string, number>> = { "field.sample": 1, "field.reduce": 1, "field.history": 1, "field.times": 1 }; // prettier-ignore

/** A field over its times. `steps` are undefined where files say no time. */
export interface FieldSource {
  readonly axis: string;
  readonly unit: UnitSymbol;
  readonly steps: readonly (number | undefined)[];
  /** Works with one step; what it has opened is closed again behind it. */
  withStep<T>(step: number, derived: readonly DerivedField[], use: (f: FieldAtTime) => T): T;
}

const SAME = 1e-9;

/** Which steps a choice means, with their weights: one step, or two to interpolate between. */
export function chosenSteps(source: FieldSource, when: FieldArgs["when"]): { step: number; weight: number }[] {
  const { steps } = source;
  const last = steps.length - 1;
  if (when === "last") return [{ step: last, weight: 1 }];
  if (when === "first") return [{ step: 0, weight: 1 }];
  if (when === undefined) {
    if (steps.length === 1) return [{ step: 0, weight: 1 }];
    throw new Mistake(
      `this field has ${steps.length} times: choose one with .at({ ${source.axis}: … }), or ask for a .history`,
    );
  }
  const value = boundIn(when.value, source.unit, `at ${source.axis}`);
  const known = steps.map((s) => s ?? Number.NaN);
  const near = known.reduce((best, s, k) => (Math.abs(s - value) < Math.abs(known[best]! - value) ? k : best), 0);
  const scale = Math.max(Math.abs(known[0]!), Math.abs(known[last]!), 1e-300);
  if (when.pick === "nearest" || Math.abs(known[near]! - value) <= SAME * scale) return [{ step: near, weight: 1 }];
  if (when.pick === "linear") {
    const right = known.findIndex((s) => s > value);
    if (right > 0) {
      const t = (value - known[right - 1]!) / (known[right]! - known[right - 1]!);
      return [{ step: right - 1, weight: 1 - t }, { step: right, weight: t }]; // prettier-ignore
    }
  }
  throw new Mistake(`there is no ${source.axis} ${formatNumber(value)}; there is ${listed(known)}${when.pick === "exact" ? '. To take the nearest one, add { pick: "nearest" }' : ""}`); // prettier-ignore
}

const listed = (steps: readonly number[]): string =>
  steps.length <= 6 ? steps.map((s) => formatNumber(s)).join(", ") : `${steps.slice(0, 3).map((s) => formatNumber(s)).join(", ")} … ${formatNumber(steps[steps.length - 1]!)}, ${steps.length} in all`; // prettier-ignore

function derivedOf(a: FieldArgs): DerivedField[] {
  return a.derived.map((d) => ({
    name: d.name,
    formula: treeOf(d.formula),
    unit: d.unit,
    constants: Object.fromEntries(
      Object.entries(d.constants).map(([k, c]) => {
        if ("input" in c) throw new Mistake(`derive "${d.name}": the constant "${k}" has to be known before the run`);
        return [k, c as { value: number; unit: UnitSymbol }];
      }),
    ),
  }));
}

/** One row's numbers between two of a table's: linear in all number columns. */
function between(parts: readonly { table: Table; weight: number }[]): Table {
  const [first] = parts;
  if (parts.length === 1) return first!.table;
  const columns = first!.table.columns.map((c): Column => {
    if (c.kind === "text") return c;
    const values = new Float64Array(c.values.length);
    for (const p of parts) {
      const other = numbers(p.table, c.name).values;
      for (let i = 0; i < values.length; i++) values[i]! += p.weight * other[i]!;
    }
    return { ...c, values };
  });
  return { ...first!.table, columns };
}

/** The steps that an operation reads. */
export function wantedSteps(op: string, a: FieldArgs, source: FieldSource): number[] {
  if (op === "field.times") return [];
  return op === "field.history" ? stepsWithin(a, source) : chosenSteps(source, a.when).map((c) => c.step);
}

function stepsWithin(a: FieldArgs, source: FieldSource): number[] {
  const range = a.window?.map((b) => boundIn(b, source.unit, `window on ${source.axis}`));
  const within = source.steps.flatMap((t, k) =>
    range && !((t ?? k) >= range[0]! && (t ?? k) <= range[1]!) ? [] : [k],
  );
  if (within.length === 0) throw new Mistake(`no ${source.axis} of this field lies in the window`);
  return within;
}

/** Carries out a field operation on a field that is open. */
export function carryOutField(op: string, a: FieldArgs, source: FieldSource): Table {
  const derived = derivedOf(a);
  if (op === "field.times")
    return makeTable(
      [
        numberColumn(
          source.axis,
          source.unit,
          source.steps.map((s, k) => s ?? k),
        ),
      ],
      { axis: source.axis },
    );
  const site = a.site as Site;
  const one = (f: FieldAtTime): Table =>
    a.reductions ? reduceSite(f, site, a.reductions as Reductions) : sampleSite(f, site, a.fields ?? []);
  if (op !== "field.history") {
    const chosen = chosenSteps(source, a.when);
    const table = between(chosen.map(({ step, weight }) => ({ weight, table: source.withStep(step, derived, one) })));
    const times = chosen.map((c) => source.steps[c.step]).filter((t) => t !== undefined);
    const note =
      times.length > 0 && source.steps.length > 1
        ? [`${source.axis} ${times.map((t) => formatNumber(t)).join(" and ")}`]
        : [];
    return { ...table, notes: [...table.notes, ...note] };
  }
  const within = stepsWithin(a, source);
  const rows = within.map((k) => source.withStep(k, derived, one));
  const axis = numberColumn(
    source.axis,
    source.unit,
    within.map((k) => source.steps[k] ?? k),
  );
  return makeTable([axis, ...historyColumns(rows, site)], { axis: source.axis, notes: rows[0]!.notes });
}

/** Columns over time: one a reduced number or place; places and stations are told by their names or numbers. */
function historyColumns(rows: readonly Table[], site: Site): Column[] {
  const [first] = rows;
  const fixed = new Set(site.kind === "stations" ? [site.along] : ["x", "y", "z", "distance", "place", "size"]);
  const shown = first!.columns.filter((c) => c.kind === "number" && !fixed.has(c.name));
  const many = first!.rows > 1;
  if (first!.rows * shown.length > 20_000)
    throw new Mistake(
      `a history of ${first!.rows} places is ${first!.rows * shown.length} columns: reduce it, or take fewer places`,
    );
  const labels = first!.columns.find((c) => c.name === "place" && c.kind === "text");
  const station = site.kind === "stations" ? numbers(first!, site.along).values : undefined;
  return shown.flatMap((c) =>
    Array.from({ length: first!.rows }, (_, i): Column => {
      const label = labels?.kind === "text" ? labels.values[i]! : station ? formatNumber(station[i]!) : String(i + 1);
      const name = many || labels ? `${c.name}@${label}` : c.name;
      return numberColumn(
        name,
        c.kind === "number" ? c.unit : null,
        rows.map((r) => numbers(r, c.name).values[i]!),
      );
    }),
  );
}
