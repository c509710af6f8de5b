import { describe, expect, it } from "@jest/globals";
import { makeTable, numberColumn, numbers } from "../../tables/table.js";
import { lawAt, lawColumn, lawCurve, laws, wallUnits, type Given } from "./laws.js";

const q = (value: number, unit = "1"): Given => ({ value, unit });
const at = (name: string, inputs: Record<string, Given>): number => lawAt(name, inputs).value;

describe("published laws", () => {
  // Closed forms, tabled values, and roots found by an independent solver.
  it.each<[string, Record<string, Given>, number, number]>([
    ["profile.plates", { y: q(1, "mm"), gap: q(4, "mm"), mean: q(2, "m/s") }, 2.25, 1e-14],
    ["profile.plates", { y: q(2, "mm"), gap: q(4, "mm"), mean: q(2, "m/s") }, 3, 1e-14],
    ["profile.pipe", { r: q(0, "m"), radius: q(1, "cm"), mean: q(3, "m/s") }, 6, 1e-14],
    ["profile.power", { y: q(0.5, "m"), height: q(1, "m"), max: q(1, "m/s") }, 0.5 ** (1 / 7), 1e-14],
    ["wall.sublayer", { "y.plus": q(4) }, 4, 0],
    ["wall.logarithmic", { "y.plus": q(100) }, Math.log(100) / 0.41 + 5.2, 1e-14],
    [
      "wall.composite",
      { "y.plus": q(1) },
      Math.log(1.4) / 0.4 + 7.8 * (1 - Math.exp(-1 / 11) - Math.exp(-1 / 3) / 11),
      1e-14,
    ],
    ["wall.composite", { "y.plus": q(1000) }, Math.log(401) / 0.4 + 7.8, 1e-9],
    ["friction.laminar plates", { Re: q(960) }, 0.1, 1e-14],
    ["friction.laminar pipe", { Re: q(640) }, 0.1, 1e-14],
    ["friction.smooth", { Re: q(1e4) }, 0.0316, 1e-12],
    ["friction.smooth implicit", { Re: q(1e5) }, 0.01799259391769343, 1e-12],
    ["friction.rough implicit", { Re: q(1e5), roughness: q(1e-3) }, 0.02217453594451508, 1e-12],
    // The explicit form stays within 1.5 % of the implicit one.
    ["friction.rough", { Re: q(1e5), roughness: q(1e-3) }, 0.02217453594451508, 0.015],
    ["heat.laminar plates", { Re: q(500) }, 7.541, 0],
    ["heat.laminar pipe", { Re: q(500) }, 3.657, 0],
    ["heat.turbulent", { Re: q(1e5), Pr: q(1) }, 230, 1e-12],
    ["heat.turbulent by friction", { Re: q(1e4), Pr: q(1), f: q(0.032) }, 36, 1e-12],
    ["heat.laminar plate", { Re: q(1e4), Pr: q(1) }, 66.4, 1e-12],
    ["heat.cylinder", { Re: q(1e4), Pr: q(0.7) }, 53.32778867020997, 1e-12],
    ["heat.vertical plate", { Ra: q(1e9), Pr: q(0.71) }, 122.85653487620696, 1e-12],
    ["air.density", { T: q(15, "degC") }, 1.225, 1e-5],
    ["air.viscosity", { T: q(288.15, "K") }, 1.7894e-5, 2e-5],
    ["air.conductivity", { T: q(288.15, "K") }, 2.5343e-2, 2e-3],
    ["air.temperature at height", { height: q(5, "km") }, 255.65, 1e-9],
    ["air.pressure at height", { height: q(5000, "m") }, 54020, 1e-4],
    ["water.density", { T: q(20, "degC") }, 998.2041, 1e-5],
    ["water.density", { T: q(3.98, "degC") }, 999.972, 1e-6],
    ["water.viscosity", { T: q(20, "degC") }, 1.002e-3, 1e-12],
    ["water.viscosity", { T: q(50, "degC") }, 0.547e-3, 2e-3],
    ["water.vapour pressure", { T: q(0, "degC") }, 611.21, 1e-9],
    ["water.vapour pressure", { T: q(20, "degC") }, 2338.8, 5e-4],
  ])("%s of %j", (name, inputs, wanted, tolerance) => {
    expect(Math.abs(at(name, inputs) - wanted)).toBeLessThanOrEqual(tolerance * Math.abs(wanted));
  });

  it("give the mean they were given: the plates' parabola integrates to it", () => {
    const c = lawCurve(
      "profile.plates",
      "y",
      { from: q(0, "mm"), to: q(4, "mm") },
      { gap: q(4, "mm"), mean: q(2, "m/s") },
      2001,
      "even",
    );
    const u = numbers(c, "u").values;
    expect(u.reduce((s, v) => s + v, 0) / 2000).toBeCloseTo(2, 5);
    expect(numbers(c, "y").unit).toBe("m");
  });

  it("meet where they should: sublayer at the wall, logarithm far away", () => {
    expect(at("wall.composite", { "y.plus": q(0.01) }) / 0.01).toBeCloseTo(1, 2);
    const far = (y: number): number => at("wall.composite", { "y.plus": q(y), kappa: q(0.41) });
    expect((far(2e4) - far(1e4)) / (Math.log(2) / 0.41)).toBeCloseTo(1, 3);
  });

  it("say what, where they were found, and name source and range", () => {
    for (const l of laws.values())
      expect([l.name, l.source.length > 20, l.what.length > 10]).toEqual([l.name, true, true]);
    expect(lawAt("friction.smooth", { Re: q(1e4) }).method).toMatch(/Blasius.*1913/);
  });
});

