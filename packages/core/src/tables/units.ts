import { prefixes, symbols, type Dimensions } from "./unit-symbols.js";

/**
 * A unit of measurement: how a number in it turns into SI base units.
 *
 * `si = value * factor + offset`. Two units agree when their dimensions agree.
 */
export interface Unit {
  /** Canonical spelling, e.g. `W/(m^2 K)`; parsing it gives the same unit again. */
  readonly symbol: string;
  readonly dims: Dimensions;
  readonly factor: number;
  readonly offset: number;
  readonly terms: readonly UnitTerm[];
  /** Whether it counts differences of temperatures, which have no zero: `ΔK`, shown as `K`. */
  readonly difference?: true;
}

interface UnitTerm {
  readonly symbol: string;
  readonly power: number;
}

/** A unit text or a pair of units that make no sense together. */
export class UnitError extends Error {
  override readonly name = "UnitError";
}

const NO_DIMS: Dimensions = [0, 0, 0, 0, 0, 0, 0];
export const dimensionless: Unit = { symbol: "1", dims: NO_DIMS, factor: 1, offset: 0, terms: [] };

const known = new Map<string, Unit>();

/**
 * Parses a unit: `m/s`, `m^2`, `m²`, `kg m^-3`, `W/(m2 K)`, `degC`, `%`, `1`, `-`.
 *
 * Blanks, `*` and `·` multiply. Behind a `/`, factors set side by side belong to the denominator, as in the
 * trade's `J/kg K`; `*` starts anew at the numerator.
 *
 * @throws UnitError naming the part that is not a unit.
 * @example parseUnit("W/(m^2 K)").dims // [0, 1, -3, 0, -1, 0, 0]
 */
export function parseUnit(text: string): Unit {
  const cached = known.get(text);
  if (cached) return cached;
  if (text.length > 80) throw new UnitError(`unit of ${text.length} characters is too long (80 at most)`);
  const scale = /^\s*(?:deg\.?|degrees?|°)\s+([CF])\s*$/i.exec(text);
  const unit = new UnitParser(
    scale ? `deg${scale[1]!.toUpperCase()}` : text.replace(/^\s*°(?:CA|KW)\s*$/, "degCA"),
  ).parse();
  if (known.size < 5000) known.set(text, unit);
  return unit;
}

/** Like {@link parseUnit}, but `undefined` where the text is not a unit. */
export function tryParseUnit(text: string): Unit | undefined {
  try {
    return parseUnit(text);
  } catch {
    return undefined;
  }
}

const superscripts: Readonly<Record<string, string>> = {
  "⁰": "0",
  "¹": "1",
  "²": "2",
  "³": "3",
  "⁴": "4",
  "⁵": "5",
  "⁶": "6",
  "⁷": "7",
  "⁸": "8",
  "⁹": "9",
  "⁻": "-",
};

class UnitParser {
  private position = 0;
  private readonly text: string;

  constructor(private readonly original: string) {
    this.text = original.trim().replace(/[⁰¹²³⁴⁵⁶⁷⁸⁹⁻]+/g, (s) => "^" + [...s].map((c) => superscripts[c]).join(""));
  }

  parse(): Unit {
    if (this.text === "" || this.text === "-" || this.text === "–" || this.text === "1") return dimensionless;
    const unit = this.product(false);
    if (this.position < this.text.length) this.fail(this.text.slice(this.position));
    return unit;
  }

  private product(denominator: boolean): Unit {
    let result = this.power();
    for (;;) {
      this.blanks();
      const c = this.text[this.position];
      if (c === undefined || c === ")") return result;
      if (c === "/" || c === "*") {
        if (denominator) return result;
        this.position++;
        if (c === "*" && this.text[this.position] === "*") this.fail("**");
        result = c === "/" ? divideUnits(result, this.product(true)) : multiplyUnits(result, this.power());
      } else {
        if (c === "·" || c === "⋅" || c === ".") this.position++;
        result = multiplyUnits(result, this.power());
      }
    }
  }

  private power(): Unit {
    this.blanks();
    const base = this.atom();
    const match = /^(?:\s*(?:\^|\*\*)\s*(\(?)(-?\d+(?:\.\d+)?(?:\/\d+)?)(\)?)|(-?\d+))/.exec(
      this.text.slice(this.position),
    );
    if (!match) return base;
    if (match[2] !== undefined && (match[1] === "(") !== (match[3] === ")")) {
      if (match[3] === ")") match[0] = match[0].slice(0, -1);
      else this.fail(match[0]);
    }
    this.position += match[0].length;
    const [top, bottom] = (match[2] ?? match[4]!).split("/");
    return powerUnit(base, Number(top) / Number(bottom ?? 1));
  }

