/**
 * How a column agrees with a reference (measured data, another run, a formula): what the comparison takes, and what
 * can be asked of it. Tables flow in, quantities and tables flow out. May import parameters and core.
 */
import type { AskedOperation } from "../parameters/method.js";
import { measure } from "./measure.js";
import { side, summary } from "./tables.js";

export { agreementParameters } from "./agreement-parameters.js";

export const agreementOperations: readonly AskedOperation[] = [measure, side, summary];
