import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { interpolate, join } from "../tables/resample.js";
import { makeTable, numberColumn, numbers } from "../tables/table.js";
import { convertValues } from "../tables/units.js";
import { bins, groupBy, pivot } from "./groups/group.js";
import { histogram } from "./moments.js";

/** Tenths of a minute, as one file writes them in seconds and another in minutes. */
const tenths = fc.uniqueArray(fc.integer({ min: 0, max: 5000 }), { minLength: 2, maxLength: 30 });
const inSeconds = (k: readonly number[]): Float64Array => Float64Array.from(k, (v) => 6 * v);
const fromMinutes = (k: readonly number[]): Float64Array =>
  convertValues(
    Float64Array.from(k, (v) => v / 10),
    "min",
    "s",
  );
const rising = (k: readonly number[]): number[] => [...k].sort((a, b) => a - b);

describe("places that only the rounding of a conversion keeps apart are one place", () => {
  it("8.2 min is one of them", () => {
    expect(fromMinutes([82])[0]).not.toBe(492);
  });
  it("between rows and at both ends of an axis, beside missing values too", () => {
    fc.assert(
      fc.property(tenths, (k) => {
        const x = rising(k);
        const y = Float64Array.from(x, (_, i) => (i % 3 === 1 ? Number.NaN : i));
        expect(interpolate(inSeconds(x), y, fromMinutes(x))).toEqual(y);
        expect(interpolate(fromMinutes(x), y, inSeconds(x))).toEqual(y);
      }),
    );
  });
  it("of tables that are joined", () => {
    const k = [0, 41, 82];
    const at = (unit: string, values: Float64Array) =>
      makeTable([numberColumn("t", unit, values), numberColumn("a", "K", [1, 2, 3])], { axis: "t" });
    const minutes = at(
      "min",
      Float64Array.from(k, (v) => v / 10),
    );
    expect([...numbers(join(at("s", inSeconds(k)), minutes), "a.2").values]).toEqual([1, 2, 3]);
  });
  it("at the edges of bins", () => {
    fc.assert(
      fc.property(tenths, (k) => {
        const edges = [...fromMinutes(rising(k))];
        const counts = (values: Float64Array): number[] => {
          const t = makeTable([numberColumn("t", "s", values), numberColumn("a", "K", values)], { axis: "t" });
          expect([...numbers(bins(t, "t", { edges }), "n").values]).toEqual([
            ...numbers(histogram(t, "t", { edges }), "count").values,
          ]);
          return [...numbers(histogram(t, "t", { edges }), "count").values];
        };
        const all = counts(inSeconds(rising(k)));
        expect(all).toEqual(counts(fromMinutes(rising(k))));
        expect(all.reduce((a, b) => a + b, 0)).toBe(k.length);
      }),
    );
  });
  it("as keys of groups", () => {
    fc.assert(
      fc.property(tenths, (k) => {
        const keys = [...inSeconds(k), ...fromMinutes(k)];
        const parity = keys.map((_, i) => (i < k.length ? 0 : 1));
        const t = makeTable([
          numberColumn("t", "s", keys),
          numberColumn("of", "1", parity),
          numberColumn(
            "a",
            "K",
            keys.map((_, i) => i),
          ),
        ]);
        expect([...numbers(groupBy(t, ["t"]), "n").values]).toEqual(k.map(() => 2));
        // The second key orders within the first, whichever way that is written.
        expect([...numbers(groupBy(t, ["t", "of"]), "of").values]).toEqual(k.flatMap(() => [0, 1]));
        const turned = pivot(t, { rows: ["of"], columns: "t", values: "a" });
        expect(turned.columns).toHaveLength(1 + k.length);
        expect(turned.columns.slice(1).every((c) => c.values.every((v) => v === v))).toBe(true);
      }),
    );
  });
});
