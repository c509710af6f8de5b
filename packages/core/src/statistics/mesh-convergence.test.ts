import { describe, expect, it } from "@jest/globals";
import { meshConvergence } from "./mesh-convergence.js";

describe("mesh convergence", () => {
  // Table 1 of Celik et al. (2008): two-dimensional meshes of 18000, 8000 and 4500 cells, and others.
  it.each([
    ["reattachment length, monotonic", [18000, 8000, 4500], [6.063, 5.972, 5.863], 1.53, 6.1685, 1.5, 1.7, 2.2],
    ["velocity, monotonic", [18000, 4500, 980], [10.788, 10.725, 10.605], 0.75, 10.8801, 0.6, 0.9, 1.1],
  ] as const)("%s: the published example", (_, cells, values, order, extrapolated, ea, eext, gci) => {
    const c = meshConvergence(
      cells.map((n) => 1 / Math.sqrt(n)),
      [...values],
    );
    expect(c.kind).toBe("monotonic");
    expect(c.order).toBeCloseTo(order, 1);
    expect(Math.abs(c.extrapolated / extrapolated - 1)).toBeLessThan(1e-3);
    expect(100 * c.difference).toBeCloseTo(ea, 0);
    expect(100 * c.error).toBeCloseTo(eext, 0);
    expect(100 * c.index).toBeCloseTo(gci, 0);
  });
  it("values that follow an order give it and their limit back, whatever the ratios and the order of the meshes", () => {
    for (const p of [1, 1.7, 2, 4]) {
      const h = [0.5, 0.2, 0.29, 1];
      const c = meshConvergence(
        h,
        h.map((x) => 7 - 3 * x ** p),
      );
      expect(c.order).toBeCloseTo(p, 6);
      expect(c.extrapolated).toBeCloseTo(7, 6);
      expect(c.note).toMatch(/three finest of 4/);
    }
  });
  it("names what does not converge", () => {
    expect(meshConvergence([1, 2, 4], [1, 2, 2.5]).kind).toBe("diverging");
    expect(meshConvergence([1, 2, 4], [1, 1, 2]).kind).toBe("level");
    expect(meshConvergence([1, 2, 4], [1, 1.1, 0.5]).kind).toBe("oscillating");
    expect(() => meshConvergence([1, 2], [1, 2])).toThrow(/needs three meshes.*there are 2/);
    expect(() => meshConvergence([1, 1, 2], [1, 2, 3])).toThrow(/differ in size/);
  });
});
