import { FormatError } from "@oxtrum/core/formats";
import {
  blockSummaries,
  kindOf,
  OverTime,
  reduceSite,
  sampleSite,
  stationColumn,
  viewOf,
  withDerivatives,
  type DerivedField,
  type FieldAtTime,
  type Reductions,
  type SampleOptions,
  type Site,
} from "@oxtrum/core/sampling";
import {
  formatNumber,
  makeTable,
  maybeStop,
  mergeConditions,
  nearly,
  numberColumn,
  numbers,
  textColumn,
  type Column,
  type Condition,
  type Table,
  type UnitSymbol,
} from "@oxtrum/core/tables";
import { boundIn, treeOf } from "./arguments.js";
import type { FieldArgs } from "./field-arguments.js";
import { Mistake } from "./values.js";

/** Operations on fields, by name, with their versions: they read a run's files themselves. */
export const fieldVersions: Readonly<Record<string, number>> = {
  "field.sample": 6,
  "field.reduce": 9,
  "field.history": 9,
  "field.times": 3,
  "field.overTime": 6,
  "field.surface": 6,
  "field.blocks": 4,
};

/** A field over its times. `steps` are undefined where files say no time. */
export interface FieldSource {
  readonly axis: string;
  readonly unit: UnitSymbol;
  readonly lengthUnit: UnitSymbol;
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
      return [
        { step: right - 1, weight: 1 - t },
        { step: right, weight: t },
      ];
    }
  }
  throw new Mistake(
    `there is no ${source.axis} ${formatNumber(value)}; there is ${listed(known)}${when.pick === "exact" ? '. To take the nearest one, add { pick: "nearest" }' : ""}`,
  );
}

const listed = (steps: readonly number[]): string =>
  steps.length <= 6
    ? steps.map((s) => formatNumber(s)).join(", ")
    : `${steps
        .slice(0, 3)
        .map((s) => formatNumber(s))
        .join(", ")} … ${formatNumber(steps[steps.length - 1]!)}, ${steps.length} in all`;

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
  const merged = mergeConditions(...parts.map((p) => p.table.conditions));
  return { ...first!.table, columns, ...(merged.length > 0 && { conditions: merged }) };
}

/** The steps that an operation reads. */
export function wantedSteps(op: string, a: FieldArgs, source: FieldSource): number[] {
  if (op === "field.times") return [];
  if (op === "field.blocks") return [0];
  return manyTimes(op) ? stepsWithin(a, source) : chosenSteps(source, a.when).map((c) => c.step);
}

const manyTimes = (op: string): boolean => op === "field.history" || op === "field.overTime";

function stepsWithin(a: FieldArgs, source: FieldSource): number[] {
  if (a.times) {
    const asked = a.times.map((t) => chosenSteps(source, { value: t, pick: "exact" })[0]!.step);
    return [...new Set(asked)].sort((x, y) => x - y);
  }
  const range = a.window?.map((b) => boundIn(b, source.unit, `window on ${source.axis}`));
  const within = source.steps.flatMap((t, k) => (range && !inWindow(t ?? k, range as [number, number]) ? [] : [k]));
  if (within.length === 0) throw new Mistake(`no ${source.axis} of this field lies in the window`);
  return within;
}

/** Whether a time lies in a window, ends included; ends that were converted are compared within rounding. */
const inWindow = (t: number, [from, to]: readonly [number, number]): boolean =>
  (t >= from || nearly(t, from)) && (t <= to || nearly(t, to));

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
  if (op === "field.blocks") return source.withStep(0, [], (f) => blocksTable(f, a.patches === true));
  const options = (a.sampling ?? {}) as SampleOptions;
  const one = (given: FieldAtTime): Table => {
    maybeStop();
    const f = a.derivatives ? withDerivatives(given, a.derivatives) : given;
    const site = a.site as Site;
    if (op === "field.surface") return viewOf(f, site, a.view ?? {});
    return a.reductions
      ? reduceSite(f, site, a.reductions as Reductions, options)
      : sampleSite(f, site, a.fields ?? [], options);
  };
  const site = a.site as Site;
  const each = (step: number): StepResult => {
    try {
      return { step, table: source.withStep(step, derived, one) };
    } catch (e) {
      if (a.gaps !== "allow" || !(e instanceof FormatError)) throw e;
      return { step, reason: `${e.file}: ${e.message}` };
    }
  };
  if (op === "field.overTime") {
    if (source.steps.length < 2) throw new Mistake("this field has one time only: there is nothing to reckon over");
    if (!kindOf(site).staysOverTime)
      throw new Mistake(
        `statistics over time are for places, patches and blocks: a ${site.kind}'s pieces have no name from one time to the next`,
      );
    const over = new OverTime();
    const steps = stepsWithin(a, source).map((k) => {
      const s = each(k);
      if (s.table) over.add(source.steps[k] ?? k, s.table);
      return s;
    });
    if (!steps.some((s) => s.table)) throw new Mistake(`no ${source.axis} can be read: ${steps[0]!.reason!}`);
    const table = over.result(a.statistics ?? ["mean", "rms", "min", "max"], source.unit, source.axis);
    return withConditions(table, [
      ...gapsOf(steps, source),
      ...mergeConditions(table.conditions, ...steps.map((s) => s.table?.conditions)),
    ]);
  }
  if (op !== "field.history") {
    const chosen = chosenSteps(source, a.when);
    if (op === "field.surface" && chosen.length > 1)
      throw new Mistake("a picture shows one time: one of the file's, or the nearest");
    const table = between(chosen.map(({ step, weight }) => ({ weight, table: source.withStep(step, derived, one) })));
    const times = chosen.map((c) => source.steps[c.step]).filter((t) => t !== undefined);
    const note =
      times.length > 0 && source.steps.length > 1
        ? [`${source.axis} ${times.map((t) => formatNumber(t)).join(" and ")}`]
        : [];
    return { ...table, notes: [...table.notes, ...note] };
  }
  const within = stepsWithin(a, source);
  const steps = within.map(each);
  const first = steps.find((s) => s.table)?.table;
  if (!first) throw new Mistake(`no ${source.axis} can be read: ${steps[0]!.reason!}`);
  const rows = steps.map((s) => s.table ?? blank(first));
  const axis = numberColumn(
    source.axis,
    source.unit,
    within.map((k) => source.steps[k] ?? k),
  );
  const table = makeTable([axis, ...historyColumns(rows, site)], {
    axis: source.axis,
    notes: [...new Set(rows.flatMap((r) => r.notes))],
  });
  return withConditions(table, [...gapsOf(steps, source), ...mergeConditions(...rows.map((r) => r.conditions))]);
}

