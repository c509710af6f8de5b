import { describe, expect, it } from "@jest/globals";
import type { Diagnostic, Live } from "@oxtrum/contract";
import { marginItems } from "./margin-items";

const wrong = (line: number, message: string, file = "a.ts"): Diagnostic => ({
  file,
  line,
  column: 1,
  endLine: line,
  endColumn: 2,
  severity: "error",
  message,
  fixes: [],
});
const tried = (diagnostics: Diagnostic[], outputs: { name: string; line: number; file: string }[] = []): Live =>
  ({ diagnostics, outputs }) as unknown as Live;
const keys = (items: ReturnType<typeof marginItems>): string[] => items.map((i) => `${i.key} ${i.line}`);

describe("the margin of a script", () => {
  it("has the outputs of its own lines, whatever text was tried", () => {
    const live = tried(
      [],
      [
        { name: "peaks", line: 4, file: "a.ts" },
        { name: "other", line: 4, file: "part.ts" },
      ],
    );
    expect(keys(marginItems("a.ts", live, [], "another text"))).toEqual(["o-peaks 4"]);
  });
  it("tells once what checking found and trying too, and what only trying found", () => {
    const found = [wrong(2, "no such column"), wrong(3, "elsewhere", "part.ts")];
    const live = tried([wrong(2, "no such column"), wrong(7, "refused"), wrong(8, "elsewhere", "part.ts")]);
    expect(keys(marginItems("a.ts", live, found, "this text"))).toEqual(["d-0-2 2", "d-1-7 7"]);
  });
  it("says nothing of mistakes of a text that is not this one, or of none", () => {
    const live = tried([wrong(7, "refused")]);
    expect(marginItems("a.ts", live, [], "another text")).toEqual([]);
    expect(marginItems("a.ts", undefined, [], undefined)).toEqual([]);
  });
  it("marks thirty places at most", () => {
    const found = Array.from({ length: 200 }, (_, k) => wrong(k + 1, "wrong"));
    expect(marginItems("a.ts", undefined, found, undefined)).toHaveLength(30);
  });
});
