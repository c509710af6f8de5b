import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { namingSchema } from "../sandbox/naming-schema.js";
import { FileNames, plainNames } from "./naming.js";
import { safeName } from "./safe-name.js";

const params = { fan: 75, open: "120 s", share: -0.125, many: 1_234_567 };
const names = (rule: object): FileNames =>
  new FileNames(namingSchema.parse(rule), ["hall", "sump"], (run) => (run === "r/1" ? params : undefined));

describe("names of files", () => {
  it("without a rule are those of outputs, runs and frames", () => {
    expect(plainNames.path("air: mean")).toBe("air-mean");
    expect(plainNames.path("air", { run: "f050 d1" })).toBe("air-f050-d1");
    expect(plainNames.path("air", { frame: 7 })).toBe("air-0007");
  });
  it.each([
    [{ file: "{study}_{output}" }, {}, "hall-sump_air"],
    [{ each: "{output}_{fan}_{open}" }, { run: "r/1" }, "air_75_120-s"],
    [{ each: "{share}-{many}" }, { run: "r/1" }, "0.125-1234567"],
    [{ each: "{output} at {time}" }, { frame: 3, title: "12.5 s" }, "air-at-12.5-s"],
    [{ folders: "output" }, { run: "r/1" }, "air/air-r-1"],
    [{ folders: "run" }, { run: "r/1" }, "r-1/air-r-1"],
    [{ folders: "run" }, {}, "air"],
  ])("by the rule %j of %j", (rule, part, path) => {
    expect(names(rule).path("air", part)).toBe(path);
  });
  it("by a rule that names what is not there are refused, with what is", () => {
    expect(() => names({ file: "{run}" }).path("air")).toThrow(
      'file name "{run}": there is no {run} of a file that holds all runs; there is {study}, {output}',
    );
    expect(() => names({ each: "{toString}" }).path("air", { run: "r/1" })).toThrow(
      "there is no {toString} here; there is {study}, {output}, {run}, {fan}, {open}, {share}, {many}",
    );
  });
  it("property: lie in their folder, whatever outputs and runs are called", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary" }), fc.string({ unit: "binary" }), (output, run) => {
        for (const folders of ["flat", "output", "run"]) {
          const parts = names({ folders }).path(output, { run }).split("/");
          expect(parts).toHaveLength(folders === "flat" ? 1 : 2);
          for (const p of parts) {
            expect(p).toMatch(/^[^-.\p{C}/\\:*?"<>|][^\p{C}/\\:*?"<>|]*$/u);
            expect(Buffer.byteLength(p)).toBeLessThanOrEqual(140);
          }
        }
      }),
    );
  });
  it("property: a name that is safe already is kept; long ones that differ at their ends differ", () => {
    fc.assert(
      fc.property(fc.stringMatching(/^[a-z0-9][a-z0-9._-]{0,80}[a-z0-9]$/), (name) => {
        fc.pre(!/^(?:con|prn|aux|nul|com\d|lpt\d|manifest|where|outputs|index)$/.test(name));
        expect(safeName(name)).toBe(name);
        const long = name.padEnd(200, "x");
        expect(safeName(`${long}1`)).not.toBe(safeName(`${long}2`));
        expect(safeName(safeName(long))).toBe(safeName(long));
      }),
    );
  });
  it.each(["con", "NUL", "manifest", "Index", "where", "...", "", "😀"])(
    "%j is not a name that others have",
    (name) => {
      expect(safeName(name)).toMatch(/(?:-output|^output)$/);
    },
  );
});
