import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, expect } from "@jest/globals";
import { jobRequestSchema } from "@oxtrum/engine";
import { runHere } from "@oxtrum/engine/testing";
import { readScript } from "../studies.js";
import { demo, demoData } from "./demo-data.js";

/** Where the example scripts are, the demo data, and a folder for what is written; set before a file's tests. */
export let base: string;
export let data: string;

/** Makes the folders before a file's tests, and takes them away after them. */
export function useExamples(): void {
  beforeAll(() => {
    base = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-examples-"));
    data = demoData();
  });
  afterAll(() => fs.rmSync(base, { recursive: true, force: true }));
}

/** What a run of an example gave. */
export interface Example {
  readonly exit: number;
  readonly errors: readonly string[];
  readonly failed: readonly string[];
  readonly left: ReadonlySet<string>;
  table(name: string): Record<string, string>[];
  value(name: string): number;
  readonly files: readonly string[];
}

/** Runs an example script on the demo data. */
export async function run(script: string): Promise<Example> {
  const { main, files } = readScript(path.join(demo, "scripts", script));
  const out = path.join(base, "out", script);
  const errors: string[] = [];
  const result = await runHere(
    jobRequestSchema.parse({
      files,
      main,
      studies: fs
        .readdirSync(data)
        .filter((name) => Object.values(files).some((t) => t.includes(`study("${name}")`)))
        .map((name) => ({ name, folder: path.join(data, name) })),
      dataFolder: path.join(base, "oxtrum"),
      outFolder: out,
    }),
    (e) => {
      if (e.type === "diagnostics")
        errors.push(...e.diagnostics.filter((d) => d.severity === "error").map((d) => d.message));
    },
  );
  const lines = text(script).filter((l) => l.trim() !== "").length;
  expect(lines).toBeLessThanOrEqual(60);
  return {
    exit: result.exit,
    errors,
    failed: result.outputs.filter((o) => o.failed !== undefined).map((o) => `${o.name}: ${o.failed}`),
    left: new Set(result.summary.left.map((l) => l.run)),
    table: (name) => rows(path.join(out, `${name}.csv`)),
    value: (name) => (JSON.parse(fs.readFileSync(path.join(out, `${name}.json`), "utf8")) as { value: number }).value,
    files: fs.readdirSync(out).sort(),
  };
}

/** An example's lines. */
export const text = (script: string): string[] =>
  fs.readFileSync(path.join(demo, "scripts", script), "utf8").split("\n");

/** A plain CSV file by heads without their units; no file of the demo that is read so has quoted fields. */
export function rows(file: string): Record<string, string>[] {
  const [head, ...body] = fs.readFileSync(file, "utf8").trim().split("\n");
  const names = head!.split(",").map((h) => h.replace(/ \[.*\]$/, ""));
  return body.map((l) => Object.fromEntries(l.split(",").map((c, k) => [names[k]!, c])));
}
/** The air history of a run of the hall. */
export const hall = (run: string): Record<string, string>[] =>
  rows(path.join(data, "coldstore-doors/runs", run, "monitors/hall.csv"));
/** The largest of many numbers. */
export const most = (list: readonly number[]): number => list.reduce((a, b) => Math.max(a, b), -Infinity);
