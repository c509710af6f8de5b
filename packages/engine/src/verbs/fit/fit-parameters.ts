import { z } from "zod";
import { dictionary } from "../../dictionary.js";
import { column, flag, number, oneOrMoreColumns, plain } from "../parameters/kinds.js";

/** What every fit is given: the columns, and how they count. */
export const commonParameters = {
  y: column().option(),
  x: oneOrMoreColumns().option(),
  weights: column().option().optional(),
  confidence: number(z.number().min(0.01).max(0.9999)).option().optional(),
};

/** What one kind of fit takes besides. */
export const intercept = flag().option().optional();
export const degree = number(z.number().int().min(1).max(12)).option().optional();
const starts = plain(dictionary(z.number()), "S").option();
/** Values to start from: a formula needs them. */
export const start = starts.optional();
export const startNeeded = starts;
export const bounds = plain(
  dictionary(z.object({ lower: z.number().optional(), upper: z.number().optional() }).strict()),
  "{ [K in keyof S]?: { lower?: number; upper?: number } }",
)
  .option()
  .optional();

/** All that a fit may be given. */
export const fitParameters = {
  y: plain(z.string(), "string"),
  x: plain(z.array(z.string()).min(1).max(20), "string[]"),
  degree,
  intercept,
  start,
  bounds,
  weights: plain(z.string(), "string").optional(),
  confidence: commonParameters.confidence,
};
