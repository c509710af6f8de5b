import { describe, expect, it } from "@jest/globals";
import { declaredUnit, fieldAxisUnit, fieldUnits, hasDeclaredUnit, renamed, unitsFor } from "./declared-units.js";
import { definitionSchema, type StudyDefinition } from "./definition.js";

const definition = definitionSchema.parse({
  units: {
    "monitors/*.csv": { "T*": "degC", p: "kPa" },
    "monitors/wall.csv": { p: "Pa" },
    fields: { time: "ms", T: "K" },
    hall: { T: "degC" },
  },
  runUnits: [{ run: "old_*", file: "monitors/hall.csv", units: { p: "bar" } }],
}) as unknown as StudyDefinition;

describe("units that a definition declares", () => {
  it("are those of the patterns that fit a file, the later ones and those of single runs before the others", () => {
    expect(unitsFor(definition, "a", "monitors/hall.csv")).toEqual({ "T*": "degC", p: "kPa" });
    expect(unitsFor(definition, "a", "monitors/wall.csv")).toEqual({ "T*": "degC", p: "Pa" });
    expect(unitsFor(definition, "old_3", "monitors/hall.csv")).toEqual({ "T*": "degC", p: "bar" });
    expect(unitsFor(definition, "a", "other.csv")).toEqual({});
  });
  it("stand before the file's own, by the name in scripts or in the file", () => {
    const units = { "T*": "degC", flow: "kg/s", odd: "no unit at all" };
    expect(declaredUnit("T_mean", "K", units)).toBe("degC");
    expect(declaredUnit("p", "Pa", units)).toBe("Pa");
    expect(declaredUnit("p", null, units)).toBeNull();
    expect(declaredUnit("m_dot", null, units, "flow")).toBe("kg/s");
    expect(declaredUnit("odd", "m", units)).toBe("m");
    const names = { m_dot: ["flow", "massflow"] };
    expect([renamed("massflow", names), renamed("p", names)]).toEqual([{ name: "m_dot" }, { name: "p" }]);
    expect(hasDeclaredUnit("flow", names, { m_dot: "kg/s" })).toBe(true);
    expect(hasDeclaredUnit("flow", names, { p: "Pa" })).toBe(false);
  });
  it("of fields are those of all fields, then of its name, then of its file", () => {
    expect(fieldUnits(definition, "a", "fields/hall.pvd")).toMatchObject({ time: "ms" });
    expect(fieldUnits(definition, "a", "hall")).toEqual({ time: "ms", T: "degC" });
  });
  it("of a field's times are its own before those declared, and none of steps", () => {
    const of = (own: { axis: string; axisUnit?: string | null }): string | null =>
      fieldAxisUnit(definition, "a", "hall", own);
    expect([of({ axis: "time" }), of({ axis: "time", axisUnit: "s" }), of({ axis: "step" })]).toEqual([
      "ms",
      "s",
      null,
    ]);
    const none = definitionSchema.parse({}) as unknown as StudyDefinition;
    expect(fieldAxisUnit(none, "a", "hall", { axis: "time", axisUnit: null })).toBeNull();
  });
});
