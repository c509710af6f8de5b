import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { Interrupted, stopWhen } from "../../tables/interruption.js";
import { openFile, type FormatError } from "../source.js";
import type { TextTableOptions } from "./dialect.js";
import { readLargeTextTable } from "./parallel.js";
import { readTextTable, type Wanted } from "./reader.js";

let folder: string;
beforeAll(() => void (folder = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-large-"))));
afterAll(() => fs.rmSync(folder, { recursive: true, force: true }));

let files = 0;
function written(text: string | Uint8Array): string {
  const file = path.join(folder, `${files++}.csv`);
  fs.writeFileSync(file, text);
  return file;
}

/** What one thread reads, or its error. */
function alone(file: string, names?: Wanted, options: TextTableOptions = {}): unknown {
  const source = openFile(file, "runs/a/hall.csv");
  try {
    return readTextTable(source, names, options);
  } catch (e) {
    return e;
  } finally {
    source.close();
  }
}
function shared(file: string, threads: number, each: number, names?: Wanted, options: TextTableOptions = {}): unknown {
  try {
    const { size } = fs.statSync(file);
    return readLargeTextTable(file, "runs/a/hall.csv", size, names, options, undefined, threads, true, {
      from: 0,
      each,
    });
  } catch (e) {
    return e;
  }
}

/** A line of a table: numbers, gaps, words, notes, what is damaged, a head that comes again. */
const line = fc.oneof(
  {
    weight: 12,
    arbitrary: fc.tuple(fc.integer({ min: 0, max: 99 }), fc.double({ noNaN: true })).map((v) => v.join(",")),
  },
  { weight: 1, arbitrary: fc.constantFrom("", "# a note", "3,", ",4", "t,T", "1,2,3", "5", "6,word", "7,nan", "8,é") },
);

describe("a table that several threads read", () => {
  it("property: is the table that one reads, whatever the threads and their shares", () => {
    const tables = fc.record({
      lines: fc.array(line, { minLength: 1, maxLength: 60 }),
      end: fc.constantFrom("\n", "\r\n"),
      isWhole: fc.boolean(),
      threads: fc.integer({ min: 2, max: 3 }),
      each: fc.integer({ min: 5, max: 300 }),
    });
    fc.assert(
      fc.property(tables, ({ lines, end, isWhole, threads, each }) => {
        const file = written(["t,T", "0,1", "1,2", ...lines].join(end) + (isWhole ? end : ""));
        expect(shared(file, threads, each)).toEqual(alone(file));
      }),
      { numRuns: 25 },
    );
  });
  it("has the columns that are asked for, and the axis", () => {
    const file = written(`t,a,b\n${Array.from({ length: 200 }, (_, i) => `${i},${2 * i},${-i}`).join("\n")}\n`);
    expect(shared(file, 3, 100, ["b"])).toEqual(alone(file, ["b"]));
    expect((shared(file, 2, 100, ["b"]) as { table: { columns: unknown[] } }).table.columns).toHaveLength(2);
    expect(shared(file, 2, 100, ["c"])).toEqual(alone(file, ["c"]));
  });
  it("has its restarts, passes and damaged rows over the ends of the shares", () => {
    const rows = (from: number, to: number): string =>
      Array.from({ length: to - from }, (_, i) => `${from + i},${(from + i) ** 2}`).join("\n");
    const file = written(`t,T\n${rows(0, 90)}\nt,T\n${rows(70, 150)}\n150,12,9\n${rows(151, 160)}\n16`);
    for (const each of [7, 64, 1000]) expect(shared(file, 2, each)).toEqual(alone(file));
    const { conditions } = (shared(file, 2, 64) as { table: { conditions: { kind: string }[] } }).table;
    expect(conditions.map((c) => c.kind)).toContain("restart");
  });
  it("property: is read up to the length that is asked for, whatever is written behind it meanwhile", () => {
    const text = `t,T\n${Array.from({ length: 80 }, (_, i) => `${i},${i / 3}`).join("\n")}\n`;
    const file = written(text);
    fc.assert(
      fc.property(fc.integer({ min: 30, max: text.length }), (size) => {
        const cut = written(text.slice(0, size));
        const of = (name: string): unknown =>
          readLargeTextTable(name, "hall.csv", size, undefined, {}, undefined, 2, true, { from: 0, each: 100 });
        expect(of(file)).toEqual(of(cut));
      }),
      { numRuns: 10 },
    );
  });
  it("tells what is wrong in the words of one thread: no table, a line that never ends", () => {
    const none = written("nothing to read here\nat all\n");
    expect(shared(none, 2, 10)).toEqual(alone(none));
    const rows = Array.from({ length: 30 }, (_, i) => `${i},${i}`).join("\n");
    const long = written(
      Buffer.concat([Buffer.from(`t,T\n${rows}\n`), Buffer.alloc(90e6, 120), Buffer.from("\n1,2\n")]),
    );
    const error = shared(long, 2, 50_000_000);
    expect(error).toEqual(alone(long));
    expect(error).toMatchObject({
      file: "runs/a/hall.csv",
      message: "a line is longer than 64 MiB",
      hint: "This does not look like a text table.",
    });
    expect((error as FormatError).place.offset).toBe((alone(long) as FormatError).place.offset);
  });
  it("stops when it is asked to, with threads under way", () => {
    const file = written(`t,T\n${Array.from({ length: 3000 }, (_, i) => `${i},${i}`).join("\n")}\n`);
    let asked = 0;
    stopWhen(() => ++asked > 3);
    try {
      expect(shared(file, 2, 200)).toBeInstanceOf(Interrupted);
    } finally {
      stopWhen(undefined);
    }
    expect(shared(file, 2, 200)).toEqual(alone(file));
  });
});
