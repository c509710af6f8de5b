import { describe, expect, it } from "@jest/globals";
import { bufferSource } from "../source.js";
import { lineKinds, numbersIn, patternCounts } from "./line-kinds.js";
import { patternFor } from "../../tables/line-pattern.js";
import { compilePattern } from "./pattern.js";

const log = (text: string): ReturnType<typeof bufferSource> => bufferSource("a.log", new TextEncoder().encode(text));

describe("kinds of lines of a log", () => {
  it("are those that differ in their numbers only, with names and units found in the line", () => {
    const text = Array.from({ length: 5 }, (_, k) => `t ${30 * k} s | it 6 | dT ${k}.5e-6 | max(U): ${k} m/s`).join(
      "\n",
    );
    const { kinds } = lineKinds(log(`solver 4.2\n${text}\nwarning: cell 17 hot\nwords only\n`));
    expect(kinds.map((k) => [k.count, k.numbers.map((n) => [n.name, n.unit])])).toEqual([
      [
        5,
        [
          ["t", "s"],
          ["it", null],
          ["dT", null],
          ["U", "m/s"],
        ],
      ],
      [1, [["solver", null]]],
      [1, [["cell", null]]],
    ]);
    expect(kinds[0]!.text).toBe("t 120 s | it 6 | dT 4.5e-6 | max(U): 4 m/s");
  });
  it("numbers inside words and parts of numbers are none; equal names are told apart", () => {
    expect(numbersIn("run v2 step12 x1=3 4 1.5-2").map((n) => n.name)).toEqual(["x1", "value2", "value3", "value4"]);
    expect(numbersIn("T 1 T 2").map((n) => n.name)).toEqual(["T", "T2"]);
  });
  it("make patterns that find the chosen numbers in every line of the kind", () => {
    const line = "t 30 s | it 6 | dT 2.850e-6 | dU 1.1e-5 | wall 14.5 s";
    const all = numbersIn(line);
    const pick = (...names: string[]): string =>
      patternFor(
        line,
        all.filter((n) => names.includes(n.name)),
      );
    expect(pick("t", "dT")).toBe("t {t:s} s | it … | dT {dT} |");
    expect(pick("dU")).toBe("t … s | it … | dT … | dU {dU} |");
    expect(patternFor(line, [])).toBe("");
    const found = compilePattern(pick("t", "dU")).find("t 1800 s | it 12 | dT 1e-7 | dU -3.25 | wall 1 s");
    expect(found).toEqual(["1800", "-3.25"]);
    expect(patternFor("{a} 5 x", numbersIn("{a} 5 x"))).toBe("a… {value1} x");
  });
  it("of a large log its start and its end are looked at", () => {
    const many = Array.from({ length: 40_000 }, (_, k) => `t ${k} s | dT 1e-3`).join("\n");
    const { kinds, seen } = lineKinds(log(`head 1\n${many}\nfinished in 7 s\n`));
    expect(seen).toBe(512 * 1024);
    expect(kinds.map((k) => k.text)).toEqual(["t 39999 s | dT 1e-3", "head 1", "finished in 7 s"]);
  });
  it("matches and misses are counted", () => {
    const [a, b] = patternCounts(log("t 1 s | dT 2\nt 2 s | dT *****x\n t 3 s | lost\nwarning 4\n"), [
      "t {t:s} s | dT {dT}",
      "warning {w}",
    ]);
    expect([a!.matches, a!.misses, a!.missed.map((m) => m.line)]).toEqual([2, 1, [3]]);
    expect([b!.matches, b!.misses]).toEqual([1, 0]);
  });
});
