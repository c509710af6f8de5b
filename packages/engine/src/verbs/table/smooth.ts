import { movingAverage, smooth } from "@oxtrum/core/statistics";
import { amount, choice, column, flag, number, ofAxis } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";
import { Mistake } from "../values.js";

export const smoothVerb = tableVerb({
  name: "smooth",
  version: 2,
  doc:
    "Adds `name.smooth`, what a window about each row gives. `mean`: the mean over it; `peaks`: a " +
    "polynomial through it by least squares, which keeps the height of peaks (Savitzky and Golay " +
    "1964, also on uneven steps). At the ends the window is cut off or moved inwards. With `rows` " +
    "the window is so many rows, each counting alike: about the row, or `trailing` behind it.",
  examples: [
    't.smooth("T_mean", { over: "60 s" })',
    't.smooth("coil_duty", { over: "60 s", how: "peaks", degree: 3 })',
    't.smooth("T_mean", { rows: 5, trailing: true })',
  ],
  parameters: {
    name: column().generic("N"),
    over: amount(ofAxis(), true).option().optional(),
    how: choice("mean", "peaks").option().optional(),
    degree: number().option().optional(),
    rows: number().option().optional(),
    trailing: flag().option().optional(),
  },
  gives: "table",
  adds: ["{name}.smooth"],
  alternatives: [
    ["over!", "how", "degree"],
    ["rows!", "trailing"],
  ],
  needs: "passed on",
  execute: (table, { name, over, how, degree, rows, trailing }) => {
    if ((over === undefined) === (rows === undefined))
      throw new Mistake("smooth: say how wide the window is: over so much of the axis, or so many rows");
    if (rows !== undefined) return movingAverage(table, name, { rows, trailing });
    return smooth(table, name, { over: over!, how, degree });
  },
  proof: [{ on: "waves", given: ["p", { over: "2 s", how: "peaks", degree: 2 }], digest: "5569ecff0c4fc4f9" }],
});