/** What one time of a history gave, or why it gave nothing. */
interface StepResult {
  readonly step: number;
  readonly table?: Table;
  readonly reason?: string;
}

/** A condition for each time that could not be read. */
const gapsOf = (steps: readonly StepResult[], source: FieldSource): Condition[] =>
  steps.flatMap((s): Condition[] =>
    s.reason === undefined
      ? []
      : [
          {
            kind: "gap",
            file: "",
            text: `${source.axis} ${formatNumber(source.steps[s.step] ?? s.step)} is missing: ${s.reason}`,
          },
        ],
  );

const withConditions = (table: Table, conditions: readonly Condition[]): Table =>
  conditions.length > 0 ? { ...table, conditions } : table;

/** The same table with nothing in it. */
const blank = (like: Table): Table => ({
  ...like,
  notes: [],
  columns: like.columns.map((c) =>
    c.kind === "text" ? c : { ...c, values: new Float64Array(c.values.length).fill(Number.NaN) },
  ),
});

/** Columns over time: one a reduced number or place; places and stations are told by their names or numbers. */
function historyColumns(rows: readonly Table[], site: Site): Column[] {
  const [first] = rows;
  const along = stationColumn(site);
  const fixed = new Set(
    along !== undefined
      ? [along, "station", "x", "y", "z", "distance", "size"]
      : ["x", "y", "z", "distance", "place", "size", "point", "cell"],
  );
  const shown = first!.columns.filter((c) => c.kind === "number" && !fixed.has(c.name));
  const many = first!.rows > 1;
  if (first!.rows * shown.length > 20_000)
    throw new Mistake(
      `a history of ${first!.rows} places is ${first!.rows * shown.length} columns: reduce it, or take fewer places`,
    );
  const labels = first!.columns.find((c) => c.name === "place" && c.kind === "text");
  const { numbered } = kindOf(site);
  const ids = numbered && numbers(first!, numbered).values;
  const station =
    along !== undefined && first!.columns.some((c) => c.name === along) ? numbers(first!, along).values : undefined;
  return shown.flatMap((c) =>
    Array.from({ length: first!.rows }, (_, i): Column => {
      const label =
        labels?.kind === "text" ? labels.values[i]! : station ? formatNumber(station[i]!) : String(ids?.[i] ?? i + 1);
      const name = many || labels ? `${c.name}@${label}` : c.name;
      return numberColumn(
        name,
        c.kind === "number" ? c.unit : null,
        rows.map((r) => numbers(r, c.name).values[i]!),
      );
    }),
  );
}

/** A row a block or patch: how many cells it has, and the length, area and volume of those of each kind. */
function blocksTable(f: FieldAtTime, patches: boolean): Table {
  const power = (n: number): UnitSymbol => (f.lengthUnit === null || n === 1 ? f.lengthUnit : `${f.lengthUnit}^${n}`);
  const all = blockSummaries(f.blocks).filter((b) => !patches || b.dimension === 2);
  const sizes = all.map((b) => b.sizes());
  return makeTable([
    textColumn(
      "block",
      all.map((b) => b.name),
    ),
    numberColumn(
      "dimension",
      "1",
      all.map((b) => b.dimension),
    ),
    numberColumn(
      "cells",
      "1",
      all.map((b) => b.cells),
    ),
    numberColumn(
      "points",
      "1",
      all.map((b) => b.points),
    ),
    numberColumn(
      "length",
      power(1),
      sizes.map((s) => s.length),
    ),
    numberColumn(
      "area",
      power(2),
      sizes.map((s) => s.area),
    ),
    numberColumn(
      "volume",
      power(3),
      sizes.map((s) => s.volume),
    ),
  ]);
}
