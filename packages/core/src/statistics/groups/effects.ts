import {
  column,
  makeTable,
  numbers,
  numbersOf,
  TableError,
  textsOf,
  type Column,
  type Table,
} from "../../tables/table.js";
import { stepOf } from "../../tables/units.js";
import { exactNumber, formatNumber } from "../../tables/number-format.js";
import { leastSquares } from "../fits/least-squares.js";
import { studentQuantile } from "../fits/student.js";

const levelText = (v: number | string): string => (typeof v === "number" ? exactNumber(v) : v);

const byValue = (a: number | string, b: number | string): number => (a < b ? -1 : a > b ? 1 : 0);

/** Rows whose output has a value. */
function usable(table: Table, output: string, parameters: readonly string[]): { rows: number[]; inputs: Column[] } {
  const y = numbers(table, output).values;
  const inputs = parameters.map((p) => column(table, p));
  const rows = Array.from({ length: table.rows }, (_, i) => i).filter(
    (i) => y[i]! === y[i]! && inputs.every((c) => c.values[i] === c.values[i] && c.values[i] !== ""),
  );
  return { rows, inputs };
}

/**
 * Whether all combinations of levels occur equally often: only then do effects of one parameter hold nothing of
 * another.
 */
function balanced(rows: readonly number[], inputs: readonly Column[]): boolean {
  const counts = new Map<string, number>();
  for (const i of rows) {
    const key = inputs.map((c) => String(c.values[i])).join("\u0000");
    counts.set(key, (counts.get(key) ?? 0) + 1);
  }
  const combinations = inputs.reduce((n, c) => n * new Set(rows.map((i) => c.values[i])).size, 1);
  return counts.size === combinations && new Set(counts.values()).size === 1;
}

/**
 * Main effects of parameters on an output: a row for each level of each parameter with the mean over its rows, its
 * `effect` (that less the mean of all) and the `share` of the output's variation that the parameter's levels account
 * for (η²; D. Montgomery, "Design and Analysis of Experiments", ch. 5). The notes say when combinations do not occur
 * equally often: then an effect may hold something of another parameter.
 *
 * @example effects(peaks, "peak", ["fan", "open"])
 */
export function effects(table: Table, output: string, parameters: readonly string[]): Table {
  if (parameters.length === 0) throw new TableError("effects: name the parameters");
  const y = numbers(table, output);
  const { rows, inputs } = usable(table, output, parameters);
  if (table.rows > 0 && rows.length < 2)
    throw new TableError(
      `effects: two rows with a value of "${output}" are needed; there ${rows.length === 1 ? "is" : "are"} ${rows.length}`,
    );
  const mean = (list: readonly number[]): number => list.reduce((m, i, k) => m + (y.values[i]! - m) / (k + 1), 0);
  const all = mean(rows);
  const total = rows.reduce((s, i) => s + (y.values[i]! - all) ** 2, 0);
  const out: { parameter: string; level: string; n: number; mean: number; effect: number; etaSquared: number }[] = [];
  const alike: string[] = [];
  for (const c of inputs) {
    const levels = [...new Set(rows.map((i) => c.values[i]!))].sort(byValue);
    if (levels.length === 1) alike.push(c.name);
    const groups = levels.map((l) => rows.filter((i) => c.values[i] === l));
    const between = groups.reduce((s, g) => s + g.length * (mean(g) - all) ** 2, 0);
    groups.forEach((g, k) =>
      out.push({
        parameter: c.name,
        level: levelText(levels[k]!),
        n: g.length,
        mean: mean(g),
        effect: mean(g) - all,
        etaSquared: total > 0 ? between / total : Number.NaN,
      }),
    );
  }
  const step = stepOf(y.unit);
  const notes = [
    `main effects on "${output}" over ${rows.length} rows` +
      (balanced(rows, inputs)
        ? ", all combinations equally often"
        : "; combinations do not occur equally often, so an effect may hold something of another parameter"),
    ...(rows.length < table.rows ? [`${table.rows - rows.length} rows without a value left out`] : []),
    ...alike.map((n) => `"${n}" has one level only: no effect can be seen`),
  ];
  return makeTable(
    [
      textsOf(out, "parameter", (r) => r.parameter),
      textsOf(out, "level", (r) => r.level),
      numbersOf(out, "n", "1", (r) => r.n),
      numbersOf(out, "mean", y.unit, (r) => r.mean, { label: y.label ?? y.name }),
      numbersOf(out, "effect", step.unit, (r) => r.effect * step.factor),
      numbersOf(out, "etaSquared", "1", (r) => r.etaSquared),
    ],
    { notes: table.rows > 0 ? notes : [] },
  );
}

