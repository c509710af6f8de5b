import { describe, expect, it } from "@jest/globals";
import { rangeText, type Reduced } from "./range-text";

const data = (low: number | null, high: number | null, unit: string | null): Reduced => ({
  columns: [
    { name: "min T", unit, values: [low] },
    { name: "max T", unit, values: [high] },
  ],
});

describe("the range of a run's field", () => {
  it.each([
    [data(273.15, 300.25, "K"), "K", "273.15 … 300.25"],
    [data(0, 26.85, "degC"), "K", "273.15 … 300"],
    [data(1, 2, null), null, "1 … 2"],
    [data(null, 2, "K"), "K", "– … 2"],
    [data(null, null, "Pa"), "K", "– … –"],
    [data(1e-14, 2, "K"), "K", "0 … 2"],
    [undefined, "K", "– … –"],
  ])("%j under %s is %s", (reduced, unit, text) => expect(rangeText(reduced, "T", unit)).toBe(text));
  it.each([
    [data(1, 2, "Pa"), "K", "1 … 2 Pa"],
    [data(1, 2, null), "K", "1 … 2 without a unit"],
    [data(1, 2, "K"), null, "1 … 2 K"],
    [data(1, 2, "1"), null, "1 … 2"],
  ])("that cannot be converted has its own unit: %j under %s", (reduced, unit, text) =>
    expect(rangeText(reduced, "T", unit)).toBe(text),
  );
});
