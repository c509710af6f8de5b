import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { bufferSource, FormatError } from "../source.js";
import { compilePattern } from "./pattern.js";
import { readLines, type LineOptions } from "./read-lines.js";

const read = (text: string, patterns: string[], options?: LineOptions) => {
  const t = readLines(bufferSource("x.log", Buffer.from(text)), patterns.map(compilePattern), options);
  return {
    values: Object.fromEntries(t.columns.map((c) => [c.name, [...c.values]])),
    conditions: (t.conditions ?? []).map((c) => c.kind),
    texts: (t.conditions ?? []).map((c) => c.text).join("; "),
    notes: t.notes.join("; "),
    axis: t.axis,
  };
};
const found = (pattern: string, line: string): string[] | undefined => compilePattern(pattern).find(line);

describe("lines by pattern", () => {
  it("reads a log", () => {
    const log =
      "Time = 0.5 s\n  residual T 1.5e-06  iterations 4\nwarning\nTime = 1 s\n  residual T 2D-7  iterations 3\nTime = 2 s\n";
    const r = read(log, ["Time = {time:s} s", "residual T {rT} … iterations {n}"]);
    expect(r.values).toEqual({ time: [0.5, 1, 2], rT: [1.5e-6, 2e-7, NaN], n: [4, 3, NaN] });
    expect([r.axis, r.conditions]).toEqual(["time", []]);
    expect(r.notes).toContain('"Time = {time:s} s" 3, "residual T {rT} … iterations {n}" 2; 3 rows');
  });
  it("refuses patterns that name nothing, or a name twice, and files that do not fit", () => {
    expect(() => compilePattern("Time")).toThrow(/names no field/);
    expect(() => compilePattern("{a} {a}")).toThrow(/occurs twice/);
    expect(() => compilePattern("{a:parsnip}")).toThrow(/not a unit/);
    expect(() => read("x\n", ["Time = {t}"])).toThrow(/no line matches/);
    expect(() => read("Time = 1\n", ["Time = {t}"], { carry: ["x"] })).toThrow(/"x" cannot be carried/);
  });
  it("blanks between fields, or between a word and a field, have to be in the text; beside a sign they need not", () => {
    expect(found("{a} {b}", "12")).toBeUndefined();
    expect(found("{a} {b}", "1  2")).toEqual(["1", "2"]);
    expect(found("T {T}", "T273")).toBeUndefined();
    expect(found("Time = {t}", "Time =10.25")).toEqual(["10.25"]);
    expect(found("Time = {t}", "Time=5")).toEqual(["5"]);
  });
  it("numbers are taken whole", () => {
    expect(found("x {x}", "x 1.5-103")).toEqual(["1.5-103"]);
    expect(found("x {x}", "x 1,250.5 K")).toEqual(["1,250.5"]);
    expect(found("at {x}", "at 12:30:05")).toEqual(["12:30:05"]);
    expect(found("{a},{b}", "1.5,2.5")).toEqual(["1.5", "2.5"]);
    expect(found("{a}:{b}", "12:30")).toEqual(["12", "30"]);
    expect(found("{x} K", "5-10 K")).toBeUndefined();
    expect(found("{x}s", "v2.15s")).toEqual(["2.15"]);
    const r = read("T 1.5-103\nT 1,250\nT 12:30\nT nan\n", ["T {T}"]);
    expect(r.values).toEqual({ T: [1.5e-103, NaN, NaN, NaN] });
    expect(r.texts).toMatch(/2 values are not numbers and count as missing .*line 2, "T" is "1,250"/);
  });
});

describe("several matches in one row", () => {
  const log = "inner r 9\nTime = 1\ninner r 0.1\ninner r 0.2\nTime = 2\ninner r 0.3\nTime = 3\n";
  const patterns = ["Time = {time:s}", "inner r {r}", "mass {m}"];
  it("the last is taken with a condition, as are matches before the first row and patterns without a match", () => {
    const r = read(log, patterns);
    expect(r.values).toEqual({ time: [1, 2, 3], r: [0.2, 0.3, NaN], m: [NaN, NaN, NaN] });
    expect(r.conditions).toEqual(["several matches", "several matches", "pattern without match"]);
    expect(r.texts).toMatch(
      /1 line more than there are rows for; the last.*1 line before the first row.*no line matches "mass \{m\}"/,
    );
  });
  it("are chosen: first, last, all, or one row each", () => {
    expect(read(log, patterns, { several: "first" }).values["r"]).toEqual([0.1, 0.3, NaN]);
    expect(read(log, patterns, { several: "last" }).values["r"]).toEqual([0.2, 0.3, NaN]);
    expect(read(log, patterns, { several: "all" }).values).toMatchObject({
      r: [0.1, 0.3, NaN],
      "r#2": [0.2, NaN, NaN],
    });
    expect(read(log, patterns, { several: "rows" }).values).toMatchObject({
      time: [1, 1, 2, 3],
      r: [0.1, 0.2, 0.3, NaN],
    });
  });
  it("a value is carried downward", () => {
    const r = read("step 1\niteration 7\nstep 2\nstep 3\niteration 9\n", ["step {s}", "iteration {i}"], {
      carry: ["i"],
    });
    expect(r.values["i"]).toEqual([7, 7, 9]);
  });
});

