import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { compilePattern } from "../lines/pattern.js";
import { readLines } from "../lines/read-lines.js";
import { bufferSource, FormatError } from "../source.js";
import { readTextTable } from "../text-table/reader.js";
import { GrowingLines, GrowingTable } from "./index.js";
import type { Table } from "../../tables/table.js";

let folder: string;
beforeEach(() => void (folder = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-growing-"))));
afterEach(() => fs.rmSync(folder, { recursive: true, force: true }));

/** What a reader gives, or why it does not. */
const given = (read: () => Table): unknown => {
  try {
    return read();
  } catch (e) {
    if (e instanceof FormatError) return `error: ${e.message}`;
    throw e;
  }
};
/** The whole lines of a file; a file without a line end is taken as it stands. */
const whole = (file: string): Buffer => {
  const bytes = fs.readFileSync(file);
  return bytes.subarray(0, bytes.lastIndexOf(10) + 1);
};

/** The same of a log: a carriage return alone ends a line too; at the very end it may be half of a line end. */
const wholeLog = (file: string): Buffer => {
  const bytes = fs.readFileSync(file);
  return bytes.subarray(0, Math.max(bytes.lastIndexOf(10), bytes.length > 1 ? bytes.lastIndexOf(13, -2) : -1) + 1);
};

type Step =
  | { do: "append"; text: string }
  | { do: "cut"; to: number }
  | { do: "replace"; text: string }
  | { do: "delete" };

const line = fc.oneof(
  {
    weight: 12,
    arbitrary: fc
      .tuple(fc.integer({ min: 0, max: 400 }), fc.double({ noNaN: true, min: -1e6, max: 1e6 }))
      .map(([t, v]) => `${t},${v}\n`),
  },
  fc.constantFrom(
    "time [s],T [K]\n",
    "\n",
    "# restart\n",
    "}\n",
    "1,2,3\n",
    "5,*****\n",
    "solution diverged\n",
    "7\r\n",
    "8,nan\n",
  ),
);
/** Texts that are cut into pieces at any byte, also within lines and characters. */
const appended = fc.array(line, { maxLength: 12 }).map((l) => l.join(""));
const steps = fc.array(
  fc.oneof(
    {
      weight: 8,
      arbitrary: fc
        .tuple(appended, fc.integer({ min: 0, max: 30 }))
        .map(([text, cut]): Step => ({ do: "append", text: text.slice(0, text.length - cut) })),
    },
    fc.integer({ min: 0, max: 100 }).map((to): Step => ({ do: "cut", to })),
    appended.map((text): Step => ({ do: "replace", text: `time [s],T [K]\n${text}` })),
    fc.constant<Step>({ do: "delete" }),
  ),
  { maxLength: 12 },
);

/** Carries out a step; times of files differ by it, as they do on a disk with time stamps. */
let clock = 1e9;
function carry(file: string, s: Step): void {
  if (s.do === "append") fs.appendFileSync(file, s.text);
  else if (s.do === "cut") {
    if (fs.existsSync(file)) fs.truncateSync(file, Math.floor((fs.statSync(file).size * s.to) / 100));
  } else if (s.do === "replace") fs.writeFileSync(file, s.text);
  else fs.rmSync(file, { force: true });
  if (fs.existsSync(file)) fs.utimesSync(file, ++clock, clock);
}

describe("a table that grows", () => {
  const check = (start: string, all: readonly Step[]): void => {
    const file = path.join(folder, "t.csv");
    fs.writeFileSync(file, start);
    const table = new GrowingTable(file, "t.csv");
    table.update();
    for (const s of all) {
      carry(file, s);
      table.update();
      if (!fs.existsSync(file)) {
        expect(given(() => table.table)).toEqual("error: there is no such file");
        continue;
      }
      const bytes = whole(file);
      if (bytes.length === 0) continue;
      const direct = given(() => readTextTable(bufferSource("t.csv", bytes)).table);
      expect(given(() => table.table)).toEqual(direct);
    }
  };
  it("is at every step what reading its whole lines gives, while small", () => {
    fc.assert(fc.property(steps, (all) => check("time [s],T [K]\n0,1\n1,2\n", all)));
  });
  it("with some rows, where rows of the same kind are appended without a look at its layout", () => {
    for (const [head, join] of [
      ["time [s],T [K]", ","],
      ["# time T", " "],
      ["time;T", ";"],
      ["time\tT", "\t"],
    ] as const) {
      const start = `${head}\n${Array.from({ length: 60 }, (_, i) => `${i}${join}${i * 7}.5`).join("\n")}\n`;
      const joined = (all: readonly Step[]): Step[] =>
        all.map((s) => ("text" in s ? { ...s, text: s.text.replaceAll(",", join) } : s));
      fc.assert(
        fc.property(steps, (all) => check(start, joined(all))),
        { numRuns: 60 },
      );
    }
  });
  it("and beyond the part from which its layout is found out, where only what is new is read", () => {
    const start = `time [s],T [K]\n${Array.from({ length: 9000 }, (_, i) => `${i / 25},${i * 7}`).join("\n")}\n`;
    fc.assert(
      fc.property(steps, (all) => check(start, all)),
      { numRuns: 40 },
    );
    const file = path.join(folder, "big.csv");
    fs.writeFileSync(file, start);
    const table = new GrowingTable(file, "big.csv");
    table.update();
    const before = table.file.bytesRead;
    for (let i = 0; i < 100; i++) {
      fs.appendFileSync(file, `${400 + i},${i}\n${i}`);
      table.update();
      fs.appendFileSync(file, `9999,1\n`);
      table.update();
    }
    expect(table.restarts).toBe(1);
    expect(table.table.rows).toBeGreaterThan(9100);
    // Marks at both ends are compared and kept at each of 200 updates: no more than 7 KiB each.
    expect(table.file.bytesRead - before).toBeLessThan(200 * 7 * 1024);
  });
  it("notices a file that took the place of another one, and one that was changed before its end while it grew", () => {
    const file = path.join(folder, "t.csv");
    const text = (value: number): string =>
      `time [s],T [K]\n${Array.from({ length: 9000 }, (_, i) => `${10000 + i},${i > 3000 && i < 6000 ? value : 1}`).join("\n")}\n`;
    fs.writeFileSync(file, text(1));
    const table = new GrowingTable(file, "t.csv");
    table.update();
    const sum = (): number => (table.table.columns[1] as { values: Float64Array }).values.reduce((a, b) => a + b, 0);
    expect(sum()).toBe(9000);
    fs.writeFileSync(`${file}.new`, `${text(2)}19001,5\n`);
    fs.renameSync(`${file}.new`, file);
    table.update();
    expect(sum()).toBe(9000 + 2999 + 5);
    carry(file, { do: "replace", text: `${text(3)}19001,5\n19002,5\n` });
    table.update();
    expect([sum(), table.restarts]).toEqual([9000 + 2 * 2999 + 10, 3]);
    // What comes behind the new content is an append again.
    fs.appendFileSync(file, "19003,5\n");
    table.update();
    expect([sum(), table.restarts]).toEqual([9000 + 2 * 2999 + 15, 3]);
  });
  it("notices a file that was written again with the same length", () => {
    const file = path.join(folder, "t.csv");
    fs.writeFileSync(file, "time [s],T [K]\n0,1\n1,2\n");
    const table = new GrowingTable(file, "t.csv");
    table.update();
    carry(file, { do: "replace", text: "time [s],T [K]\n0,1\n1,3\n" });
    expect(table.update()).toBe(true);
    expect([...(table.table.columns[1] as { values: Float64Array }).values]).toEqual([1, 3]);
    expect(table.update()).toBe(false);
  });
  it("is read whole where characters take two bytes or lines end by carriage returns alone", () => {
    const wide = path.join(folder, "w.csv");
    fs.writeFileSync(wide, Buffer.from("\ufefftime,T\n0,1\n1,2\n", "utf16le"));
    const cr = path.join(folder, "cr.csv");
    fs.writeFileSync(cr, "time,T\r0,1\r1,2\r");
    for (const [file, more] of [
      [wide, Buffer.from("2,3\n", "utf16le")],
      [cr, Buffer.from("2,3\r")],
    ] as const) {
      const table = new GrowingTable(file, "t");
      table.update();
      expect(table.table.rows).toBe(2);
      fs.appendFileSync(file, more);
      table.update();
      expect(table.table.rows).toBe(3);
    }
  });
});

describe("lines of a log that grows", () => {
  const patterns = (): ReturnType<typeof compilePattern>[] => [
    compilePattern("t {time:s} s"),
    compilePattern("dT {dT} | dU {dU}"),
    compilePattern("wall {wall:s}"),
  ];
  const logLine = fc.oneof(
    fc.integer({ min: 0, max: 999 }).map((t) => `t ${t} s | it 1 | dT ${t}e-3 | dU 1e-4\n`),
    fc.integer({ min: 0, max: 999 }).map((t) => `  dT ${t}e-5 | dU 2e-4 µ\n`),
    fc.constantFrom("wall 12 s\n", "\n", "warning: ×\n", "finished\n", "t x s\n", "wall 3:04 s\r\n"),
  );
  it("is at every step what reading its whole lines gives, whatever happens to several matches", () => {
    const log = fc.array(logLine, { maxLength: 10 }).map((l) => l.join(""));
    const happenings = fc.array(
      fc.oneof(
        {
          weight: 8,
          arbitrary: fc
            .tuple(log, fc.integer({ min: 0, max: 25 }))
            .map(([t, c]): Step => ({ do: "append", text: t.slice(0, t.length - c) })),
        },
        fc.integer({ min: 0, max: 100 }).map((to): Step => ({ do: "cut", to })),
        log.map((text): Step => ({ do: "replace", text })),
      ),
      { maxLength: 10 },
    );
    const options = fc.constantFrom(
      {},
      { several: "first" },
      { several: "all" },
      { several: "rows", carry: ["wall", "dU"] },
      { carry: ["dT"] },
    );
    fc.assert(
      fc.property(happenings, options, (all, o) => {
        const file = path.join(folder, "solver.log");
        fs.writeFileSync(file, "begin\n");
        const lines = new GrowingLines(file, "solver.log", patterns(), o as object);
        lines.update();
        for (const s of all) {
          carry(file, s);
          lines.update();
          expect(given(() => lines.table)).toEqual(
            given(() => readLines(bufferSource("solver.log", wholeLog(file)), patterns(), o as object)),
          );
        }
      }),
    );
  });
});
