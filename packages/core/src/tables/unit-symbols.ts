/**
 * The table of unit symbols: what each stands for in SI base units.
 *
 * Dimensions are exponents of [length, mass, time, current, temperature, amount, luminous intensity].
 * Values: the SI Brochure (9th edition, BIPM 2019) and, for customary units, NIST SP 811 (2008), appendix B.
 */
export type Dimensions = readonly [number, number, number, number, number, number, number];

export interface SymbolDefinition {
  readonly dims: Dimensions;
  /** SI value of one of this unit. */
  readonly factor: number;
  /** SI value of zero of this unit, for temperature scales. */
  readonly offset?: number;
  /** Whether decimal prefixes (k, m, µ …) may stand before it. */
  readonly prefix?: boolean;
  /** The spelling used in output. */
  readonly canonical?: string;
}

const d = (l = 0, m = 0, t = 0, i = 0, th = 0, n = 0, j = 0): Dimensions => [l, m, t, i, th, n, j];
const none = d();
const force = d(1, 1, -2);
const pressure = d(-1, 1, -2);
const energy = d(2, 1, -2);
const power = d(2, 1, -3);

export const symbols: ReadonlyMap<string, SymbolDefinition> = new Map<string, SymbolDefinition>([
  ["m", { dims: d(1), factor: 1, prefix: true }],
  ["g", { dims: d(0, 1), factor: 1e-3, prefix: true }],
  ["s", { dims: d(0, 0, 1), factor: 1, prefix: true }],
  ["A", { dims: d(0, 0, 0, 1), factor: 1, prefix: true }],
  ["K", { dims: d(0, 0, 0, 0, 1), factor: 1, prefix: true }],
  ["mol", { dims: d(0, 0, 0, 0, 0, 1), factor: 1, prefix: true }],
  ["cd", { dims: d(0, 0, 0, 0, 0, 0, 1), factor: 1, prefix: true }],
  ["1", { dims: none, factor: 1 }],
  ["%", { dims: none, factor: 0.01 }],
  ["‰", { dims: none, factor: 0.001 }],
  ["ppm", { dims: none, factor: 1e-6 }],
  ["rad", { dims: none, factor: 1, prefix: true }],
  ["sr", { dims: none, factor: 1 }],
  ["deg", { dims: none, factor: Math.PI / 180, canonical: "deg" }],
  ["°", { dims: none, factor: Math.PI / 180, canonical: "deg" }],
  ["degCA", { dims: none, factor: Math.PI / 180, canonical: "deg" }],
  ["rev", { dims: none, factor: 2 * Math.PI }],
  ["degC", { dims: d(0, 0, 0, 0, 1), factor: 1, offset: 273.15 }],
  ["°C", { dims: d(0, 0, 0, 0, 1), factor: 1, offset: 273.15, canonical: "degC" }],
  ["celsius", { dims: d(0, 0, 0, 0, 1), factor: 1, offset: 273.15, canonical: "degC" }],
  ["degF", { dims: d(0, 0, 0, 0, 1), factor: 5 / 9, offset: 459.67 * (5 / 9) }],
  ["°F", { dims: d(0, 0, 0, 0, 1), factor: 5 / 9, offset: 459.67 * (5 / 9), canonical: "degF" }],
  ["min", { dims: d(0, 0, 1), factor: 60 }],
  ["h", { dims: d(0, 0, 1), factor: 3600 }],
  ["hr", { dims: d(0, 0, 1), factor: 3600, canonical: "h" }],
  ["d", { dims: d(0, 0, 1), factor: 86400 }],
  ["sec", { dims: d(0, 0, 1), factor: 1, canonical: "s" }],
  ["Hz", { dims: d(0, 0, -1), factor: 1, prefix: true }],
  ["rpm", { dims: d(0, 0, -1), factor: (2 * Math.PI) / 60 }],
  ["N", { dims: force, factor: 1, prefix: true }],
  ["kgf", { dims: force, factor: 9.80665 }],
  ["lbf", { dims: force, factor: 4.4482216152605 }],
  ["Pa", { dims: pressure, factor: 1, prefix: true }],
  ["bar", { dims: pressure, factor: 1e5, prefix: true }],
  ["barA", { dims: pressure, factor: 1e5, canonical: "bar" }],
  ["bara", { dims: pressure, factor: 1e5, canonical: "bar" }],
  ["atm", { dims: pressure, factor: 101325 }],
  ["psi", { dims: pressure, factor: 6894.757293168361 }],
  ["mmHg", { dims: pressure, factor: 133.322387415 }],
  ["J", { dims: energy, factor: 1, prefix: true }],
  ["Wh", { dims: energy, factor: 3600, prefix: true }],
  ["cal", { dims: energy, factor: 4.184, prefix: true }],
  ["W", { dims: power, factor: 1, prefix: true }],
  ["V", { dims: d(2, 1, -3, -1), factor: 1, prefix: true }],
  ["C", { dims: d(0, 0, 1, 1), factor: 1, prefix: true }],
  ["F", { dims: d(-2, -1, 4, 2), factor: 1, prefix: true }],
  ["ohm", { dims: d(2, 1, -3, -2), factor: 1, prefix: true }],
  ["Ω", { dims: d(2, 1, -3, -2), factor: 1, prefix: true, canonical: "ohm" }],
  ["S", { dims: d(-2, -1, 3, 2), factor: 1, prefix: true }],
  ["Wb", { dims: d(2, 1, -2, -1), factor: 1, prefix: true }],
  ["T", { dims: d(0, 1, -2, -1), factor: 1, prefix: true }],
  ["H", { dims: d(2, 1, -2, -2), factor: 1, prefix: true }],
  ["lm", { dims: d(0, 0, 0, 0, 0, 0, 1), factor: 1 }],
  ["lx", { dims: d(-2, 0, 0, 0, 0, 0, 1), factor: 1 }],
  ["L", { dims: d(3), factor: 1e-3, prefix: true }],
  ["l", { dims: d(3), factor: 1e-3, prefix: true, canonical: "L" }],
  ["t", { dims: d(0, 1), factor: 1000 }],
  ["in", { dims: d(1), factor: 0.0254 }],
  ["inch", { dims: d(1), factor: 0.0254, canonical: "in" }],
  ["ft", { dims: d(1), factor: 0.3048 }],
  ["lb", { dims: d(0, 1), factor: 0.45359237 }],
  ["P", { dims: d(-1, 1, -1), factor: 0.1, prefix: true }],
  ["St", { dims: d(2, 0, -1), factor: 1e-4, prefix: true }],
]);

export const prefixes: ReadonlyMap<string, number> = new Map([
  ["T", 1e12],
  ["G", 1e9],
  ["M", 1e6],
  ["k", 1e3],
  ["h", 1e2],
  ["d", 1e-1],
  ["c", 1e-2],
  ["m", 1e-3],
  ["µ", 1e-6],
  ["μ", 1e-6],
  ["u", 1e-6],
  ["n", 1e-9],
  ["p", 1e-12],
]);
