import { z } from "zod";
import { dictionary } from "../dictionary.js";
import * as t from "@oxtrum/core/tables";
import { across, type AcrossOptions, type CommonAxis } from "@oxtrum/core/statistics";
import { boundArg, boundIn, tableOf } from "./arguments.js";
import { agreeing, disagreeing } from "./agreeing-units.js";
import { operation, type Operation } from "./operation.js";
import { faultOf, mergeExcluded, Mistake, type Fault, type ExcludedRun, type Outcome, type Value } from "./values.js";

const scalar = z.union([z.number(), z.string(), z.null()]);
const members = {
  runs: z.array(z.string()),
  missing: z.array(z.object({ run: z.string(), reason: z.string() })),
  params: z.array(dictionary(scalar)),
  /** Units of the parameters. */
  units: dictionary(z.string().nullable()).default({}),
};

interface Present {
  readonly tables: t.Table[];
  readonly runs: string[];
  readonly params: Record<string, z.infer<typeof scalar>>[];
  readonly units: Readonly<Record<string, string | null>>;
  readonly left: ExcludedRun[];
}

/** The inputs that have a value, and the runs that have none, by name. */
export function present(
  args: {
    runs: readonly string[];
    missing: readonly ExcludedRun[];
    params?: readonly Record<string, z.infer<typeof scalar>>[];
    units?: Readonly<Record<string, string | null>>;
  },
  inputs: readonly Outcome[],
): Present {
  const tables: t.Table[] = [];
  const runs: string[] = [];
  const params: Record<string, z.infer<typeof scalar>>[] = [];
  const left: ExcludedRun[] = [...args.missing];
  inputs.forEach((input, k) => {
    const run = args.runs[k]!;
    if (input.kind === "failure") left.push(leftOut(run, input));
    else {
      tables.push(tableOf(input));
      runs.push(run);
      params.push(args.params?.[k] ?? {});
    }
  });
  return { tables, runs, params, units: args.units ?? {}, left: mergeExcluded(left) };
}

export const leftOut = (run: string, f: Fault & { readonly reason: string }): ExcludedRun => ({
  run,
  reason: f.reason,
  ...faultOf(f),
});

function stack(p: Present): t.Table {
  const keys = [...new Set(p.params.flatMap((x) => Object.keys(x)))];
  // A parameter that is a word in one run is text in all; where a run has none it is empty.
  const words = new Set(keys.filter((key) => p.params.some((x) => typeof t.own(x, key) === "string")));
  const word = (v: number | string | null, key: string): string =>
    typeof v === "number"
      ? `${t.exactNumber(v)} ${t.plainUnit(t.own(p.units, key) ?? null) ?? ""}`.replace(/ 1?$/, "")
      : (v ?? "");
  const parts = p.tables.map((table, k): t.Table => {
    const heads: t.Column[] = [t.textColumn("run", Array<string>(table.rows).fill(p.runs[k]!))];
    for (const key of keys) {
      if (table.columns.some((c) => c.name === key)) continue;
      const v = t.own(p.params[k]!, key) ?? null;
      heads.push(
        words.has(key)
          ? t.textColumn(key, Array<string>(table.rows).fill(word(v, key)))
          : t.numberColumn(
              key,
              t.own(p.units, key) ?? null,
              new Float64Array(table.rows).fill(typeof v === "number" ? v : Number.NaN),
            ),
      );
    }
    const columns = table.columns.some((c) => c.name === "run") ? table.columns : [...heads, ...table.columns];
    return { ...t.makeTable(columns, { axis: table.axis, notes: table.notes }), rows: table.rows };
  });
  return t.concat(parts);
}

/** A table with two columns in given units. @throws Mistake naming the run where a unit is known in some runs only */
function inUnits(table: t.Table, units: readonly (readonly [string, t.UnitSymbol])[], run: string): t.Table {
  let out = table;
  for (const [name, unit] of units) {
    const own = t.numbers(out, name).unit;
    if (own === unit) continue;
    if (own === null || unit === null)
      throw new Mistake(
        `"${name}" has a unit in some runs only (not in ${own === null ? run : "the first"}); say it with .unit()`,
      );
    out = t.convertColumns(out, [name], unit);
  }
  return out;
}

/** One column for each run, on all places of their axes; axis and values in the units of the first run. */
function wide(p: Present, name: string): t.Table {
  const first = p.tables[0]!;
  const axis = t.axisOf(first);
  const { unit } = t.numbers(first, name);
  const named = p.tables.map((table, k) => {
    const own = inUnits(
      table,
      [
        [axis.name, axis.unit],
        [name, unit],
      ],
      p.runs[k]!,
    );
    return { x: t.numbers(own, axis.name).values, y: t.numbers(own, name) };
  });
  const places = t.distinct(Float64Array.from(named.flatMap(({ x }) => [...x])).sort());
  const columns = named.map(({ x, y }, k): t.Column => {
    const values = new Float64Array(places.length).fill(Number.NaN);
    // Both are sorted: each row goes to the place that it is equal to, but for rounding.
    let at = 0;
    x.forEach((v, i) => {
      while (at < places.length - 1 && !t.nearly(places[at]!, v) && places[at]! < v) at++;
      if (t.nearly(places[at]!, v)) values[at] = y.values[i]!;
    });
    return { ...y, name: p.runs[k]!, values };
  });
  return t.makeTable([t.numberColumn(axis.name, axis.unit, places), ...columns], {
    axis: axis.name,
    notes: first.notes,
  });
}

