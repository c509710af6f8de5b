import type { Law } from "./law.js";

const Y_PLUS = (low: number, high: number) => ({
  unit: "1",
  what: "distance from the wall in wall units",
  range: [low, high] as const,
});

/** Shapes of velocity over a section, and laws of the wall. */
export const profiles: readonly Law[] = [
  {
    name: "profile.plates",
    what: "laminar flow between two plates: the parabola",
    source: "R. Bird, W. Stewart, E. Lightfoot, Transport Phenomena, 2nd ed., section 2.3",
    inputs: {
      y: { unit: "m", what: "distance from one plate" },
      gap: { unit: "m", what: "between the plates" },
      mean: { unit: "m/s", what: "mean velocity" },
    },
    output: { name: "u", unit: "m/s" },
    of: ({ y, gap, mean }) => (y! < 0 || y! > gap! ? Number.NaN : 6 * mean! * (y! / gap!) * (1 - y! / gap!)),
  },
  {
    name: "profile.pipe",
    what: "laminar flow in a round pipe: the parabola",
    source: "R. Bird, W. Stewart, E. Lightfoot, Transport Phenomena, 2nd ed., section 2.3",
    inputs: {
      r: { unit: "m", what: "distance from the axis" },
      radius: { unit: "m", what: "of the pipe" },
      mean: { unit: "m/s", what: "mean velocity" },
    },
    output: { name: "u", unit: "m/s" },
    of: ({ r, radius, mean }) => (Math.abs(r!) > radius! ? Number.NaN : 2 * mean! * (1 - (r! / radius!) ** 2)),
  },
  {
    name: "profile.power",
    what: "turbulent flow: u/u_max = (y/h)^(1/n)",
    source:
      "H. Schlichting, K. Gersten, Boundary-Layer Theory, 9th ed., section 17.2; n = 7 at moderate Reynolds numbers",
    inputs: {
      y: { unit: "m", what: "distance from the wall" },
      height: { unit: "m", what: "from the wall to where u is largest" },
      max: { unit: "m/s", what: "largest velocity" },
      n: { unit: "1", what: "one over the exponent", usual: 7, range: [5, 12] },
    },
    output: { name: "u", unit: "m/s" },
    of: ({ y, height, max, n }) => (y! < 0 || y! > height! ? Number.NaN : max! * (y! / height!) ** (1 / n!)),
  },
  {
    name: "wall.sublayer",
    what: "viscous sublayer: u⁺ = y⁺",
    source: "S. Pope, Turbulent Flows, section 7.1.4",
    inputs: { "y.plus": Y_PLUS(0, 5) },
    output: { name: "u.plus", unit: "1" },
    of: ({ "y.plus": yPlus }) => yPlus!,
  },
  {
    name: "wall.logarithmic",
    what: "logarithmic law: u⁺ = ln(y⁺)/κ + B",
    source: "S. Pope, Turbulent Flows, section 7.1.4, with κ = 0.41 and B = 5.2",
    inputs: {
      "y.plus": Y_PLUS(30, 1e6),
      kappa: { unit: "1", what: "von Kármán's constant", usual: 0.41, range: [0.35, 0.45] },
      B: { unit: "1", what: "additive constant", usual: 5.2, range: [4, 6.5] },
    },
    output: { name: "u.plus", unit: "1" },
    of: ({ "y.plus": yPlus, kappa, B }) => (yPlus! > 0 ? Math.log(yPlus!) / kappa! + B! : Number.NaN),
  },
  {
    name: "wall.composite",
    what: "one law from the wall to the logarithmic layer",
    source:
      "H. Reichardt, Z. Angew. Math. Mech. 31 (1951) 208–219: u⁺ = ln(1 + κy⁺)/κ + 7.8 (1 − e^(−y⁺/11) − (y⁺/11) e^(−y⁺/3))",
    inputs: {
      "y.plus": Y_PLUS(0, 1e6),
      kappa: { unit: "1", what: "von Kármán's constant", usual: 0.4, range: [0.35, 0.45] },
    },
    output: { name: "u.plus", unit: "1" },
    of: ({ "y.plus": y, kappa }) =>
      y! >= 0
        ? Math.log1p(kappa! * y!) / kappa! + 7.8 * (1 - Math.exp(-y! / 11) - (y! / 11) * Math.exp(-y! / 3))
        : Number.NaN,
  },
];
