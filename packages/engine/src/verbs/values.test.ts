import { describe, expect, it } from "@jest/globals";
import { faultOf, isRefused, mergeExcluded, reasonText } from "./values.js";

describe("a reason as people read it", () => {
  it.each([
    [{ reason: "it is empty", file: "a.csv", hint: "Run again." }, "it is empty (a.csv). Run again."],
    [{ reason: "a.csv is empty", file: "a.csv" }, "a.csv is empty"],
    [{ reason: "a.csv is odd", file: "a.csv", line: 3 }, "a.csv is odd (a.csv:3)"],
    [{ reason: "cut off", file: "mesh.vtu", offset: 12 }, "cut off (mesh.vtu at byte 12)"],
    [{ reason: "no rows" }, "no rows"],
    [{ reason: "a line", line: 0, file: "a" }, "a line (a:0)"],
  ])("%j", (fault, text) => expect(reasonText(fault)).toBe(text));
  it("keeps of a fault its place and cure alone", () => {
    const all = { file: "a", line: 0, offset: 0, hint: "", reason: "x", run: "r" };
    expect(faultOf(all)).toEqual({ file: "a", line: 0, offset: 0, hint: "" });
    expect(Object.keys(faultOf({}))).toEqual([]);
  });
});

describe("runs that several values lack", () => {
  it("are told once, with the first reason, by their names", () => {
    const merged = mergeExcluded(
      [
        { run: "b", reason: "first" },
        { run: "a", reason: "x" },
      ],
      undefined,
      [
        { run: "b", reason: "second" },
        { run: "B", reason: "y" },
      ],
    );
    expect(merged.map((l) => `${l.run} ${l.reason}`)).toEqual(["B y", "a x", "b first"]);
  });
  it("are refused by a rule, or lacking for another reason", () => {
    const refused = (reason: string): boolean => isRefused({ run: "a", reason });
    expect(["not accepted: T", "not finished: failed, log"].map(refused)).toEqual([true, true]);
    expect(["not finished: running", "was not accepted: T", ""].map(refused)).toEqual([false, false, false]);
  });
});
