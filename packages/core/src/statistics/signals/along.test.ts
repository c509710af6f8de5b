import { describe, expect, it } from "@jest/globals";
import { makeTable, numberColumn, numbers, type Table } from "../../tables/table.js";
import { phaseAverage, cycles } from "./cycles.js";
import { detrend } from "./detrend.js";
import { lowpass } from "./lowpass.js";
import { peaks } from "./peaks.js";
import { crossCorrelation, moveAxis, timeShift } from "./shift.js";
import { smooth } from "./smooth.js";
import { correlationLength, meanError, steadyFrom } from "./steady.js";

/** A signal that the reference values below were computed for, with SciPy 1.17 (its own filters, peaks and fits). */
const n = 200;
const signal = (i: number): number => Math.sin(0.3 * i) + 0.25 * Math.cos(2.1 * i) + 0.01 * i;
const history = (f: (i: number) => number = signal, rows = n, unit: string | null = "m"): Table =>
  makeTable(
    [
      numberColumn(
        "time",
        "s",
        Float64Array.from({ length: rows }, (_, i) => i),
      ),
      numberColumn(
        "y",
        unit,
        Float64Array.from({ length: rows }, (_, i) => f(i)),
      ),
    ],
    { axis: "time" },
  );
const at = (t: Table, name: string, rows: readonly number[]): number[] => rows.map((r) => numbers(t, name).values[r]!);
const near = (got: readonly number[], wanted: readonly number[], tolerance: number): void =>
  got.forEach((v, k) => expect(Math.abs(v - wanted[k]!)).toBeLessThan(tolerance * Math.max(1, Math.abs(wanted[k]!))));
/** Even noise from a linear congruential generator, −½ to ½. */
const noise = (count: number): number[] => {
  let s = 12345;
  return Array.from({ length: count }, () => (s = (s * 16807) % 2147483647) / 2147483647 - 0.5);
};

describe("smoothing", () => {
  it.each([
    [
      10,
      2,
      [0, 3, 5, 100, 196, 199],
      [
        0.051969057004097194, 0.8356070919528636, 1.0117693079444874, 0.008343324766825852, 2.740656913442346,
        1.8601048657168167,
      ],
    ],
    [20, 3, [0, 10, 77, 199], [-0.04753667938762219, 0.20530219030766247, 0.08756804596836577, 1.7319454940796126]],
  ])("by polynomials over %d, degree %d, agrees with an independent filter to 1e-12", (over, degree, rows, wanted) => {
    near(at(smooth(history(), "y", { over, how: "peaks", degree }), "y.smooth", rows), wanted, 1e-12);
  });

  it("keeps a polynomial of its degree as it is, on uneven steps too", () => {
    const x = [0, 0.5, 1.7, 2, 3.1, 4.4, 5, 6.2, 7];
    const t = makeTable(
      [
        numberColumn("x", "m", x),
        numberColumn(
          "y",
          "1",
          x.map((v) => 3 - v + 0.5 * v * v),
        ),
      ],
      { axis: "x" },
    );
    near(
      Array.from(numbers(smooth(t, "y", { over: 4, how: "peaks" }), "y.smooth").values),
      x.map((v) => 3 - v + 0.5 * v * v),
      1e-12,
    );
  });

  it("by the mean gives the integral mean of the lines between rows, at 1e9 too", () => {
    const t = history((i) => 1e9 + (i % 2));
    near(
      at(smooth(t, "y", { over: 2 }), "y.smooth", [0, 1, 50, 199]),
      [1e9 + 0.5, 1e9 + 0.5, 1e9 + 0.5, 1e9 + 0.5],
      1e-15,
    );
    const ramp = history((i) => 2 * i);
    near(at(smooth(ramp, "y", { over: 6 }), "y.smooth", [0, 100, 199]), [3, 200, 395], 1e-12);
  });

  it("passes over missing rows, says so, and refuses what cannot be", () => {
    const s = smooth(
      history((i) => (i === 7 ? Number.NaN : 1)),
      "y",
      { over: 4 },
    );
    expect(at(s, "y.smooth", [6, 7, 8])).toEqual([1, Number.NaN, 1]);
    expect(s.notes.at(-1)).toMatch(/1 rows without a value/);
    expect(() => smooth(history(), "y", { over: 0 })).toThrow(/wider than zero/);
    expect(() => smooth(history(), "y", { over: 1, how: "peaks" })).toThrow(/make the window wider/);
  });
});

