/**
 * Tables: named columns of equal length with units, quantities, formulas, conditions (what is known of a table's
 * worth), and what is done to columns and rows. The lowest part: it imports nothing but itself, and everything else
 * imports it.
 */
export { own } from "./property-names.js";
export * from "./table.js";
export { distinct, nearly } from "./nearly.js";
export { plainText } from "./plain-text.js";
export * from "./condition.js";
export { glob } from "./glob.js";
export * as textPattern from "./text-pattern.js";
export * from "./units.js";
export * from "./quantity.js";
export * from "./select.js";
export * from "./order.js";
export * from "./calculus.js";
export * from "./resample.js";
export * from "./sums.js";
export * from "./number-format.js";
export * from "./gaps.js";
export { Interrupted, maybeStop, stopWhen } from "./interruption.js";
export * from "./formula-tree.js";
export { parseFormula } from "./formula-parser.js";
export { derive, evaluateFormula, formulaUnit, unknownNames } from "./formula.js";