const cell = z.union([scalar, z.object({ input: z.number() })]);
const rowsArgs = z.object({
  runs: z.array(z.string()),
  columns: z.array(
    z.union([z.object({ name: z.string(), start: z.number() }), z.object({ name: z.string(), cells: z.array(cell) })]),
  ),
  missing: members.missing,
});

/** How a column's cells were computed, each way once, with the number of runs where these differ. */
function methodsOf(name: string, cells: readonly (t.Quantity | undefined)[]): string[] {
  const ways = new Map<string, number>();
  for (const q of cells) if (q?.method !== undefined) ways.set(q.method, (ways.get(q.method) ?? 0) + 1);
  if (ways.size === 1) return [`${name}: ${[...ways.keys()][0]!}`];
  const told = [...ways].slice(0, 3).map(([way, n]) => `${name}: ${way} (${n} run${n === 1 ? "" : "s"})`);
  return ways.size > 3 ? [...told, `${name}: and ${ways.size - 3} more ways`] : told;
}

/** The unit that a run's cell has, where it holds a value with a unit. */
const unitIn = (run: string, c: Outcome | number | string | boolean | null): Parameters<typeof disagreeing>[1] =>
  c !== null && typeof c === "object" && c.kind === "quantity" && c.quantity.value === c.quantity.value
    ? [{ run, kind: "number", unit: c.quantity.unit }]
    : [];

/** One row per run. A run of which a cell cannot be computed is left out. */
function rowsTable(
  a: z.infer<typeof rowsArgs>,
  inputs: readonly Outcome[],
): { table: t.Table; left: ExcludedRun[]; runs: string[] } {
  const left: ExcludedRun[] = [...a.missing];
  const whole = a.columns.map((c) =>
    a.runs.map((_, k) => {
      const v = "start" in c ? { input: c.start + k } : c.cells[k]!;
      return typeof v === "object" && v !== null ? inputs[v.input]! : v;
    }),
  );
  const every = a.runs.flatMap((run, k) => {
    const bad = whole.map((cells) => cells[k]).find((o) => typeof o === "object" && o !== null && o.kind === "failure");
    if (typeof bad === "object" && bad?.kind === "failure") left.push(leftOut(run, bad));
    return bad === undefined ? [k] : [];
  });
  const names = a.columns.map((c) => c.name);
  const odd = new Map<string, ExcludedRun>();
  names.forEach((name, index) => {
    const units = every.flatMap((k) => unitIn(a.runs[k]!, whole[index]![k]!));
    for (const l of disagreeing(name, units)) if (!odd.has(l.run)) odd.set(l.run, l);
  });
  left.push(...odd.values());
  const kept = every.filter((k) => !odd.has(a.runs[k]!));
  const rows = kept.map((k) => ({ run: a.runs[k]! }));
  const reasons: string[] = [];
  const methods: string[] = [];
  const columns = names.map((name, index): t.Column => {
    const cells = kept.map((k) => whole[index]![k]!);
    const quantities = cells.map((c) =>
      c !== null && typeof c === "object" && c.kind === "quantity" ? c.quantity : undefined,
    );
    const model = quantities.find((q) => q !== undefined && q.unit !== null) ?? quantities.find((q) => q !== undefined);
    if (cells.some((c) => typeof c === "string"))
      return t.textColumn(
        name,
        cells.map((c, k) =>
          typeof c === "string" ? c : quantities[k] ? t.exactNumber(quantities[k].value) : c === null ? "" : String(c),
        ),
      );
    methods.push(...methodsOf(name, quantities));
    const values = Float64Array.from(cells, (c, k) => {
      const q = quantities[k];
      if (q === undefined) return c === null ? Number.NaN : Number(c);
      if (q.reason !== undefined) reasons.push(`${rows[k]!.run}, ${name}: ${q.reason}`);
      if (q.value !== q.value || q.unit === model!.unit) return q.value;
      if (q.unit === null) throw new Mistake(`rows: "${name}" has a unit in some runs only; say it with .unit()`);
      return t.quantityIn(q, model!.unit!).value;
    });
    return t.numberColumn(name, model?.unit ?? null, values);
  });
  const runColumn = names.includes("run") ? [] : [t.textsOf(rows, "run", (r) => r.run)];
  const notes = [...methods, ...reasons.slice(0, 20).map((r) => `blank: ${r}`)];
  if (reasons.length > 20) notes.push(`and ${reasons.length - 20} more blank cells`);
  return {
    table: { ...t.makeTable([...runColumn, ...columns], { notes }), rows: rows.length },
    left: mergeExcluded(left),
    runs: rows.map((r) => r.run),
  };
}

const axisRule = z.union([z.enum(["union", "intersection"]), z.object({ step: boundArg })]).optional();