/**
 * Standardised sensitivities: the coefficients of a linear fit after output and parameters are brought to mean 0 and
 * deviation 1 (A. Saltelli et al., "Global Sensitivity Analysis: The Primer", 2008, ch. 1), strongest first, with 95 %
 * intervals. The notes give R²: how far straight lines tell the story. A parameter of two words counts as 0 and 1, in
 * the order of the alphabet.
 *
 * @throws TableError for a parameter that does not change, one of more than two words, or too few rows
 * @example sensitivities(peaks, "peak", ["fan", "open"])
 */
export function sensitivities(table: Table, output: string, parameters: readonly string[]): Table {
  if (parameters.length === 0) throw new TableError("sensitivities: name the parameters");
  const { rows, inputs } = usable(table, output, parameters);
  const y = numbers(table, output);
  if (table.rows === 0) return sensitivityTable([], []);
  const p = inputs.length;
  if (rows.length < p + 2)
    throw new TableError(
      `sensitivities to ${p} parameter${p === 1 ? "" : "s"} need ${p + 2} rows with values; there ` +
        `${rows.length === 1 ? "is" : "are"} ${rows.length}`,
    );
  const words: string[] = [];
  const columns = inputs.map((c) => standardInput(c, rows, words));
  const target = standard(
    rows.map((i) => y.values[i]!),
    output,
  );
  const s = linearFit(
    rows.map((_, r) => [1, ...columns.map((c) => c[r]!)]),
    target,
  );
  const freedom = rows.length - p - 1;
  const variance = s.squares / freedom;
  const t = studentQuantile(0.975, freedom);
  const list = inputs
    .map((c, k) => ({
      name: c.name,
      b: s.coefficients[k + 1]!,
      half: t * Math.sqrt(variance * s.spread[k + 1]![k + 1]!),
    }))
    .sort((a, b) => Math.abs(b.b) - Math.abs(a.b));
  const r2 = 1 - s.squares / (rows.length - 1);
  return sensitivityTable(list, [
    `standardised linear coefficients for "${output}" over ${rows.length} rows, R² ${formatNumber(r2, 4)}, 95 % intervals`,
    ...words,
  ]);
}

const sensitivityTable = (
  list: readonly { readonly name: string; readonly b: number; readonly half: number }[],
  notes: readonly string[],
): Table =>
  makeTable(
    [
      textsOf(list, "parameter", (r) => r.name),
      numbersOf(list, "sensitivity", "1", (r) => r.b),
      numbersOf(list, "lower", "1", (r) => r.b - r.half),
      numbersOf(list, "upper", "1", (r) => r.b + r.half),
    ],
    { notes },
  );

/** Values brought to mean 0 and deviation 1. @throws TableError where they are all the same */
function standard(values: readonly number[], name: string): number[] {
  const m = values.reduce((s, v, k) => s + (v - s) / (k + 1), 0);
  const std = Math.sqrt(values.reduce((s, v) => s + (v - m) ** 2, 0) / (values.length - 1));
  if (!(std > 0)) throw new TableError(`sensitivities: "${name}" has the same value in all ${values.length} rows`);
  return values.map((v) => (v - m) / std);
}

/** A parameter in those rows, standardised. @param words told which word of a parameter counts as what */
function standardInput(c: Column, rows: readonly number[], words: string[]): number[] {
  if (c.kind === "number")
    return standard(
      rows.map((i) => c.values[i]!),
      c.name,
    );
  const levels = [...new Set(rows.map((i) => c.values[i]!))].sort();
  if (levels.length > 2)
    throw new TableError(`sensitivities: "${c.name}" has ${levels.length} words: use effects() for it`);
  words.push(`"${c.name}": ${levels.map((l, k) => `${l} = ${k}`).join(", ")}`);
  return standard(
    rows.map((i) => levels.indexOf(c.values[i]!)),
    c.name,
  );
}

function linearFit(rows: readonly (readonly number[])[], target: readonly number[]): ReturnType<typeof leastSquares> {
  try {
    return leastSquares(rows, target);
  } catch (e) {
    throw new TableError(`sensitivities: ${(e as Error).message}`);
  }
}