  private atom(): Unit {
    if (this.text[this.position] === "(") {
      this.position++;
      const inner = this.product(false);
      this.blanks();
      if (this.text[this.position] !== ")") this.fail("a missing ')'");
      this.position++;
      return inner;
    }
    const match = /^(?:1(?![\d.])|%|‰|°[CF]?|[\p{L}]+)/u.exec(this.text.slice(this.position));
    if (!match) this.fail(this.text.slice(this.position) || "nothing");
    this.position += match[0].length;
    return lookUp(match[0]) ?? this.fail(match[0]);
  }

  private blanks(): void {
    while (this.text[this.position] === " ") this.position++;
  }

  private fail(part: string): never {
    throw new UnitError(`"${this.original}" is not a unit: "${part}" is not known`);
  }
}

/** Marks the unit of a difference of temperatures; never seen outside, where `K` stands. */
const DIFFERENCE = "Δ";

function lookUp(name: string): Unit | undefined {
  if (name.startsWith(DIFFERENCE)) {
    const unit = lookUp(name.slice(1));
    return unit && isTemperature(unit) && unit.offset === 0 ? differenceOf(unit) : undefined;
  }
  const direct = symbols.get(name);
  if (direct) {
    const symbol = direct.canonical ?? name;
    if (symbol === "1") return dimensionless;
    return {
      symbol,
      dims: direct.dims,
      factor: direct.factor,
      offset: direct.offset ?? 0,
      terms: [{ symbol, power: 1 }],
    };
  }
  const scale = prefixes.get(name[0] ?? "");
  const base = symbols.get(name.slice(1));
  if (scale === undefined || !base?.prefix) return undefined;
  const symbol = (name[0] === "μ" || name[0] === "u" ? "µ" : name[0]!) + (base.canonical ?? name.slice(1));
  return { symbol, dims: base.dims, factor: base.factor * scale, offset: 0, terms: [{ symbol, power: 1 }] };
}

function spell(terms: readonly UnitTerm[]): string {
  const part = (t: UnitTerm, sign: number): string =>
    t.power * sign === 1 ? t.symbol : `${t.symbol}^${shortNumber(t.power * sign)}`;
  const above = terms.filter((t) => t.power > 0).map((t) => part(t, 1));
  const below = terms.filter((t) => t.power < 0).map((t) => part(t, -1));
  if (above.length + below.length === 0) return "1";
  const bottom = below.length > 1 ? `(${below.join(" ")})` : below.join("");
  return (above.join(" ") || "1") + (bottom ? "/" + bottom : "");
}

const shortNumber = (x: number): string => String(Math.round(x * 1e6) / 1e6);

function combine(a: readonly UnitTerm[], b: readonly UnitTerm[], sign: number): UnitTerm[] {
  const out = a.map((t) => ({ ...t }));
  for (const t of b) {
    const same = out.find((o) => o.symbol === t.symbol);
    if (same) same.power += sign * t.power;
    else out.push({ symbol: t.symbol, power: sign * t.power });
  }
  return out.filter((t) => Math.abs(t.power) > 1e-9);
}

const isTemperature = (u: Unit): boolean =>
  u.terms.length === 1 && u.terms[0]!.power === 1 && u.dims.every((x, i) => x === (i === 4 ? 1 : 0));

function differenceOf(unit: Unit): Unit {
  if (unit.difference) return unit;
  const symbol = DIFFERENCE + unit.symbol;
  return { ...unit, symbol, terms: [{ symbol, power: 1 }], difference: true };
}

/** The unit without the mark of a difference: in a product or a power, a kelvin is a kelvin. */
function unmarked(unit: Unit): Unit {
  if (!unit.difference) return unit;
  const symbol = unit.symbol.slice(DIFFERENCE.length);
  return { symbol, dims: unit.dims, factor: unit.factor, offset: 0, terms: [{ symbol, power: 1 }] };
}

/** A unit's symbol as files and scripts have it: differences of temperatures in K. Unknown stays unknown. */
export function plainUnit<T extends string | null | undefined>(symbol: T): T {
  return (symbol?.startsWith(DIFFERENCE) ? symbol.slice(DIFFERENCE.length) : symbol) as T;
}

