import { describe, expect, it } from "@jest/globals";
import { parameterValues, selectRuns } from "./selector.js";
import type { Catalogue } from "../definition/catalogue-model.js";

const study = (runs: Record<string, Record<string, number | string | null>>) =>
  ({
    runs: Object.entries(runs).map(([id, params]) => ({ id, folder: id, params, files: {} })),
    parameters: [...new Set(Object.values(runs).flatMap(Object.keys))].map((name) => ({
      name,
      unit: null,
      type: "number",
    })),
  }) as unknown as Pick<Catalogue, "runs" | "parameters">;

describe("which runs a selector means", () => {
  const named = study({ "fan=50": { speed: 50 }, "fan=75": { speed: 75 }, "fan=75,open": { speed: 75 } });
  it("ids and patterns with an equals sign are ids, parameters are parameters", () => {
    expect([...selectRuns(named, "fan=50")]).toEqual(["fan=50"]);
    expect([...selectRuns(named, "fan=7*")]).toEqual(["fan=75", "fan=75,open"]);
    expect([...selectRuns(named, "fan=*,speed=50")]).toEqual(["fan=50"]);
    expect(() => selectRuns(named, "fan=60")).toThrow(/no parameter "fan"/);
  });
  it("amounts may have units, and an id may be called one", () => {
    const timed = study({ a: { open: 20 }, b: { open: 8.2 } });
    (timed.parameters[0] as { unit: string }).unit = "min";
    expect([...selectRuns(timed, "open=1200 s")]).toEqual(["a"]);
    expect([...selectRuns(timed, "open=492 s")]).toEqual(["b"]);
    expect([...selectRuns(timed, "id=b")]).toEqual(["b"]);
    expect(() => selectRuns(timed, "opn=1")).toThrow(
      /no parameter "opn"; there is "open", and ids stand by themselves/,
    );
  });
  it("says what there is when nothing fits", () => {
    expect(() => selectRuns(named, "speed=60")).toThrow(/no run fits "speed=60"; "speed" is 50, 75$/);
    expect(() => selectRuns(named, "speed=50,x*")).toThrow(/"speed" is 50, 75; runs are fan=50, fan=75/);
    const many = study(Object.fromEntries(Array.from({ length: 30 }, (_, k) => [`r${k}`, { n: 30 - k }])));
    expect(() => selectRuns(many, "n=0")).toThrow(/"n" is 1, 2, 3, .*, 12, … \(30\)$/);
  });
  it("values are told once, in order, without blanks", () => {
    expect(parameterValues(study({ a: { p: 10 }, b: { p: 9 }, c: { p: 10 }, d: { p: null } }).runs, "p")).toEqual([
      9, 10,
    ]);
  });
});