describe("bad input of a law", () => {
  it("outside its range gives a blank with the reason, unless it is asked for", () => {
    expect(lawAt("friction.smooth", { Re: q(1e7) }).reason).toMatch(
      /Re = 1e7 lies outside the range of friction.smooth/,
    );
    expect(lawAt("friction.smooth", { Re: q(1e7) }, "keep").value).toBeCloseTo(0.316 * 1e7 ** -0.25, 12);
  });
  it("is told by name: wrong law, wrong or missing input, wrong unit", () => {
    expect(() => lawAt("friction.smoth", {})).toThrow(/"friction.smooth"/);
    expect(() => lawAt("friction.smooth", { Pr: q(1) })).toThrow(/takes Re; not "Pr"/);
    expect(() => lawAt("heat.turbulent", { Re: q(2e4) })).toThrow(/needs Pr/);
    expect(() => lawAt("air.density", { T: q(3, "m") })).toThrow(/m.*K|K.*m/);
  });
  it("counts blank rows in the notes", () => {
    const t = lawColumn(makeTable([numberColumn("Re", "1", [1e3, 1e4, Number.NaN])]), "f", "friction.smooth", {
      Re: "Re",
    });
    expect(Array.from(numbers(t, "f").values)).toEqual([Number.NaN, 0.0316, Number.NaN]);
    expect(t.notes.at(-1)).toMatch(/1 of 3 rows blank/);
    const unknown = makeTable([numberColumn("Re", null, [1e4])]);
    expect(() => lawColumn(unknown, "f", "friction.smooth", { Re: "Re" })).toThrow(/unit is unknown/);
  });
  it("refuses a curve that runs backwards or from nothing in logarithmic steps", () => {
    expect(() => lawCurve("friction.smooth", "Re", { from: q(2e4), to: q(1e4) }, {}, 5, "even")).toThrow(/larger/);
    expect(() => lawCurve("friction.smooth", "Re", { from: q(0), to: q(1e4) }, {}, 5, "log")).toThrow(/above zero/);
  });
});

describe("wall units", () => {
  const profile = makeTable([numberColumn("y", "mm", [0, 1, 2]), numberColumn("u", "cm/s", [0, 10, 20])], {
    axis: "y",
  });
  const given = { y: "y", u: "u", shear: q(0.4, "Pa"), nu: q(1e-6, "m^2/s"), rho: q(1, "g/cm^3") };
  it("have the friction velocity √(τ/ρ)", () => {
    const t = wallUnits(profile, given);
    // √(0.4/1000) = 0.02 m/s.
    expect(Array.from(numbers(t, "y.plus").values)).toEqual([0, 20, 40].map((v) => expect.closeTo(v, 10)));
    expect(numbers(t, "u.plus").values[1]).toBeCloseTo(5, 12);
    expect(t.notes.at(-1)).toMatch(/0\.02 m\/s/);
  });
  it("count from the other wall, and need a shear", () => {
    expect(numbers(wallUnits(profile, { ...given, wall: q(2, "mm") }), "y.plus").values[0]).toBeCloseTo(40, 10);
    expect(() => wallUnits(profile, { ...given, shear: q(0, "Pa") })).toThrow(/more than zero/);
  });
});
