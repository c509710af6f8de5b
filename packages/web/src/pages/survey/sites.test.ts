import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { firstSites, fromWire, handlesOf, isLine, kindWord, moved, newSite, siteCode, wireSite } from "./sites";
import type { SiteKind, SurveySite, Triple } from "./sites";

const number = fc.integer({ min: -1000, max: 1000 }).map((v) => v / 8);
const triple = fc.tuple(number, number, number);
const count = fc.integer({ min: 2, max: 500 });
const site: fc.Arbitrary<SurveySite> = fc.oneof(
  fc.record({ kind: fc.constant("line" as const), name: fc.string(), from: triple, to: triple, count }),
  fc.record({
    kind: fc.constant("plane" as const),
    name: fc.string(),
    axis: fc.constantFrom("x" as const, "y" as const, "z" as const),
    at: number,
  }),
  fc.record({ kind: fc.constant("points" as const), name: fc.string(), place: triple }),
  fc.record({ kind: fc.constant("grid" as const), name: fc.string(), origin: triple, step: triple, count: triple }),
  fc.record({ kind: fc.constant("column" as const), name: fc.string(), x: number, y: number, count }),
  fc.record({ kind: fc.constant("patch" as const), name: fc.string(), match: fc.string() }),
);
/** A domain: x, y, z from and to. */
const domain = fc
  .tuple(triple, fc.tuple(fc.integer({ min: 1 }), fc.integer({ min: 1 }), fc.integer({ min: 1 })))
  .map(([low, size]) => low.flatMap((v, k) => [v, v + size[k]! / 16]));
const kinds = Object.keys(kindWord) as SiteKind[];
const HALL = [0, 24, 0, 12, 0, 6];

describe("a site of the survey", () => {
  it("is the same after it was sent and read again", () => {
    fc.assert(fc.property(site, (s) => expect(fromWire(s.name, wireSite(s))).toEqual(s)));
  });

  it("is not changed here where it is of another kind than can be", () => {
    expect(
      fromWire("a", {
        kind: "points",
        places: [
          [0, 0, 0],
          [1, 1, 1],
        ],
      }),
    ).toBeUndefined();
    expect(fromWire("a", { kind: "plane", point: [0, 0, 0], normal: [1, 1, 0] })).toBeUndefined();
    expect(fromWire("a", { kind: "plane", point: [0, 0, 0], normal: [1, 0, 0], bounds: [] })).toBeUndefined();
    expect(fromWire("a", { kind: "column", place: [0, 0], along: "x", count: 3 })).toBeUndefined();
    expect(fromWire("a", { kind: "sphere" })).toBeUndefined();
  });

  it("stands in a script in the library's words", () => {
    const code = (s: object): string => siteCode({ name: "a", ...s } as SurveySite);
    expect(code({ kind: "line", from: [0, 0, 0], to: [1, 2, 3], count: 9 })).toBe(
      "at.line([0, 0, 0], [1, 2, 3], { count: 9 })",
    );
    expect(code({ kind: "plane", axis: "y", at: 6 })).toBe("at.plane({ y: 6 })");
    expect(code({ kind: "points", place: [1, 2, 3] })).toBe("at.point([1, 2, 3])");
    expect(code({ kind: "column", x: 1, y: -2, count: 4 })).toBe("at.column([1, -2], { count: 4 })");
    expect(code({ kind: "patch", match: 'coil_"1"' })).toBe('at.patch("coil_\\"1\\"")');
    expect(code({ kind: "grid", origin: [0, 0, 0], step: [1, 1, 1], count: [2, 2, 1] })).toBe(
      "at.grid({ origin: [0, 0, 0], step: [1, 1, 1], count: [2, 2, 1] })",
    );
  });

  it("moves with its handle, by as much in all its places", () => {
    fc.assert(
      fc.property(site, domain, triple, (s, bounds, to) => {
        for (const h of handlesOf(s, bounds)) {
          const after = moved(s, h, to);
          expect(after.name).toBe(s.name);
          const again = handlesOf(after, bounds).find((o) => o.part === h.part)!;
          // A plane moves along its axis, an upright column does not move in height.
          const free = h.axis !== undefined ? [h.axis] : s.kind === "column" ? [0, 1] : [0, 1, 2];
          for (const k of free) expect(again.place[k]).toBeCloseTo(to[k]!, 6);
          if (s.kind === "line" && after.kind === "line" && h.part === "whole")
            for (const k of [0, 1, 2]) expect(after.to[k]! - after.from[k]!).toBeCloseTo(s.to[k]! - s.from[k]!, 6);
        }
      }),
    );
  });

  it("has no handle where it is a surface of the mesh", () => {
    expect(handlesOf({ kind: "patch", name: "wall", match: "wall" }, HALL)).toEqual([]);
    const wall: SurveySite = { kind: "patch", name: "wall", match: "wall" };
    expect(moved(wall, { part: "whole", place: [0, 0, 0] }, [1, 1, 1])).toBe(wall);
  });

  it("begins within the domain, of whatever kind it is", () => {
    const within = (p: Triple, b: readonly number[]): boolean =>
      p.every((v, k) => {
        // Places are rounded to three digits.
        const room = 0.01 * Math.max(Math.abs(b[2 * k]!), Math.abs(b[2 * k + 1]!));
        return v >= b[2 * k]! - room && v <= b[2 * k + 1]! + room;
      });
    fc.assert(
      fc.property(fc.constantFrom(...kinds), domain, (kind, b) => {
        const s = newSite(kind, "new", b, ["wall"]);
        expect([s.kind, s.name]).toEqual([kind, "new"]);
        for (const h of handlesOf(s, b)) expect(within(h.place, b)).toBe(true);
      }),
    );
  });

  it("stands upright where the domain has a height, else across it", () => {
    expect(newSite("line", "rake", HALL, [])).toMatchObject({ from: [12, 6, 0.06], to: [12, 6, 5.94] });
    expect(newSite("line", "across", [0, 2, 0, 1, 0, 0], [])).toMatchObject({ from: [1, 0.01, 0], to: [1, 0.99, 0] });
    expect(newSite("plane", "aisle", HALL, [])).toMatchObject({ axis: "y", at: 6 });
    expect(newSite("plane", "section", [0, 2, 0, 1, 0, 0], [])).toMatchObject({ axis: "x", at: 1 });
    expect(newSite("grid", "g", [0, 2, 0, 1, 0, 0], [])).toMatchObject({ count: [3, 3, 1] });
    expect(newSite("patch", "p", HALL, [])).toMatchObject({ match: "*" });
  });

  it("is there for a start, as the field is of volumes, surfaces or points", () => {
    const names = (dimension: number, patches: string[] = []): string[] =>
      firstSites(HALL, dimension, patches).map((s) => `${kindWord[s.kind]} ${s.name}`);
    expect(names(3)).toEqual(["line rake", "plane aisle", "point middle"]);
    expect(names(2)).toEqual(["line across", "plane section", "point middle"]);
    expect(names(2, ["wall", "lid"])).toEqual(["patch wall", "point middle"]);
    expect(names(0)).toEqual(["line across", "point middle"]);
    expect(kinds.filter((kind) => isLine(newSite(kind, "a", HALL, [])))).toEqual(["line", "column"]);
  });
});
