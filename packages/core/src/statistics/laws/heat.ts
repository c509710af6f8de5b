import { PR, RE, type Law } from "./law.js";

const re = (low: number, high: number) => ({ ...RE, range: [low, high] as const });
const rayleigh = (low: number, high: number) => ({ unit: "1", what: "Rayleigh number", range: [low, high] as const });

/** Heat transfer: Nusselt numbers. */
export const heat: readonly Law[] = [
  {
    name: "heat.laminar plates",
    what: "developed laminar flow between plates of one temperature: Nu = 7.541",
    source: "R. Shah, A. London, Laminar Flow Forced Convection in Ducts, 1978, ch. VI (hydraulic diameter)",
    inputs: { Re: re(0, 2300) },
    output: { name: "Nu", unit: "1" },
    of: () => 7.541,
  },
  {
    name: "heat.laminar pipe",
    what: "developed laminar flow in a round pipe of one temperature: Nu = 3.657",
    source: "R. Shah, A. London, Laminar Flow Forced Convection in Ducts, 1978, ch. V",
    inputs: { Re: re(0, 2300) },
    output: { name: "Nu", unit: "1" },
    of: () => 3.657,
  },
  {
    name: "heat.turbulent",
    what: "turbulent flow in ducts: Nu = 0.023 Re^0.8 Prⁿ",
    source:
      "F. Dittus, L. Boelter, Univ. Calif. Publ. Eng. 2 (1930) 443; n = 0.4 when the fluid is heated, 0.3 when cooled",
    inputs: {
      Re: re(1e4, 1.2e5),
      Pr: PR(0.7, 120),
      n: { unit: "1", what: "exponent of Pr", usual: 0.4, range: [0.3, 0.4] },
    },
    output: { name: "Nu", unit: "1" },
    of: ({ Re, Pr, n }) => 0.023 * Re! ** 0.8 * Pr! ** n!,
  },
  {
    name: "heat.turbulent by friction",
    what: "transitional and turbulent flow in ducts, from the friction factor",
    source:
      "V. Gnielinski, Int. Chem. Eng. 16 (1976) 359–368: Nu = (f/8)(Re − 1000) Pr / (1 + 12.7 √(f/8) (Pr^(2/3) − 1))",
    inputs: { Re: re(3000, 5e6), Pr: PR(0.5, 2000), f: { unit: "1", what: "friction factor", range: [0.005, 0.1] } },
    output: { name: "Nu", unit: "1" },
    of: ({ Re, Pr, f }) => ((f! / 8) * (Re! - 1000) * Pr!) / (1 + 12.7 * Math.sqrt(f! / 8) * (Pr! ** (2 / 3) - 1)),
  },
  {
    name: "heat.laminar plate",
    what: "laminar boundary layer on a plate, mean: Nu = 0.664 Re^(1/2) Pr^(1/3)",
    source: "E. Pohlhausen, Z. Angew. Math. Mech. 1 (1921) 115",
    inputs: { Re: { unit: "1", what: "Reynolds number by the length", range: [1e3, 5e5] }, Pr: PR(0.6, 50) },
    output: { name: "Nu", unit: "1" },
    of: ({ Re, Pr }) => 0.664 * Math.sqrt(Re!) * Math.cbrt(Pr!),
  },
  {
    name: "heat.cylinder",
    what: "flow across a cylinder, mean",
    source: "S. Churchill, M. Bernstein, J. Heat Transfer 99 (1977) 300–306; Re Pr > 0.2",
    inputs: { Re: { unit: "1", what: "Reynolds number by the diameter", range: [1, 1e7] }, Pr: PR(0.01, 1000) },
    output: { name: "Nu", unit: "1" },
    of: ({ Re, Pr }) =>
      Re! * Pr! < 0.2
        ? Number.NaN
        : 0.3 +
          ((0.62 * Math.sqrt(Re!) * Math.cbrt(Pr!)) / (1 + (0.4 / Pr!) ** (2 / 3)) ** 0.25) *
            (1 + (Re! / 282000) ** 0.625) ** 0.8,
  },
  {
    name: "heat.vertical plate",
    what: "free convection at a vertical plate, mean",
    source: "S. Churchill, H. Chu, Int. J. Heat Mass Transfer 18 (1975) 1323–1329",
    inputs: { Ra: rayleigh(0.1, 1e12), Pr: PR(0.001, 1e5) },
    output: { name: "Nu", unit: "1" },
    of: ({ Ra, Pr }) => (0.825 + (0.387 * Ra! ** (1 / 6)) / (1 + (0.492 / Pr!) ** (9 / 16)) ** (8 / 27)) ** 2,
  },
];
