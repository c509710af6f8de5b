import { describe, expect, it } from "@jest/globals";
import { boxMesh } from "../../mesh/tests/box-mesh.js";
import { numbers, type Table } from "../../tables/table.js";
import { blocksOfSite } from "../blocks-of-site.js";
import { reduceSite } from "../reduce.js";
import { sampleSite, settled } from "../sample.js";
import { fieldOf } from "../tests/field-of.js";
import { viewOf } from "../view.js";
import { kindOf, piecesOf, placesOf, siteSchema, stationColumn, type Site } from "./index.js";

/** One of each kind, all of them within the box of 2 × 1 × 1 that is sampled. */
const sites: readonly Site[] = [
  { kind: "points", places: [[1, 0.5, 0.5]], names: ["middle"] },
  { kind: "line", from: [0.1, 0.5, 0.5], to: [1.9, 0.5, 0.5], count: 7 },
  {
    kind: "path",
    through: [
      [0.1, 0.5, 0.5],
      [1, 0.5, 0.5],
      [1, 0.9, 0.5],
    ],
    count: 6,
    spline: true,
  },
  { kind: "grid", origin: [0.2, 0.2, 0.2], step: [0.3, 0.3, 0.3], count: [3, 2, 2] },
  { kind: "plane", point: [1, 0, 0], normal: [1, 0, 0], bounds: { y: [0.1, 0.9] } },
  { kind: "patch", match: "*" },
  { kind: "all" },
  { kind: "column", place: [1, 0.5], along: "z", count: 5 },
  { kind: "stations", along: "x", from: 0.2, to: 1.8, count: 4 },
  {
    kind: "stations",
    along: "x",
    from: 0.2,
    to: 1.8,
    count: 4,
    line: { from: [0, 0.1, 0.5], to: [0, 0.9, 0.5], count: 3 },
  },
  {
    kind: "stations",
    along: {
      through: [
        [0.1, 0.5, 0.5],
        [1.9, 0.5, 0.5],
      ],
    },
    from: 0.2,
    to: 1.5,
    count: 3,
  },
  { kind: "nodes", ids: [0, 5] },
  { kind: "cells", ids: [3] },
  { kind: "iso", field: "T", value: { value: 10, unit: "degC" } },
];
const named = sites.map((s, k) => [`${s.kind} (${k})`, s] as const);

// In K: 283.15 K lies in the middle of the box.
const T = (x: number, y: number, z: number): number => 283.15 + (x - 1) + 2 * (y - 0.5) + (z - 0.5);
const f = fieldOf(boxMesh("hexahedron", 4), { "T [K]": T });
const heads = (t: Table): unknown => t.columns.map((c) => [c.name, c.kind, c.kind === "number" ? c.unit : ""]);
const column = (t: Table, name: string): number[] => Array.from(numbers(t, name).values);

describe("every kind of site", () => {
  it("is here", () => {
    // The kinds that there are, as they are told to whoever asks for another one.
    const told = ((): string => {
      try {
        return kindOf({ kind: "circle" }).kind;
      } catch (e) {
        return (e as Error).message;
      }
    })();
    const there = /^there is no site of kind "circle"; there is (.*)$/.exec(told)![1]!.split(", ");
    expect([...new Set(sites.map((s) => s.kind))].sort()).toEqual(there.sort());
  });
  it.each(named)("%s: its description is taken as it is, and refused with what it does not have", (_, site) => {
    expect(siteSchema.parse(JSON.parse(JSON.stringify(site)))).toEqual(site);
    expect(siteSchema.parse({ ...site, block: "hall" })).toEqual({ ...site, block: "hall" });
    expect(siteSchema.safeParse({ ...site, colour: "red" }).success).toBe(false);
    for (const name of Object.keys(site).filter((k) => k !== "kind"))
      expect([name, siteSchema.safeParse({ ...site, [name]: "nonsense" }).success]).toEqual([
        name,
        ["match", "field"].includes(name),
      ]);
  });
  it.each(named)("%s: a linear field is exact in it", (_, site) => {
    const t = sampleSite(f, site, ["T"]);
    expect(t.rows).toBeGreaterThan(0);
    const [x, y, z] = ["x", "y", "z"].map((d) => column(t, d)) as [number[], number[], number[]];
    column(t, "T").forEach((v, i) => expect(v).toBeCloseTo(T(x[i]!, y[i]!, z[i]!), 9));
    const mean = column(reduceSite(f, site, { m: { mean: "T" } }), "m");
    for (const m of mean) expect(Math.abs(m - 283.15)).toBeLessThan(3);
  });
  it.each(named)("%s: has as many places as it says, and with the fewest the same columns", (_, site) => {
    const kind = kindOf(site);
    const places = placesOf(settled(f, site));
    if (kind.count) expect(places!.xyz.length / 3).toBe(kind.count(site));
    const fewest = kind.fewest?.(site);
    if (!fewest) return;
    expect(siteSchema.safeParse(fewest).success).toBe(true);
    const [a, b] = [sampleSite(f, site, ["T"]), sampleSite(f, fewest, ["T"])];
    expect(heads(b)).toEqual(heads(a));
    expect(b.rows).toBeLessThanOrEqual(a.rows);
  });
  it.each(named)(
    "%s: is made of places, of lines, of pieces or of numbers, and shown in pictures if it has faces",
    (_, site) => {
      const kind = kindOf(site);
      const ways = [kind.places ?? kind.settled, kind.parts, kind.numbered].filter((w) => w !== undefined);
      expect(ways.length).toBe(1);
      if (!kind.parts) expect(() => piecesOf(f, site)).toThrow(/not made of pieces/);
      if (kind.picture) expect(viewOf(f, site, {}).rows).toBeGreaterThan(0);
      else expect(() => viewOf(f, site, {})).toThrow(/a picture shows planes/);
    },
  );
  it.each(named)("%s: names its stations, and takes the blocks that count", (_, site) => {
    const stations = kindOf(site).stations?.(site);
    expect(stationColumn(site)).toBe(stations?.axis);
    if (stations) {
      const r = reduceSite(f, site, { m: { mean: "T" } });
      expect(r.axis).toBe(stations.axis);
      expect(column(r, stations.axis)).toEqual([...stations.at]);
    }
    expect(blocksOfSite(f, site).field.blocks).toEqual(f.blocks);
    if (!kindOf(site).numbered) expect(() => blocksOfSite(f, { ...site, block: "nowhere" })).toThrow(/nowhere/);
  });
});

describe("an iso-surface", () => {
  const at = (value: Extract<Site, { kind: "iso" }>["value"]): number =>
    column(reduceSite(f, { kind: "iso", field: "T", value }, { A: { size: true } }), "A")[0]!;
  it("is the same for a value in any unit", () => {
    expect(at({ value: 10, unit: "degC" })).toBeCloseTo(at(283.15), 10);
    expect(at({ value: 50, unit: "degF" })).toBeCloseTo(at(283.15), 10);
    expect(at({ value: 283.15, unit: null })).toBe(at(283.15));
  });
  it("refuses a unit where the field has none", () => {
    const plain = fieldOf(boxMesh("hexahedron", 2), { T });
    const site: Site = { kind: "iso", field: "T", value: { value: 10, unit: "degC" } };
    expect(() => sampleSite(plain, site, ["T"])).toThrow(/the field's unit is unknown/);
  });
});
