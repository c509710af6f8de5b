import { describe, expect, it } from "@jest/globals";
import { makeTable, numberColumn, numbers, type Table } from "../../tables/table.js";
import { fourier } from "./fourier.js";
import { dominantFrequency, spectrum } from "./spectrum.js";

const history = (n: number, step: number, f: (t: number, i: number) => number, from = 0): Table => {
  const t = Float64Array.from({ length: n }, (_, i) => from + i * step);
  return makeTable(
    [
      numberColumn("time", "s", t),
      numberColumn(
        "h",
        "m",
        t.map((v, i) => f(v, i)),
      ),
    ],
    { axis: "time" },
  );
};
const noise = (i: number): number => {
  let s = Math.imul(i + 1, 2654435761) | 0;
  s = Math.imul(s ^ (s >>> 15), 2246822519);
  s = Math.imul(s ^ (s >>> 13), 3266489917);
  return ((s ^ (s >>> 16)) >>> 0) / 2 ** 32 - 0.5;
};
const area = (s: Table): number => {
  const [f, p] = [numbers(s, "frequency").values, numbers(s, "h.psd").values];
  return p.reduce((sum, v) => sum + v * f[1]!, 0);
};

describe("the Fourier transform", () => {
  it("is the sum that defines it", () => {
    const n = 64;
    const x = Array.from({ length: n }, (_, i) => noise(i));
    const [re, im] = [Float64Array.from(x), new Float64Array(n)];
    fourier(re, im);
    for (const k of [0, 1, 7, 31, 32, 63]) {
      const angle = (i: number): number => (-2 * Math.PI * k * i) / n;
      expect(re[k]!).toBeCloseTo(
        x.reduce((s, v, i) => s + v * Math.cos(angle(i)), 0),
        12,
      );
      expect(im[k]!).toBeCloseTo(
        x.reduce((s, v, i) => s + v * Math.sin(angle(i)), 0),
        12,
      );
    }
    expect(() => fourier(new Float64Array(6), new Float64Array(6))).toThrow(/power of two/);
  });
});

describe("spectra", () => {
  it("the integral over frequency is the variance: of a sine A²/2, of even noise 1/12, flat", () => {
    const sine = spectrum(
      history(4096, 0.01, (t) => 3 + 2 * Math.sin(2 * Math.PI * 5 * t)),
      "h",
      { length: 1024 },
    );
    expect(area(sine)).toBeCloseTo(2, 2);
    const flat = spectrum(
      history(1 << 16, 0.5, (_, i) => noise(i)),
      "h",
      { length: 256 },
    );
    expect(area(flat)).toBeCloseTo(1 / 12, 2);
    const p = numbers(flat, "h.psd").values.slice(2, -2);
    // Over frequencies of 0 to 1 Hz: 1/12 everywhere, to within the scatter of so many segments.
    for (const v of p) expect(Math.abs(v * 12 - 1)).toBeLessThan(0.35);
  });
  it("units, and what was done", () => {
    const s = spectrum(
      history(900, 0.1, (t) => Math.sin(t)),
      "h",
    );
    expect([numbers(s, "frequency").unit, numbers(s, "h.psd").unit]).toEqual(["Hz", "m^2/Hz"]);
    expect(s.notes[0]).toBe("Welch: 13 segments of 128 rows, half overlapping, Hann window, each about its mean");
  });
  it("the dominant frequency lies between the lines, whatever the trend and the large mean", () => {
    const q = dominantFrequency(
      history(3000, 0.02, (t, i) => 1e6 + 0.3 * Math.cos(2 * Math.PI * 1.2345 * t) + 0.01 * noise(i), 50),
      "h",
    );
    expect(q.unit).toBe("Hz");
    expect(Math.abs(q.value - 1.2345)).toBeLessThan(0.004);
  });
  it("uneven steps, gaps and short histories are refused with what to do", () => {
    expect(() =>
      spectrum(
        history(20, 0.1, (t) => (t > 1 ? Number.NaN : t)),
        "h",
      ),
    ).toThrow(/missing in row 12/);
    expect(() =>
      spectrum(
        history(5, 0.1, (t) => t),
        "h",
      ),
    ).toThrow(/at least 8 rows; there are 5/);
    const uneven = makeTable(
      [numberColumn("time", "s", [0, 1, 2, 3, 4, 5, 6, 7.5, 8]), numberColumn("h", "m", new Float64Array(9))],
      { axis: "time" },
    );
    expect(() => spectrum(uneven, "h")).toThrow(/uneven at row \d: \.resample/);
    expect(() =>
      spectrum(
        history(64, 1, (t) => t),
        "h",
        { length: 100 },
      ),
    ).toThrow(/power of two/);
    expect(
      dominantFrequency(
        history(64, 1, () => 4),
        "h",
      ).reason,
    ).toMatch(/does not change/);
  });
});
