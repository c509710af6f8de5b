import { makeTable, numbers, numbersOf, TableError, textsOf, type Table } from "../../tables/table.js";
import { incompleteBeta } from "../fits/student.js";
import { meanRanks } from "./rank.js";

/** How two columns go together, over the rows where both have a value. */
export interface Correlation {
  readonly n: number;
  /** Pearson's r. */
  readonly pearson: number;
  /** Spearman's ρ: Pearson's of the ranks, equal values with the mean of their places. */
  readonly spearman: number;
  /** The p-value of r: how probable an |r| as large is when there is none (t with n − 2 degrees of freedom). */
  readonly pValue: number;
}

/** Pearson's correlation by two passes; NaN when one side does not change. */
export function pearson(a: Float64Array, b: Float64Array): number {
  const n = a.length;
  let [ma, mb] = [0, 0];
  for (let i = 0; i < n; i++) {
    ma += (a[i]! - ma) / (i + 1);
    mb += (b[i]! - mb) / (i + 1);
  }
  let [ab, aa, bb] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    ab += (a[i]! - ma) * (b[i]! - mb);
    aa += (a[i]! - ma) ** 2;
    bb += (b[i]! - mb) ** 2;
  }
  return aa > 0 && bb > 0 ? Math.max(-1, Math.min(1, ab / Math.sqrt(aa * bb))) : Number.NaN;
}

/** The places of two columns where both have a value. */
export function presentPairs(first: Float64Array, second: Float64Array): [Float64Array, Float64Array] {
  const [a, b] = [new Float64Array(first.length), new Float64Array(first.length)];
  let n = 0;
  for (let i = 0; i < first.length; i++)
    if (first[i]! === first[i]! && second[i]! === second[i]!) {
      a[n] = first[i]!;
      b[n++] = second[i]!;
    }
  return [a.subarray(0, n), b.subarray(0, n)];
}

/** @example correlate(fan, peak).pearson */
export function correlate(first: Float64Array, second: Float64Array): Correlation {
  const [a, b] = presentPairs(first, second);
  const n = a.length;
  if (n < 3) return { n, pearson: Number.NaN, spearman: Number.NaN, pValue: Number.NaN };
  const r = pearson(a, b);
  const t2 = (r * r * (n - 2)) / (1 - r * r);
  const pValue =
    r !== r ? Number.NaN : Math.abs(r) === 1 ? 0 : incompleteBeta((n - 2) / (n - 2 + t2), (n - 2) / 2, 0.5);
  return { n, pearson: r, spearman: pearson(meanRanks(a), meanRanks(b)), pValue };
}

/**
 * How the number columns of a table go together: a row for each pair, with `n`, `pearson`, `spearman` and `pValue` (see
 * {@link Correlation}). A column that does not change, or fewer than three rows, give blanks, which the notes name.
 *
 * @throws TableError for fewer than two columns
 * @example correlations(peaks, ["fan", "open", "peak"])
 */
export function correlations(table: Table, names: readonly string[]): Table {
  const wanted =
    names.length > 0
      ? names.map((n) => numbers(table, n))
      : table.columns.flatMap((c) => (c.kind === "number" ? [c] : []));
  if (wanted.length < 2) throw new TableError("correlations need two number columns");
  if (wanted.length > 200)
    throw new TableError(`correlations of ${wanted.length} columns are too many (200 at most); name some`);
  const rows: { a: string; b: string; c: Correlation }[] = [];
  if (table.rows > 0)
    for (let i = 0; i < wanted.length; i++)
      for (let j = i + 1; j < wanted.length; j++)
        rows.push({ a: wanted[i]!.name, b: wanted[j]!.name, c: correlate(wanted[i]!.values, wanted[j]!.values) });
  const blank = rows.filter((r) => r.c.pearson !== r.c.pearson);
  const why = (r: (typeof rows)[number]): string =>
    r.c.n < 3 ? `${r.c.n} rows with both` : "one of the two does not change";
  const notes = blank.slice(0, 20).map((r) => `blank: "${r.a}" and "${r.b}": ${why(r)}`);
  const number = (name: string, of: (c: Correlation) => number) => numbersOf(rows, name, "1", (r) => of(r.c));
  return makeTable(
    [
      textsOf(rows, "first", (r) => r.a),
      textsOf(rows, "second", (r) => r.b),
      number("n", (c) => c.n),
      number("pearson", (c) => c.pearson),
      number("spearman", (c) => c.spearman),
      number("pValue", (c) => c.pValue),
    ],
    {
      notes: [
        "over rows where both have a value; Spearman with mean ranks; p-value of r under no dependence (t, n − 2)",
        ...notes,
      ],
    },
  );
}
