import { amount, column, ofAxis, ofColumn, otherColumn, stepOr, tolerance } from "../parameters/kinds.js";

/** What a comparison with a reference is given. */
export const agreementParameters = {
  y: column().option(),
  reference: otherColumn().option().optional(),
  on: column().option().optional(),
  within: tolerance(ofColumn("y")).option().optional(),
  shift: stepOr(ofAxis("on"), "estimate").option().optional(),
  maxLag: amount(ofAxis("on"), true).option().optional(),
};