/** What a value has once it is converted: a difference stays one in another unit. */
export function convertedUnit(from: Unit, to: Unit): string {
  return from.difference && !to.difference ? differenceOf(to).symbol : to.symbol;
}

function noOffset(unit: Unit): void {
  if (unit.offset !== 0)
    throw new UnitError(`${displayUnit(unit.symbol)} in a product or a power has no meaning; convert to K first`);
}

/** The product of two units. @throws UnitError for temperature scales with their own zero. */
export function multiplyUnits(a: Unit, b: Unit): Unit {
  return scaled(a, b, 1);
}

/** The quotient of two units. @throws UnitError for temperature scales with their own zero. */
export function divideUnits(a: Unit, b: Unit): Unit {
  return scaled(a, b, -1);
}

function scaled(first: Unit, second: Unit, sign: 1 | -1): Unit {
  noOffset(first);
  noOffset(second);
  if (second.terms.length === 0) return first;
  if (first.terms.length === 0 && sign === 1) return second;
  const [a, b] = [unmarked(first), unmarked(second)];
  const terms = combine(a.terms, b.terms, sign);
  const factor = sign === 1 ? a.factor * b.factor : a.factor / b.factor;
  const dims = a.dims.map((x, i) => x + sign * b.dims[i]!) as unknown as Dimensions;
  // kN/N, min/s: what is left is a plain number; the caller scales by the quotient of the factors.
  const cancelled =
    terms.length > 0 &&
    dims.every((x) => Math.abs(x) < 1e-9) &&
    terms.some((t) => parseUnit(t.symbol).dims.some((x) => x !== 0));
  if (terms.length === 0 || cancelled) return dimensionless;
  return { symbol: spell(terms), dims, factor, offset: 0, terms };
}

/** A unit raised to a power; fractions are allowed, as for square roots. */
export function powerUnit(unit: Unit, power: number): Unit {
  if (power === 1) return unit;
  noOffset(unit);
  unit = unmarked(unit);
  const terms = unit.terms
    .map((t) => ({ symbol: t.symbol, power: t.power * power }))
    .filter((t) => Math.abs(t.power) > 1e-9);
  const dims = unit.dims.map((x) => Math.round(x * power * 1e9) / 1e9) as unknown as Dimensions;
  return { symbol: spell(terms), dims, factor: unit.factor ** power, offset: 0, terms };
}

/** Whether numbers in the two units can be converted into each other. */
export function sameDimensions(a: Unit, b: Unit): boolean {
  return a.dims.every((x, i) => Math.abs(x - b.dims[i]!) < 1e-9);
}

/**
 * The unit of a difference of two values, and how much of it one step of their scale is: K and 5/9 for °F, the unit
 * itself and 1 for units without a zero of their own; `ownZero` says which it is. A difference of temperatures is
 * marked as one, so that no later conversion takes it for a temperature. Unknown stays unknown.
 */
export function stepOf(symbol: string | null): { unit: string | null; factor: number; ownZero: boolean } {
  if (symbol === null) return { unit: null, factor: 1, ownZero: false };
  const unit = parseUnit(symbol);
  const ownZero = unit.offset !== 0;
  if (ownZero) return { unit: DIFFERENCE + "K", factor: unit.factor, ownZero };
  return { unit: isTemperature(unit) ? differenceOf(unit).symbol : symbol, factor: 1, ownZero };
}

/** How to convert: `to = from * scale + shift`. */
export interface Conversion {
  readonly scale: number;
  readonly shift: number;
}

/**
 * The conversion between two units.
 *
 * @throws UnitError when the dimensions differ.
 * @example conversion(parseUnit("degC"), parseUnit("K")) // { scale: 1, shift: 273.15 }
 */
export function conversion(from: Unit, to: Unit): Conversion {
  if (!sameDimensions(from, to))
    throw new UnitError(
      `${displayUnit(from.symbol) || "a plain number"} cannot be converted to ${displayUnit(to.symbol) || "a plain number"}`,
    );
  if ((from.difference && to.offset !== 0) || (to.difference && from.offset !== 0))
    throw new UnitError(
      `a difference of temperatures and ${displayUnit(from.offset !== 0 ? from.symbol : to.symbol)} ` +
        "cannot be converted into each other, for a difference has no zero; say K",
    );
  const turns = rotation(from, to);
  if (turns !== undefined) return { scale: ratio(from.factor * turns, to.factor), shift: 0 };
  return {
    scale: ratio(from.factor, to.factor),
    shift: from.offset === to.offset ? 0 : (from.offset - to.offset) / to.factor,
  };
}