describe("counted lines", () => {
  it("are counted in the row under way, the row's own line included, and before the first row told", () => {
    const text =
      "Warning: early\nt 1 | a\nwarning: hot\nWARNING: x warning: y\nt 2 | warning: here\nother\nt 3\nlast Warning: no end";
    const read = (o: LineOptions): ReturnType<typeof readLines> =>
      readLines(bufferSource("a.log", new TextEncoder().encode(text)), [compilePattern("t {t}")], o);
    const t = read({ count: { warnings: "warning:", others: "other" } });
    expect(t.columns.map((c) => [c.name, c.kind === "number" && c.unit, [...c.values]])).toEqual([
      ["t", null, [1, 2, 3]],
      ["warnings", "1", [2, 1, 1]],
      ["others", "1", [0, 1, 0]],
    ]);
    expect(t.notes).toEqual([
      'lines matched per pattern: "t {t}" 3; 3 rows',
      '"warnings" counts the lines with "warning:": 4',
      '"others" counts the lines with "other": 1',
      "1 of the counted lines stand before the first row and are in none",
    ]);
    expect(() => read({ count: { t: "x" } })).toThrow(/"t" is a field of a pattern and a count/);
    expect(() => read({ count: { n: "" } })).toThrow(/empty text/);
  });
});

describe("patterns as regular expressions", () => {
  it("find what the matcher finds, in any line", () => {
    const piece = fc.constantFrom(
      "t",
      "dT",
      "=",
      ":",
      "|",
      " ",
      "  ",
      "{a}",
      "{b:s}",
      "{w:text}",
      "…",
      "...",
      ",",
      ".",
      "it ",
      "(",
      "^$",
      "[x]",
      "-",
      "'",
      "e",
    );
    const pattern = fc
      .array(piece, { minLength: 1, maxLength: 7 })
      .map((p) => p.join(""))
      .filter((p) => p.includes("{"));
    const bit = fc.oneof(
      fc.constantFrom(
        "t",
        "T",
        "dt",
        "=",
        ":",
        "|",
        " ",
        "\t",
        "\u00a0",
        ",",
        ".",
        "it ",
        "(",
        "^$",
        "[x]",
        "-",
        "+",
        "'",
        "e",
        "E",
      ),
      fc.constantFrom(
        "1",
        "12",
        "3.5",
        ".5",
        "1e-3",
        "1.5-103",
        "1,250",
        "12:30:05",
        "nan",
        "-Inf",
        "infinity",
        "****",
        "1.",
        "é",
        "ſ",
        "K",
      ),
      fc.integer().map(String),
      fc.double().map(String),
    );
    const line = fc.array(bit, { maxLength: 14 }).map((l) => l.join(""));
    let found = 0;
    fc.assert(
      fc.property(pattern, fc.array(line, { minLength: 1, maxLength: 6 }), (text, lines) => {
        let p: ReturnType<typeof compilePattern>;
        try {
          p = compilePattern(text);
        } catch (e) {
          if (e instanceof FormatError) return;
          throw e;
        }
        for (const l of lines) {
          const slow = p.findSlowly(l);
          if (slow) found++;
          expect([text, l, p.find(l)]).toEqual([text, l, slow]);
        }
      }),
      { numRuns: 3000 },
    );
    expect(found).toBeGreaterThan(500);
  });
  it("hostile lines take time in proportion", () => {
    const p = compilePattern("a {x} … b {y} … c {z} … d {w}");
    const q = compilePattern("{x} … {y} … z");
    const line = "a 1 b 1 c 1 ".repeat(300);
    for (let k = 0; k < 20; k++) expect([p.find(line), q.find(line.slice(0, 249))]).toEqual([undefined, undefined]);
  });
});

describe("increments of clocks that go on rising", () => {
  const log =
    "t 0 s | wall 2.5 s\nt 1 s | wall 4 s\nt 2 s | no clock\nt 3 s | wall 9 s\nt 4 s | wall 1 s\nt 5 s | wall 1.5 s\n";
  const read = (o: LineOptions, patterns = ["t {t:s} s |", "| wall {wall:s} s"]): ReturnType<typeof readLines> =>
    readLines(bufferSource("a.log", new TextEncoder().encode(log)), patterns.map(compilePattern), o);

  it("are what each row adds; the first is not known, and a clock that begins anew counts from zero", () => {
    const t = read({ increments: ["wall"] });
    const c = t.columns.find((x) => x.name === "wall.increment")!;
    expect([c.kind === "number" && c.unit, ...c.values]).toEqual(["s", NaN, 1.5, NaN, 5, 1, 0.5]);
    expect(t.notes!.at(-1)).toBe('"wall.increment" is what "wall" adds from row to row; "wall" begins anew 1 time');
  });
  it("add up to the clock itself, whatever it counts", () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 1000 }), { minLength: 1, maxLength: 30 }), (steps) => {
        let now = 0;
        const text = steps.map((s, k) => `t ${k} s | wall ${(now += s)} s\n`).join("");
        const t = readLines(
          bufferSource("a.log", new TextEncoder().encode(text)),
          [compilePattern("t {t:s} s | wall {wall:s} s")],
          {
            increments: ["wall"],
          },
        );
        const c = t.columns.find((x) => x.name === "wall.increment")!;
        expect([...c.values].slice(1)).toEqual(steps.slice(1));
      }),
    );
  });
  it("of what is not a number of a pattern are refused", () => {
    expect(() => read({ increments: ["cpu"] })).toThrow(/"cpu" has no increments: it is not a number of a pattern/);
    expect(() => read({ increments: ["w"] }, ["t {t:s} s |", "| wall {w:text}"])).toThrow(/not a number/);
  });
});
