import { RE, solve, type Law } from "./law.js";

const re = (low: number, high: number) => ({ ...RE, range: [low, high] as const });
const ROUGHNESS = { unit: "1", what: "roughness over the hydraulic diameter", range: [0, 0.05] as const };

/** Friction factors: the fourfold of the wall's shear over the dynamic pressure (f = 8τ/ρu²). */
export const friction: readonly Law[] = [
  {
    name: "friction.laminar plates",
    what: "laminar flow between plates: f = 96/Re",
    source: "R. Shah, A. London, Laminar Flow Forced Convection in Ducts, 1978, ch. VI",
    inputs: { Re: re(0, 2300) },
    output: { name: "f", unit: "1" },
    of: ({ Re }) => 96 / Re!,
  },
  {
    name: "friction.laminar pipe",
    what: "laminar flow in a round pipe: f = 64/Re",
    source: "R. Bird, W. Stewart, E. Lightfoot, Transport Phenomena, 2nd ed., section 6.2",
    inputs: { Re: re(0, 2300) },
    output: { name: "f", unit: "1" },
    of: ({ Re }) => 64 / Re!,
  },
  {
    name: "friction.smooth",
    what: "turbulent flow in smooth ducts: f = 0.316 Re^(−1/4)",
    source: "H. Blasius, Forsch. Arb. Ing.-Wes. 131, 1913",
    inputs: { Re: re(4000, 1e5) },
    output: { name: "f", unit: "1" },
    of: ({ Re }) => 0.316 * Re! ** -0.25,
  },
  {
    name: "friction.smooth implicit",
    what: "turbulent flow in smooth ducts: 1/√f = 2 log₁₀(Re √f) − 0.8",
    source: "L. Prandtl; H. Schlichting, K. Gersten, Boundary-Layer Theory, 9th ed., section 17.2",
    inputs: { Re: re(4000, 1e8) },
    output: { name: "f", unit: "1" },
    of: ({ Re }) => solve((f) => 1 / Math.sqrt(f) - 2 * Math.log10(Re! * Math.sqrt(f)) + 0.8, 1e-4, 1),
  },
  {
    name: "friction.rough",
    what: "turbulent flow in rough ducts, explicit",
    source: "S. Haaland, J. Fluids Eng. 105 (1983) 89–90: 1/√f = −1.8 log₁₀[(ε/3.7)^1.11 + 6.9/Re]",
    inputs: { Re: re(4000, 1e8), roughness: ROUGHNESS },
    output: { name: "f", unit: "1" },
    of: ({ Re, roughness }) => (-1.8 * Math.log10((roughness! / 3.7) ** 1.11 + 6.9 / Re!)) ** -2,
  },
  {
    name: "friction.rough implicit",
    what: "turbulent flow in rough ducts: 1/√f = −2 log₁₀(ε/3.7 + 2.51/(Re √f))",
    source: "C. Colebrook, J. Inst. Civ. Eng. 11 (1939) 133–156",
    inputs: { Re: re(4000, 1e8), roughness: ROUGHNESS },
    output: { name: "f", unit: "1" },
    of: ({ Re, roughness }) =>
      solve((f) => 1 / Math.sqrt(f) + 2 * Math.log10(roughness! / 3.7 + 2.51 / (Re! * Math.sqrt(f))), 1e-4, 1),
  },
];