const whole = 2 * Math.PI;

/**
 * Whether a rate counts turns (`rpm`, `rev/s`), angles (`rad/s`), cycles (`Hz`), or says nothing of what it counts
 * (`1/s`).
 */
function counted(u: Unit): "turns" | "angles" | "cycles" | "nothing" {
  const has = (...names: string[]): boolean =>
    u.terms.some((t) => names.some((n) => t.symbol === n || (n === "Hz" && t.symbol.endsWith("Hz"))));
  return has("rpm", "rev") ? "turns" : has("rad", "deg") ? "angles" : has("Hz") ? "cycles" : "nothing";
}

const isRate = (u: Unit): boolean => u.dims.every((x, k) => Math.abs(x - (k === 2 ? -1 : 0)) < 1e-9);

/**
 * How many cycles a turn is, or a turn a cycle, where a conversion goes between the two: 1500 rpm are 25 Hz. Undefined
 * for all other conversions. @throws UnitError between angles a second and hertz, where a factor of 2π would be a guess
 */
function rotation(from: Unit, to: Unit): number | undefined {
  if (!isRate(from) || !isRate(to)) return undefined;
  const [a, b] = [counted(from), counted(to)];
  if (a === "turns" && (b === "cycles" || b === "nothing")) return 1 / whole;
  if (b === "turns" && (a === "cycles" || a === "nothing")) return whole;
  if ((a === "angles" && b === "cycles") || (a === "cycles" && b === "angles"))
    throw new UnitError(
      `${displayUnit(from.symbol)} cannot be converted to ${displayUnit(to.symbol)}: one counts ` +
        "angles, the other cycles; multiply or divide by 2 pi",
    );
  return undefined;
}

/** Quotients such as 0.001 / 1 are kept as short decimals rather than as quotients one unit in the last place off. */
function ratio(a: number, b: number): number {
  const q = a / b;
  const short = Number(q.toPrecision(15));
  return short === q ? q : Math.abs(short - q) <= Number.EPSILON * Math.abs(q) ? short : q;
}

/**
 * How many steps of `to` a step of `from` is, zeros apart: 1.8 from K to °F.
 * @throws UnitError when the dimensions differ
 */
export function stepScale(from: string, to: string): number {
  const [a, b] = [parseUnit(from), parseUnit(to)];
  if (a.offset === 0 && b.offset === 0) return conversion(unmarked(a), unmarked(b)).scale;
  return sameDimensions(a, b) ? ratio(a.factor, b.factor) : conversion(a, b).scale;
}

/** Converts one number. @example convert(20, "min", "s") // 1200 */
export function convert(value: number, from: string, to: string): number {
  const c = conversion(parseUnit(from), parseUnit(to));
  return applyConversion(value, c);
}

/** Applies a conversion: divides by the inverse where that is the exact one, so 5 mm is 0.005 m and not near it. */
export function applyConversion(value: number, c: Conversion): number {
  const inverse = 1 / c.scale;
  const scaledValue = c.scale < 1 && Number.isInteger(inverse) ? value / inverse : value * c.scale;
  return scaledValue + c.shift;
}

/** Values in another unit; the same array where nothing changes. @throws UnitError when the dimensions differ */
export function convertValues(values: Float64Array, from: string, to: string): Float64Array {
  const c = conversion(parseUnit(from), parseUnit(to));
  return c.scale === 1 && c.shift === 0 ? values : values.map((v) => applyConversion(v, c));
}

const superscript: Readonly<Record<string, string>> = {
  "0": "⁰",
  "1": "¹",
  "2": "²",
  "3": "³",
  "4": "⁴",
  "5": "⁵",
  "6": "⁶",
  "7": "⁷",
  "8": "⁸",
  "9": "⁹",
  "-": "⁻",
};

/** A unit as people read it: `W/(m² K)`, `°C`; empty for dimensionless and unknown. */
export function displayUnit(symbol: string | null | undefined): string {
  if (!symbol || symbol === "1") return "";
  return plainUnit(symbol)
    .replace(/\^(-?\d+)(?![\d.])/g, (_, n: string) => [...n].map((c) => superscript[c]).join(""))
    .replace(/deg([CF])/g, "°$1")
    .replace(/^deg$/, "°")
    .replace(/\bohm\b/g, "Ω");
}
