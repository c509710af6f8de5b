import type { Law } from "./law.js";

const T = (low: number, high: number) => ({ unit: "K", what: "temperature", range: [low, high] as const });
const P = { unit: "Pa", what: "pressure", usual: 101325, range: [1e3, 1e6] as const };
const R_AIR = 287.05287;

/** Properties of air and water. */
export const properties: readonly Law[] = [
  {
    name: "air.density",
    what: "dry air as an ideal gas",
    source: "ISO 2533:1975, R = 287.05287 J/(kg K)",
    inputs: { T: T(150, 600), p: P },
    output: { name: "rho", unit: "kg/m^3" },
    of: ({ T: t, p }) => p! / (R_AIR * t!),
  },
  {
    name: "air.viscosity",
    what: "dynamic viscosity of air",
    source: "W. Sutherland's formula with the constants of ISO 2533:1975: 1.458e-6 T^(3/2) / (T + 110.4)",
    inputs: { T: T(150, 1000) },
    output: { name: "mu", unit: "Pa s" },
    of: ({ T: t }) => (1.458e-6 * t! ** 1.5) / (t! + 110.4),
  },
  {
    name: "air.conductivity",
    what: "heat conductivity of air",
    source: "ISO 2533:1975: 2.648151e-3 T^(3/2) / (T + 245.4 · 10^(−12/T))",
    inputs: { T: T(150, 1000) },
    output: { name: "k", unit: "W/(m K)" },
    of: ({ T: t }) => (2.648151e-3 * t! ** 1.5) / (t! + 245.4 * 10 ** (-12 / t!)),
  },
  {
    name: "air.temperature at height",
    what: "standard atmosphere up to 11 km",
    source: "ISO 2533:1975: 288.15 K − 6.5 K/km",
    inputs: { height: { unit: "m", what: "geopotential height", range: [-2000, 11000] } },
    output: { name: "T", unit: "K" },
    of: ({ height }) => 288.15 - 0.0065 * height!,
  },
  {
    name: "air.pressure at height",
    what: "standard atmosphere up to 11 km",
    source: "ISO 2533:1975: 101 325 Pa (T/288.15 K)^5.25588",
    inputs: { height: { unit: "m", what: "geopotential height", range: [-2000, 11000] } },
    output: { name: "p", unit: "Pa" },
    of: ({ height }) => 101325 * (1 - (0.0065 * height!) / 288.15) ** (9.80665 / (0.0065 * R_AIR)),
  },
  {
    name: "water.density",
    what: "liquid water at 1 atm",
    source: "G. Kell, J. Chem. Eng. Data 20 (1975) 97–105",
    inputs: { T: T(273.15, 373.15) },
    output: { name: "rho", unit: "kg/m^3" },
    of: ({ T: kelvin }) => {
      const t = kelvin! - 273.15;
      const top =
        999.83952 +
        t * (16.945176 + t * (-7.9870401e-3 + t * (-46.170461e-6 + t * (105.56302e-9 - 280.54253e-12 * t))));
      return top / (1 + 16.87985e-3 * t);
    },
  },
  {
    name: "water.viscosity",
    what: "dynamic viscosity of liquid water at 1 atm",
    source:
      "J. Kestin, M. Sokolov, W. Wakeham, J. Phys. Chem. Ref. Data 7 (1978) 941–948, relative to 1.002 mPa s at 20 °C",
    inputs: { T: T(265.15, 423.15) },
    output: { name: "mu", unit: "Pa s" },
    of: ({ T: kelvin }) => {
      const t = kelvin! - 273.15;
      const d = 20 - t;
      return 1.002e-3 * 10 ** ((d / (t + 96)) * (1.2364 - 1.37e-3 * d + 5.7e-6 * d * d));
    },
  },
  {
    name: "water.vapour pressure",
    what: "saturation over liquid water",
    source:
      "A. Buck, J. Appl. Meteorol. 20 (1981) 1527–1532: 611.21 Pa exp((18.678 − t/234.5) t/(257.14 + t)), t in °C (1996 constants)",
    inputs: { T: T(233.15, 323.15) },
    output: { name: "p", unit: "Pa" },
    of: ({ T: kelvin }) => {
      const t = kelvin! - 273.15;
      return 611.21 * Math.exp(((18.678 - t / 234.5) * t) / (257.14 + t));
    },
  },
];
