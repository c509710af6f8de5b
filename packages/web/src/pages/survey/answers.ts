import type { ChartDescription } from "@oxtrum/core/charts";
import { convert, displayUnit } from "@oxtrum/core/tables/units";

/** Numbers as they came over the wire, by column. */
export interface Sampled {
  readonly columns: readonly { name: string; unit: string | null; values: readonly (number | string | null)[] }[];
  readonly notes: readonly string[];
}

export const numbersOf = (t: Sampled | undefined, name: string): Float64Array =>
  Float64Array.from(t?.columns.find((c) => c.name === name)?.values ?? [], (v) =>
    typeof v === "number" ? v : Number.NaN,
  );

/** What a run gives: a table, on the way, or why not. */
export interface RunAnswer {
  readonly run: string;
  /** In the units of the first run that gives one. */
  readonly data: Sampled | undefined;
  readonly error: unknown;
  readonly busy: boolean;
}

/** The unit of a column; undefined where the table or the column is not there. */
export const unitOf = (t: Sampled | undefined, name: string): string | null | undefined =>
  t?.columns.find((c) => c.name === name)?.unit;

const unitText = (unit: string | null): string =>
  unit === null ? "without a unit" : `in ${displayUnit(unit) || "plain numbers"}`;

/** Numbers of a column in another unit. @throws UnitError where they have none in it */
const inUnit = (values: readonly (number | string | null)[], from: string, to: string): (number | string | null)[] =>
  values.map((v) => (typeof v === "number" ? convert(v, from, to) : v));

/**
 * Answers of several runs in one unit for each column, that of the first run: a chart and a table have one unit. A run
 * that cannot be brought to it has no numbers here, and says why.
 */
export function inOneUnit(answers: readonly RunAnswer[]): readonly RunAnswer[] {
  const first = answers.find((r) => r.data !== undefined);
  return answers.map((r): RunAnswer => {
    if (!r.data || !first) return r;
    try {
      const columns = r.data.columns.map((c) => {
        const wanted = unitOf(first.data, c.name);
        if (wanted === undefined || wanted === c.unit || c.values.every((v) => typeof v === "string")) return c;
        if (wanted === null || c.unit === null) throw new Error("one of them has no unit");
        return { ...c, unit: wanted, values: inUnit(c.values, c.unit, wanted) };
      });
      return { ...r, data: { ...r.data, columns } };
    } catch {
      const odd = r.data.columns.find((c) => {
        const wanted = unitOf(first.data, c.name);
        return wanted !== undefined && wanted !== c.unit;
      })!;
      const text =
        `${r.run}: "${odd.name}" is ${unitText(odd.unit)}, and ${unitText(unitOf(first.data, odd.name)!)} in ` +
        `${first.run}: it is left out here`;
      return { ...r, data: undefined, error: { message: text } };
    }
  });
}

/** A site's values along its length, in each run. */
export function lineChart(runs: readonly RunAnswer[], quantity: string): ChartDescription | undefined {
  const there = runs.filter((r): r is RunAnswer & { data: Sampled } => r.data !== undefined);
  const head = there[0]?.data.columns;
  if (!head) return undefined;
  return {
    x: { title: "distance", unit: head.find((c) => c.name === "distance")?.unit ?? null, scale: "linear" },
    y: { title: quantity, unit: head.find((c) => c.name === quantity)?.unit ?? null, scale: "linear" },
    series: there.map((r, k) => ({
      kind: "lines",
      name: r.run,
      x: numbersOf(r.data, "distance"),
      y: numbersOf(r.data, quantity),
      color: { palette: k },
      dash: k,
    })),
  };
}

/** The value nearest to a place on a line. */
export function valueAt(t: Sampled | undefined, quantity: string, distance: number): number {
  const d = numbersOf(t, "distance");
  let best = 0;
  d.forEach((v, i) => {
    if (Math.abs(v - distance) < Math.abs(d[best]! - distance)) best = i;
  });
  return numbersOf(t, quantity)[best] ?? Number.NaN;
}
