import { describe, expect, it } from "@jest/globals";
import { shortNames } from "./short-names.js";

describe("short names", () => {
  it("leave out what all have in common, at the ends of words", () => {
    expect([
      ...shortNames(["brine-loop-valve_v00_p1-inlet-temp", "brine-loop-valve_v01_p2-inlet-temp"]).values(),
    ]).toEqual(["…v00_p1…", "…v01_p2…"]);
    expect([...shortNames(["050_040_none", "050_080_none"]).values()]).toEqual(["050_040_none", "050_080_none"]);
    expect([...shortNames(["study/abcdefgh1", "study/abcdefgh2"]).values()]).toEqual([
      "study/abcdefgh1",
      "study/abcdefgh2",
    ]);
  });
  it("stay whole for one name, none, and names that contain each other", () => {
    expect([...shortNames(["a-very-long-name-indeed"]).values()]).toEqual(["a-very-long-name-indeed"]);
    expect(shortNames([]).size).toBe(0);
    const inner = shortNames(["hall-with-door-a", "hall-with-door-a-b"]);
    expect(inner.get("hall-with-door-a")).toBe("…a");
    expect(inner.get("hall-with-door-a-b")).toBe("…a-b");
    expect(new Set(shortNames(["x-y-z-1-x-y-z-1", "x-y-z-1"]).values()).size).toBe(2);
  });
});