describe("low-pass", () => {
  it.each([
    [
      4,
      0.05,
      [0, 1, 50, 100, 199],
      [0.2502386508229856, 0.38398224196466324, 0.8852290841153136, 0.41447398082105824, 1.7317812326982478],
    ],
    [2, 0.1, [0, 25, 100, 199], [0.25000031104451353, 1.1458712400940982, 0.05588560683527155, 1.7308415841240148]],
  ])("of order %d below %d agrees with an independent filter to 1e-10", (order, below, rows, wanted) => {
    near(at(lowpass(history(), "y", { below, order }), "y.lowpass", rows), wanted, 1e-10);
  });

  it("leaves slow waves where they are and takes fast ones away", () => {
    const slow = (i: number): number => Math.sin((2 * Math.PI * i) / 200);
    const t = lowpass(
      history((i) => slow(i) + Math.sin((2 * Math.PI * i) / 4), 2000),
      "y",
      { below: 0.02 },
    );
    for (const i of [500, 777, 1250]) expect(numbers(t, "y.lowpass").values[i]).toBeCloseTo(slow(i), 3);
  });

  it("needs even steps, all values and a frequency that the rows can hold", () => {
    expect(() => lowpass(history(), "y", { below: 0.5 })).toThrow(/below 0.5/);
    expect(() =>
      lowpass(
        history((i) => (i === 3 ? Number.NaN : i)),
        "y",
        { below: 0.1 },
      ),
    ).toThrow(/missing in row 4/);
    const uneven = makeTable(
      [numberColumn("time", "s", [0, 1, 2, 3.5, 4, 5, 6, 7]), numberColumn("y", "m", Array(8).fill(1) as number[])],
      { axis: "time" },
    );
    expect(() => lowpass(uneven, "y", { below: 0.1 })).toThrow(/uneven at row 4.*resample/);
  });
});

describe("trend", () => {
  it.each([
    [1, [0.2130685427683983, 0.13241638513144247, -1.242016264453156, -0.2882968874261733]],
    [3, [0.04429310399361874, -0.03099566687416877, -1.161050562522985, -0.43885188139568143]],
  ])("of degree %d agrees with an independent fit to 1e-12", (degree, wanted) => {
    near(at(detrend(history(), "y", degree), "y.detrended", [0, 1, 100, 199]), wanted, 1e-12);
  });
  it("of temperatures in °C leaves a difference in K", () => {
    expect(numbers(detrend(history(signal, n, "degC"), "y"), "y.detrended").unit).toBe("ΔK");
  });
  it("needs more values than it has constants", () => {
    expect(() => detrend(history(signal, 2), "y", 2)).toThrow(/needs more than 3 values/);
  });
});

describe("peaks", () => {
  it("agree with an independent search: places, prominences, widths", () => {
    const p = peaks(history(), "y", { prominence: 0.5 });
    expect(Array.from(numbers(p, "time").values)).toEqual([6, 27, 48, 69, 90, 111, 132, 153, 173, 194]);
    near(
      Array.from(numbers(p, "y.prominence").values).slice(0, 5),
      [1.1043975967420714, 2.27848507147293, 2.28692672426023, 2.2888836194644204, 2.284238143326527],
      1e-12,
    );
    near(
      Array.from(numbers(p, "y.width").values).slice(0, 5),
      [4.980053106318466, 10.086584010843755, 10.107715067319049, 10.13571290467852, 10.171249179309015],
      1e-12,
    );
    expect(peaks(history(), "y").rows).toBe(63);
    expect(Array.from(numbers(peaks(history(), "y", { apart: 15 }), "time").values)).toEqual([
      6, 27, 48, 69, 90, 111, 132, 153, 173, 194,
    ]);
  });
  it("of flat tops are their middles, and ends are none", () => {
    const t = makeTable([numberColumn("time", "s", [0, 1, 2, 3, 4, 5]), numberColumn("y", "m", [9, 1, 2, 2, 2, 1])], {
      axis: "time",
    });
    expect(Array.from(numbers(peaks(t, "y"), "time").values)).toEqual([3]);
  });
});

