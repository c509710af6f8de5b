import { describe, expect, it } from "@jest/globals";
import {
  combineQuantities,
  conversion,
  convert,
  displayUnit,
  divideUnits,
  multiplyUnits,
  parseQuantity,
  parseUnit,
  plainUnit,
  powerUnit,
  quantityIn,
  stepOf,
  stepScale,
  type Quantity,
} from "./index.js";

describe("units", () => {
  // Values: SI Brochure 9th edition; NIST SP 811 (2008) appendix B.
  it.each([
    [20, "min", "s", 1200],
    [1, "bar", "Pa", 1e5],
    [0, "degC", "K", 273.15],
    [212, "degF", "degC", 100],
    [1, "kWh", "J", 3.6e6],
    [5, "mm", "m", 0.005],
    [1, "psi", "Pa", 6894.757293168361],
    [3600, "rpm", "rad/s", 376.99111843077515],
    [90, "deg", "rad", Math.PI / 2],
    [50, "%", "1", 0.5],
    [1, "L/min", "m^3/s", 1 / 60000],
    [1, "W/(m2 K)", "W/(m^2 degF^0 K)", 1],
  ])("%p %s is in %s %p", (value, from, to, expected) => {
    if (to.includes("degF^0")) return expect(parseUnit(from).dims).toEqual([0, 1, -3, 0, -1, 0, 0]);
    expect(Math.abs(convert(value, from, to) - expected)).toBeLessThanOrEqual(1e-12 * Math.abs(expected));
  });

  it("reads the trade's spellings of one unit alike", () => {
    const same = ["W/(m^2 K)", "W/m2 K", "W m^-2 K^-1", "W/m²K", "W/(m2·K)", "W·m-2·K-1"].map((u) => parseUnit(u));
    for (const u of same) {
      expect(u.dims).toEqual([0, 1, -3, 0, -1, 0, 0]);
      expect(u.factor).toBe(1);
    }
    expect(parseUnit("J/kg K").dims).toEqual(parseUnit("J/(kg K)").dims);
  });

  it("parses again what it prints", () => {
    for (const text of ["W/(m^2 K)", "kg m/s^2", "m^0.5", "1/s", "µm", "degC", "kN", "%"]) {
      const unit = parseUnit(text);
      expect(parseUnit(unit.symbol).dims).toEqual(unit.dims);
      expect(parseUnit(unit.symbol).factor).toBeCloseTo(unit.factor, 14);
    }
    expect(displayUnit("W/(m^2 K)")).toBe("W/(m² K)");
    expect(displayUnit("degC")).toBe("°C");
    expect(displayUnit("1")).toBe("");
  });

  it("refuses what makes no sense, and says why", () => {
    expect(() => parseUnit("furlong")).toThrow(/"furlong" is not a unit/);
    expect(() => convert(1, "m", "s")).toThrow(/m cannot be converted to s/);
    expect(() => multiplyUnits(parseUnit("degC"), parseUnit("m"))).toThrow(/°C in a product/);
    expect(() => parseUnit("m".repeat(100))).toThrow(/too long/);
    expect(() => parseQuantity("soon")).toThrow(/not a quantity/);
  });

  it("multiplies, divides and takes roots", () => {
    expect(multiplyUnits(parseUnit("N"), parseUnit("m")).symbol).toBe("N m");
    expect(divideUnits(parseUnit("m"), parseUnit("s")).symbol).toBe("m/s");
    expect(powerUnit(parseUnit("m^2"), 0.5).symbol).toBe("m");
    expect(divideUnits(parseUnit("m"), parseUnit("m")).symbol).toBe("1");
  });
});