function bandOptions(
  a: {
    on?: string | undefined;
    columns?: string[] | undefined;
    percentiles: number[];
    confidence?: number | undefined;
    governing?: boolean | undefined;
  },
  p: Present,
  axis?: CommonAxis,
): AcrossOptions {
  const { on, columns, percentiles, confidence } = a;
  return { on, columns, axis, percentiles, confidence, ...(a.governing === true && { governing: p.runs }) };
}

/** The columns that a band is made of: the axis, and those asked for or all numbers. */
function bandColumns(
  a: { on?: string | undefined; columns?: string[] | undefined },
  inputs: readonly Outcome[],
): string[] | undefined {
  const first = inputs.find((i) => i.kind === "table");
  const axis = a.on ?? (first?.kind === "table" ? first.table.axis : undefined);
  return a.columns === undefined ? undefined : [...a.columns, ...(axis === undefined ? [] : [axis])];
}

/**
 * Tables that rise along the axis, with what was done for it by run; a run whose axis holds several passes is excluded
 * alone.
 */
function rising(p: Present, on: string | undefined): Present & { readonly notes: readonly string[] } {
  const left: ExcludedRun[] = [];
  const notes: string[] = [];
  const kept = p.tables.flatMap((table, k) => {
    try {
      const sorted = t.risingAlong(table, on ?? p.tables[0]!.axis);
      notes.push(...sorted.notes.filter((n) => !table.notes.includes(n)).map((n) => `${p.runs[k]!}: ${n}`));
      return [{ k, sorted }];
    } catch (e) {
      // A column that is not there is told by the operation itself.
      if (!(e instanceof t.TableError) || e instanceof t.NoSuchColumn) return [{ k, sorted: table }];
      left.push({ run: p.runs[k]!, reason: e.message });
      return [];
    }
  });
  return {
    ...p,
    tables: kept.map((x) => x.sorted),
    runs: kept.map((x) => p.runs[x.k]!),
    params: kept.map((x) => p.params[x.k]!),
    left: mergeExcluded([...p.left, ...left]),
    notes,
  };
}

function value(p: Present, make: () => t.Table): Value {
  if (p.tables.length === 0)
    throw new Mistake(
      `no run is left: ${p.left[0] ? `${p.left[0].run}: ${p.left[0].reason}` : "the set of runs is empty"}`,
    );
  return { kind: "table", table: make(), left: p.left, runs: p.runs };
}

const noted = (table: t.Table, notes: readonly string[]): t.Table => ({ ...table, notes: [...table.notes, ...notes] });

/** Operations that bring runs together. */
export const runVerbs: readonly Operation[] = [
  operation({
    name: "runs.rows",
    version: 3,
    args: rowsArgs,
    takesFailures: true,
    run: (a, inputs) => {
      const { table, left, runs } = rowsTable(a, inputs);
      return { kind: "table", table, left, runs };
    },
    infer: (a, inputs) => {
      const { table } = rowsTable(a, inputs);
      return { kind: "table", table: { ...t.sliceRows(table, 0, 0), notes: [] } };
    },
  }),
  operation({
    name: "runs.stack",
    version: 4,
    args: z.object(members),
    takesFailures: true,
    run: (a, inputs) => {
      const p = agreeing(present(a, inputs));
      return value(p, () => stack(p));
    },
  }),
  operation({
    name: "runs.wide",
    version: 4,
    args: z.object({ ...members, name: z.string() }),
    takesFailures: true,
    run: (a, inputs) => {
      const p = present(a, inputs);
      const q = rising(
        agreeing(p, [a.name, ...(p.tables[0]?.axis === undefined ? [] : [p.tables[0].axis])]),
        undefined,
      );
      return value(q, () => noted(wide(q, a.name), q.notes));
    },
  }),
  operation({
    name: "runs.across",
    version: 9,
    takesFailures: true,
    args: z.object({
      ...members,
      on: z.string().optional(),
      columns: z.array(z.string()).optional(),
      axis: axisRule,
      percentiles: z.array(z.number()),
      confidence: z.number().min(0.01).max(0.9999).optional(),
      governing: z.boolean().optional(),
    }),
    needsOfRuns: (a) => {
      const names = a.on !== undefined && a.columns ? [a.on, ...a.columns] : undefined;
      return () => names;
    },
    run: (a, inputs) => {
      const p = rising(agreeing(present(a, inputs), bandColumns(a, inputs)), a.on);
      const step = a.axis !== undefined && typeof a.axis === "object" ? a.axis.step : undefined;
      const axis =
        step === undefined
          ? (a.axis as "union" | "intersection" | undefined)
          : { step: boundIn(step, p.tables[0] ? t.axisOf(p.tables[0], a.on).unit : null, "across", true) };
      return value(p, () => noted(across(p.tables, bandOptions(a, p, axis)), p.notes));
    },
    infer: (a, inputs) => {
      const p = agreeing(present(a, inputs), bandColumns(a, inputs));
      return value(p, () => ({ ...across(p.tables, bandOptions(a, p)), notes: [] }));
    },
  }),
];