describe("cycles", () => {
  const wave = history((i) => 5 + 2 * Math.sin((2 * Math.PI * i) / 20) + (i >= 100 ? 1 : 0));
  it("have exact means over whole periods", () => {
    const c = cycles(wave, "y", { period: 20, from: 0 });
    expect(c.rows).toBe(9);
    near(at(c, "y.mean", [0, 8]), [5, 6], 1e-12);
    near(at(c, "y.amplitude", [0, 8]), [2, 2], 1e-12);
  });
  it("average to one with its deviation", () => {
    const m = phaseAverage(wave, "y", { period: 20, points: 4 });
    near(at(m, "y.mean", [1]), [7 + 4 / 9], 1e-12);
    near(at(m, "y.std", [1]), [Math.sqrt((5 * (4 / 9) ** 2 + 4 * (5 / 9) ** 2) / 8)], 1e-12);
    expect(Array.from(numbers(m, "phase").values)).toEqual([0, 90, 180, 270]);
  });
  it("are refused when none is whole", () => {
    expect(() => cycles(wave, "y", { period: 500 })).toThrow(/no whole period/);
    expect(() => cycles(wave, "y", { period: -1 })).toThrow(/more than zero/);
  });
});

describe("the steady part", () => {
  it("begins where an independent search finds the least marginal error", () => {
    const e = noise(200);
    const q = steadyFrom(
      history((i) => 3 * Math.exp(-i / 15) + 0.2 * e[i]!),
      "y",
    );
    expect(q.value).toBe(54);
  });
  it("is missing, with the reason, while a column still changes", () => {
    expect(
      steadyFrom(
        history((i) => i),
        "y",
      ).reason,
    ).toMatch(/still changes/);
    expect(steadyFrom(history(signal, 4), "y").reason).toMatch(/needs ten/);
  });
  it("has a mean whose error allows for correlation: as computed directly, and near the closed form of an autoregressive series", () => {
    const e = noise(4096);
    let last = 0;
    const ar = e.map((v) => (last = 0.8 * last + v));
    const t = history((i) => ar[i]!, 4096);
    expect(meanError(t, "y").value).toBeCloseTo(0.023635280525059234, 12);
    // τ of an AR(1) series: (1 + φ)/(1 − φ) = 9 steps.
    expect(correlationLength(t, "y").value).toBeCloseTo(9.990013941335041, 9);
    expect(Math.abs(correlationLength(t, "y").value / 9 - 1)).toBeLessThan(0.15);
  });
  it("is too short to say when it holds few independent values", () => {
    expect(
      meanError(
        history((i) => i, 100),
        "y",
      ).reason,
    ).toMatch(/independent values/);
  });
});

describe("a shift in time", () => {
  const shape = (s: number): number => Math.exp(-(((s - 80) / 20) ** 2)) + 0.3 * Math.exp(-(((s - 140) / 8) ** 2));
  const first = history(shape, n, "K");
  it.each([12, -7.5, 0.25, 3.3])("of %d s is found, whatever gain and offset", (d) => {
    const second = history((i) => 20 + 5 * shape(i - d), n, "degC");
    expect(Math.abs(timeShift(first, "y", second, { maxLag: 30 }).value - d)).toBeLessThan(0.02);
  });
  it("between minutes and seconds is told in the first one's unit", () => {
    const minutes = makeTable(
      [
        numberColumn(
          "time",
          "min",
          Float64Array.from({ length: n }, (_, i) => i / 60),
        ),
        numberColumn(
          "y",
          "K",
          Float64Array.from({ length: n }, (_, i) => shape(i - 6)),
        ),
      ],
      { axis: "time" },
    );
    expect(timeShift(first, "y", minutes, { maxLag: 20 }).value).toBeCloseTo(6, 2);
  });
  it("has a correlation of 1 with itself at 0", () => {
    const c = crossCorrelation(first, "y", first, { maxLag: 5 });
    expect(numbers(c, "shift").values[5]).toBe(0);
    expect(numbers(c, "correlation").values[5]).toBeCloseTo(1, 14);
  });
  it("is missing where nothing can be said", () => {
    expect(
      timeShift(
        first,
        "y",
        history(() => 4),
        { maxLag: 20 },
      ).reason,
    ).toMatch(/both change|resemble/);
    expect(() => timeShift(first, "y", moveAxis(first, 1e6, "moved"), { maxLag: 10 })).toThrow(/do not overlap/);
    expect(
      timeShift(
        first,
        "y",
        history((i) => shape(i - 40)),
        { maxLag: 10 },
      ).reason,
    ).toMatch(/larger "maxLag"/);
  });
});
