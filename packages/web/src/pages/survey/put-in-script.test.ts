import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { isScript } from "../../testing/is-script";
import { surveyScript, timeCode, variable, type Shown } from "./put-in-script";
import { kindWord, newSite, type SiteKind } from "./sites";

const HALL = [0, 24, 0, 12, 0, 6];
const shown = (kind: SiteKind, more: Partial<Shown> = {}): Shown => ({
  study: "coldstore-doors",
  file: "fields/hall",
  site: newSite(kind, "rake", HALL, ["wall"]),
  time: "",
  quantity: "temperature",
  cloud: false,
  ...more,
});
describe("lines of a survey", () => {
  it("sample a line at a time and draw it", () => {
    expect(surveyScript(shown("line", { time: timeCode(900, "time") }))).toBe(
      `import { study, at, chart, emit } from "oxtrum";

// rake in fields/hall, as surveyed.
const rake = at.line([12, 6, 0.06], [12, 6, 5.94], { count: 100 });
const rakeValues = study("coldstore-doors").runs.map((run) => run.field("fields/hall").at({ time: 900 }).sample(rake, ["temperature"]));
emit.table("rake", rakeValues);
emit.chart("temperature along rake", chart.lines(rakeValues, { x: "distance", y: "temperature" }));
`,
    );
  });

  it("reduce a plane and a patch to numbers", () => {
    for (const kind of ["plane", "patch"] as const) {
      const text = surveyScript(shown(kind));
      expect(text).toContain('mean: { mean: "temperature" }, min: { min: "temperature" }, max: { max: "temperature" }');
      expect(text).toContain('import { study, at, emit } from "oxtrum";');
    }
  });

  it("take the nearest value of a cloud of points", () => {
    expect(surveyScript(shown("points", { cloud: true }))).toContain('["temperature"], { method: "nearest" })');
    expect(surveyScript(shown("points"))).not.toContain("method");
  });

  it("name no time where there is one state only", () => {
    expect([timeCode(undefined, "time"), timeCode(null, "time"), timeCode(0, "iteration")]).toEqual([
      "",
      "",
      ".at({ iteration: 0 })",
    ]);
  });

  it("have a variable whatever the site is called", () => {
    expect([variable("up the aisle"), variable("3rd"), variable("for"), variable("Zone-2"), variable("at")]).toEqual([
      "upTheAisle",
      "site3rd",
      "sitefor",
      "Zone2",
      "siteat",
    ]);
    fc.assert(
      fc.property(
        fc.string({ minLength: 1, unit: "grapheme" }),
        fc.constantFrom(...Object.keys(kindWord)),
        (name, kind) => {
          const site = newSite(kind as SiteKind, name, HALL, [name]);
          expect(isScript(surveyScript(shown("line", { site, file: name, quantity: name, study: name })))).toBe(true);
        },
      ),
    );
  });
});
