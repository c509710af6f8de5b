import {
  applyConversion,
  conversion,
  convertedUnit,
  displayUnit,
  divideUnits,
  multiplyUnits,
  parseUnit,
  plainUnit,
  sameDimensions,
  stepOf,
  UnitError,
} from "./units.js";
import type { Condition } from "./condition.js";
import type { UnitSymbol } from "./table.js";

/** A number with its unit. A missing value is NaN and carries the reason. */
export interface Quantity {
  readonly value: number;
  readonly unit: UnitSymbol;
  /** Why there is no value. */
  readonly reason?: string;
  /** How it was computed, where there is a choice: weights, method. */
  readonly method?: string;
  /** What is known of its worth; the engine takes it on from there. */
  readonly conditions?: readonly Condition[];
  /** Where along the axis it happens, for extremes and crossings. */
  readonly at?: { readonly name: string; readonly value: number; readonly unit: UnitSymbol };
}

/** A quantity that is missing, with the reason. */
export function missing(reason: string, unit: UnitSymbol = null): Quantity {
  return { value: Number.NaN, unit, reason };
}

/**
 * Reads a quantity from text: a number and a unit.
 *
 * @throws UnitError when it is neither.
 * @example parseQuantity("20 min") // { value: 20, unit: "min" }
 */
export function parseQuantity(text: string): Quantity {
  // A quantity is short; what is long is a text, however it begins.
  const match = text.length > 200 ? null : /^([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)\s*(.*)$/s.exec(text.trim());
  if (!match) throw new UnitError(`"${text}" is not a quantity; write a number and a unit, as in "20 min"`);
  return { value: Number(match[1]), unit: match[2] === "" ? "1" : parseUnit(match[2]!).symbol };
}

function bothKnown(a: Quantity, b: Quantity, what: string): void {
  if (a.unit === null || b.unit === null)
    if (a.unit !== b.unit)
      throw new UnitError(
        `${what} of a quantity in ${displayUnit(a.unit ?? b.unit) || "a known unit"} and one whose unit ` +
          "is unknown; say its unit with .unit() first",
      );
}

/** The number of a quantity in another unit. @throws UnitError when the dimensions differ or the unit is unknown. */
export function quantityIn(q: Quantity, unit: string): Quantity {
  if (q.unit === null)
    throw new UnitError(
      `the unit of this quantity is unknown, so it cannot be converted to ${displayUnit(unit)}; say it with .unit() first`,
    );
  const target = parseUnit(unit);
  const own = parseUnit(q.unit);
  return { ...q, value: applyConversion(q.value, conversion(own, target)), unit: convertedUnit(own, target) };
}

/**
 * Arithmetic on quantities. Units are checked and converted; a missing operand gives a missing result. A temperature
 * minus a temperature is a difference, which has no zero.
 *
 * @param literal whether `b` was written with its unit: `5 K` can be a temperature or a difference, so K minus it stays
 * K
 */
export function combineQuantities(
  op: "plus" | "minus" | "times" | "over",
  a: Quantity,
  b: Quantity,
  literal = false,
): Quantity {
  const reason = a.reason ?? b.reason;
  const done = (value: number, unit: UnitSymbol): Quantity =>
    reason === undefined ? { value, unit } : { value: Number.NaN, unit, reason };
  if (op === "times" || op === "over") {
    if (a.unit === null || b.unit === null) return done(op === "times" ? a.value * b.value : a.value / b.value, null);
    const ua = parseUnit(a.unit);
    const ub = parseUnit(b.unit);
    const unit = op === "times" ? multiplyUnits(ua, ub) : divideUnits(ua, ub);
    const raw = op === "times" ? a.value * b.value : a.value / b.value;
    // Like dimensions that cancel (min/s) leave a plain factor behind.
    const left = op === "times" ? ua.factor * ub.factor : ua.factor / ub.factor;
    return done(unit.symbol === "1" && left !== 1 ? raw * left : raw, unit.symbol);
  }
  bothKnown(a, b, op === "plus" ? "sum" : "difference");
  if (a.unit === null || b.unit === null) return done(op === "plus" ? a.value + b.value : a.value - b.value, null);
  return op === "plus" ? add(a, b, done) : subtract(a, b, literal, done);
}

type Done = (value: number, unit: UnitSymbol) => Quantity;

function add(a: Quantity, b: Quantity, done: Done): Quantity {
  const ua = parseUnit(a.unit!);
  const ub = parseUnit(b.unit!);
  if (ua.offset !== 0 && ub.offset !== 0)
    throw new UnitError(`two temperatures in ${displayUnit(a.unit)} cannot be added; add a difference in K`);
  if (ub.offset !== 0) return add(b, a, done);
  if (ua.offset !== 0) {
    if (!sameDimensions(ua, ub)) conversion(ub, ua);
    return done(a.value + (b.value * ub.factor) / ua.factor, a.unit);
  }
  // A temperature and a difference are a temperature.
  if (ua.difference && !ub.difference) return add(b, a, done);
  return done(a.value + applyConversion(b.value, conversion(ub, ua)), a.unit);
}

function subtract(a: Quantity, b: Quantity, literal: boolean, done: Done): Quantity {
  const ua = parseUnit(a.unit!);
  const ub = parseUnit(b.unit!);
  if (ua.offset !== 0 && ub.offset === 0 && sameDimensions(ua, ub))
    return done(a.value - (b.value * ub.factor) / ua.factor, a.unit);
  const inA = applyConversion(b.value, conversion(ub, ua));
  if (ua.offset === 0 && (ua.difference || ub.difference || literal))
    return done(a.value - inA, ub.difference ? a.unit : plainUnit(a.unit));
  const step = stepOf(a.unit);
  return done((a.value - inA) * step.factor, step.unit);
}
