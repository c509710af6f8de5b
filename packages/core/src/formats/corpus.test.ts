import fs from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { describe, expect, it } from "@jest/globals";
import { compilePattern } from "./lines/pattern.js";
import { readLines, type LineOptions } from "./lines/read-lines.js";
import { bufferSource } from "./source.js";
import { readTextTable } from "./text-table/reader.js";
import type { Table } from "../tables/table.js";

/**
 * Odd files of many programs, each with what is to be read from it beside it. Whoever changes what a file gives has to
 * change its JSON, where a reader sees whether that is right; `UPDATE_CORPUS=1` writes them anew.
 */
const corpus = fileURLToPath(new URL("../../src/formats/corpus/", import.meta.url));

/** Numbers that JSON has no word for stand as words. */
const plain = (v: number | string): number | string =>
  typeof v === "string" || Number.isFinite(v) ? v : Number.isNaN(v) ? "missing" : v > 0 ? "infinite" : "-infinite";

const told = (t: Table): unknown => ({
  axis: t.axis ?? null,
  columns: t.columns.map((c) => ({
    name: c.name,
    ...(c.kind === "number" ? { unit: c.unit } : { words: true }),
    values: Array.from<number | string>(c.values).map(plain),
  })),
  ...(t.notes.length > 0 && { notes: t.notes }),
  ...(t.conditions && t.conditions.length > 0 && { conditions: t.conditions.map((c) => `${c.kind}: ${c.text}`) }),
});

function outcome(read: () => Table): unknown {
  try {
    return told(read());
  } catch (e) {
    const { message, hint } = e as Error & { hint?: string };
    return { error: message, ...(hint !== undefined && { hint }) };
  }
}

/** Holds what a file gives against the JSON beside it. */
function held(file: string, read: () => Table): void {
  const found = JSON.parse(JSON.stringify(outcome(read))) as unknown;
  const beside = `${file}.json`;
  if (process.env["UPDATE_CORPUS"] === "1") fs.writeFileSync(beside, `${JSON.stringify(found, null, 1)}\n`);
  expect(found).toEqual(JSON.parse(fs.readFileSync(beside, "utf8")));
}

const files = (folder: string, fits: RegExp): string[] =>
  fs
    .readdirSync(path.join(corpus, folder))
    .filter((f) => fits.test(f))
    .sort();

describe("tables of the corpus", () => {
  it.each(files("tables", /(?<!\.json)$/))("%s", (name) => {
    const file = path.join(corpus, "tables", name);
    held(file, () => readTextTable(bufferSource(name, fs.readFileSync(file))).table);
  });
});

describe("logs of the corpus", () => {
  it.each(files("logs", /\.log$/))("%s", (name) => {
    const file = path.join(corpus, "logs", name);
    const { patterns, options } = JSON.parse(fs.readFileSync(file.replace(/\.log$/, ".patterns.json"), "utf8")) as {
      patterns: string[];
      options?: LineOptions;
    };
    held(file, () => readLines(bufferSource(name, fs.readFileSync(file)), patterns.map(compilePattern), options));
  });
});
