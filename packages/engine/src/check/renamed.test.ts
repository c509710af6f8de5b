import { describe, expect, it } from "@jest/globals";
import { newNames } from "./renamed.js";

describe("names of earlier versions", () => {
  it("lead to those of now that are there, and to nothing else", () => {
    expect(newNames("move", ["shiftAxis", "pick"])).toEqual(["shiftAxis"]);
    expect(newNames("T.low", ["T", "T.lower"])).toEqual(["T.lower"]);
    expect(newNames("gradT.z", ["T.gradient.z"])).toEqual(["T.gradient.z"]);
    expect(newNames("share", ["fraction", "count"])).toEqual(["fraction"]);
    expect(newNames("move", ["pick"])).toEqual([]);
    expect(newNames("constructor", ["constructor"])).toEqual([]);
  });
});