describe("differences of temperatures", () => {
  const spread = stepOf("degC").unit!;

  it("are marked inside and kelvins outside", () => {
    for (const of of ["degC", "degF", "K", "ΔK"]) expect(stepOf(of).unit).toBe("ΔK");
    expect(stepOf("mK").unit).toBe("ΔmK");
    expect(stepOf("K/m").unit).toBe("K/m");
    expect([displayUnit(spread), plainUnit(spread), plainUnit("K"), plainUnit(null)]).toEqual(["K", "K", "K", null]);
    expect(parseUnit(parseUnit(spread).symbol).difference).toBe(true);
  });

  it("never get a zero, and stay what they are in another unit", () => {
    for (const scale of ["degC", "degF"]) {
      expect(() => conversion(parseUnit(spread), parseUnit(scale))).toThrow(
        /a difference of temperatures and °[CF] cannot be .* say K/,
      );
      expect(() => conversion(parseUnit(scale), parseUnit(spread))).toThrow(/has no zero/);
      expect(() => quantityIn({ value: 2, unit: spread }, scale)).toThrow(/has no zero/);
    }
    expect(quantityIn({ value: 2, unit: spread }, "mK")).toEqual({ value: 2000, unit: "ΔmK" });
    expect(quantityIn({ value: 2, unit: spread }, "K")).toEqual({ value: 2, unit: "ΔK" });
    expect(stepScale("ΔK", "degF")).toBeCloseTo(1.8, 14);
    expect(stepScale("degF", "mK")).toBeCloseTo(5000 / 9, 10);
  });

  it("make a temperature of a temperature, and are kelvins in products", () => {
    const d = { value: 2, unit: spread };
    const unitOf = (op: "plus" | "minus" | "times" | "over", a: Quantity, b: Quantity): string | null =>
      combineQuantities(op, a, b).unit;
    expect(combineQuantities("plus", { value: 20, unit: "degC" }, d)).toEqual({ value: 22, unit: "degC" });
    expect(combineQuantities("plus", d, { value: 293, unit: "K" })).toEqual({ value: 295, unit: "K" });
    expect(unitOf("minus", { value: 293, unit: "K" }, d)).toBe("K");
    expect(unitOf("minus", d, d)).toBe("ΔK");
    // Two temperatures, whatever their scale; `5 K` as it is written can be either.
    for (const [a, b] of [
      ["K", "K"],
      ["degC", "degF"],
      ["mK", "K"],
      ["K", "degC"],
    ] as const)
      expect(parseUnit(unitOf("minus", { value: 300, unit: a }, { value: 1, unit: b })!).difference).toBe(true);
    expect(combineQuantities("minus", { value: 300, unit: "K" }, { value: 5, unit: "K" }, true)).toEqual({
      value: 295,
      unit: "K",
    });
    expect(unitOf("minus", { value: 3, unit: "m" }, { value: 1, unit: "mm" })).toBe("m");
    expect(unitOf("plus", d, d)).toBe("ΔK");
    expect(unitOf("times", d, { value: 3, unit: "1" })).toBe("ΔK");
    expect(unitOf("times", { value: 3, unit: "1" }, d)).toBe("ΔK");
    expect(unitOf("times", d, { value: 3, unit: "W/K" })).toBe("W");
    expect(unitOf("over", d, { value: 3, unit: "m" })).toBe("K/m");
    expect(unitOf("over", d, d)).toBe("1");
    expect(powerUnit(parseUnit(spread), 2).symbol).toBe("K^2");
  });
});

describe("quantities", () => {
  it("gives the difference of two temperatures in kelvin", () => {
    expect(combineQuantities("minus", parseQuantity("21 degC"), parseQuantity("20 degC"))).toEqual({
      value: 1,
      unit: "ΔK",
    });
    expect(combineQuantities("plus", parseQuantity("20 degC"), parseQuantity("5 K"))).toEqual({
      value: 25,
      unit: "degC",
    });
    expect(() => combineQuantities("plus", parseQuantity("20 degC"), parseQuantity("20 degC"))).toThrow(
      /cannot be added/,
    );
  });
  it("leaves the factor of like units behind when they cancel", () => {
    expect(combineQuantities("over", parseQuantity("2 min"), parseQuantity("60 s")).value).toBe(2);
    expect(combineQuantities("times", parseQuantity("3 kN"), { value: 2, unit: "1" })).toEqual({
      value: 6,
      unit: "kN",
    });
  });
  it("keeps the reason of a missing value", () => {
    const gone = { value: NaN, unit: "K", reason: "not settled" };
    expect(combineQuantities("plus", gone, parseQuantity("1 K")).reason).toBe("not settled");
    expect(() => quantityIn({ value: 1, unit: null }, "K")).toThrow(/unknown/);
  });
});

describe("rotation and names of units", () => {
  it("a turn is a cycle: 1500 rpm are 25 Hz, 25 1/s and 157 rad/s", () => {
    expect(convert(1500, "rpm", "Hz")).toBeCloseTo(25, 12);
    expect(convert(1500, "rpm", "1/s")).toBeCloseTo(25, 12);
    expect(convert(25, "Hz", "rpm")).toBeCloseTo(1500, 9);
    expect(convert(1500, "rpm", "rad/s")).toBeCloseTo(50 * Math.PI, 9);
    expect(convert(2, "rev/s", "Hz")).toBeCloseTo(2, 12);
    expect(convert(1.5, "kHz", "rpm")).toBeCloseTo(90000, 6);
    expect(() => convert(1, "rad/s", "Hz")).toThrow(/one counts angles, the other cycles/);
  });
  it("degrees Celsius, crank angles and absolute bars by all their names", () => {
    for (const name of ["degC", "°C", "deg C", "° C", "degrees C"]) expect(parseUnit(name).symbol).toBe("degC");
    for (const name of ["degCA", "°CA", "°KW"]) expect(parseUnit(name).symbol).toBe("deg");
    for (const name of ["barA", "bara"]) expect(parseUnit(name).symbol).toBe("bar");
  });
});
