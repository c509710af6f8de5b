import { z } from "zod";
import { fitApplied, fitCurve, fitTable } from "@oxtrum/core/statistics";
import { makeTable, numberColumn, numbers, stepOf, textColumn } from "@oxtrum/core/tables";
import { tableValue } from "../arguments.js";
import { number } from "../parameters/kinds.js";
import { Mistake } from "../values.js";
import { fitOperation } from "./fit-operation.js";

const none: number[] = [];

export const terms = fitOperation({
  name: "fit.terms",
  version: 5,
  gives: "table",
  parameters: {},
  fixed: {},
  methods: [
    {
      name: "terms",
      doc: "One row per constant: value, standard error, interval, unit; quality and range in the notes.",
      examples: ['fit.linear(peaks, { y: "peak", x: ["open", "fan"] }).terms()'],
      returns:
        "Table<{ term: Text; value: Numbers; error: Numbers; lower: Numbers; upper: Numbers; " +
        'pValue: Numbers<"1">; unit: Text }>',
    },
  ],
  execute: (f, _, r) => tableValue(fitTable(f, r.confidence ?? 0.95, r)),
  foresee: () =>
    tableValue(
      makeTable([
        textColumn("term", []),
        ...["value", "error", "lower", "upper"].map((n) => numberColumn(n, null, none)),
        numberColumn("pValue", "1", none),
        textColumn("unit", []),
      ]),
    ),
});

export const curve = fitOperation({
  name: "fit.curve",
  version: 2,
  gives: "table",
  parameters: { points: number(z.number().int().min(2).max(100_000)).option().otherwise(100) },
  fixed: {},
  methods: [
    {
      name: "curve",
      doc: "The law over the range of its one x, with the band in which a new point lies: `y.fit`, `y.lower`, `y.upper`.",
      examples: ['fit.linear(peaks, { y: "peak", x: "open" }).curve({ points: 50 })'],
      returns: "Table<Columns>",
    },
  ],
  execute: (f, table, r, { points }) => tableValue(fitCurve(table, r, f, points)),
  foresee: (table, r) => {
    if (r.x.length !== 1) throw new Mistake("a curve is drawn over one x; use .applied() for several");
    const { unit } = numbers(table, r.y);
    return tableValue(
      makeTable(
        [
          numberColumn(r.x[0]!, numbers(table, r.x[0]!).unit, none),
          ...["fit", "lower", "upper"].map((w) => numberColumn(`${r.y}.${w}`, unit, none)),
        ],
        { axis: r.x[0] },
      ),
    );
  },
});

export const applied = fitOperation({
  name: "fit.applied",
  version: 2,
  gives: "table",
  parameters: {},
  fixed: {},
  methods: [
    {
      name: "applied",
      doc: "The table with `y.fit` and `y.residual` beside each row.",
      examples: ['fit.linear(peaks, { y: "peak", x: "open" }).applied()'],
      returns: "Table<Columns>",
    },
  ],
  execute: (f, table, r) => tableValue(fitApplied(table, r, f)),
  foresee: (table, r) =>
    tableValue({
      ...table,
      columns: [
        ...table.columns,
        numberColumn(`${r.y}.fit`, numbers(table, r.y).unit, none),
        numberColumn(`${r.y}.residual`, stepOf(numbers(table, r.y).unit).unit, none),
      ],
    }),
});
