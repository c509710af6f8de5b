import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it, jest } from "@jest/globals";
import { memoryGrid } from "@oxtrum/core/formats";
import { Block, forgetGeometry } from "@oxtrum/core/sampling";
import { readDefinition } from "../definition/definition.js";
import { smallFieldStudy } from "../testing/small-field.js";
import type { SmallStudy } from "../testing/index.js";
import { Budget } from "./budget.js";
import { HeldSteps } from "./held-steps.js";
import { FileReader } from "./read-files.js";

/** A step of one triangle at `x`; its values and mesh count, and how often its files were closed. */
function stepAt(x: number) {
  const grid = memoryGrid(
    "",
    Float64Array.of(x, 0, 0, x + 1, 0, 0, x, 1, 0),
    { types: Uint8Array.of(5), offsets: Int32Array.of(0, 3), nodes: Int32Array.of(0, 1, 2) },
    [{ name: "T", on: "point", components: 1, type: "float64", values: Float64Array.of(1, 2, 3) }],
  );
  const step = { blocks: [new Block(grid, "f")], closed: 0, close: () => void step.closed++ };
  return step;
}

describe("held steps", () => {
  it("are opened once, closed after each use, and the least lately used goes first", () => {
    const held = new HeldSteps<ReturnType<typeof stepAt>>(25_000);
    const opened: string[] = [];
    const ask = (key: string): number =>
      held.with(
        key,
        () => (opened.push(key), stepAt(0)),
        (s) => s.closed,
      );
    expect([ask("a"), ask("a"), ask("b"), ask("a")]).toEqual([0, 1, 0, 2]);
    expect(opened).toEqual(["a", "b"]);
    ask("c");
    // Two heads fit: b, used longest ago, had to go.
    expect([ask("a"), opened.length]).toEqual([3, 3]);
    ask("b");
    expect(opened).toEqual(["a", "b", "c", "b"]);
  });

  it("count their values, and a mesh that several share once", () => {
    const held = new HeldSteps<ReturnType<typeof stepAt>>();
    const use = (key: string, x: number): void =>
      held.with(
        key,
        () => stepAt(x),
        ({ blocks: [b] }) => {
          b!.values("point", "T");
          expect(b!.mesh.pointCount).toBe(3);
        },
      );
    const mesh = 9 * 8 + 3 * 4 + 2 * 4 + 1;
    use("a", 0);
    expect(held.bytes).toBe(10_000 + 24 + mesh);
    use("b", 0);
    expect(held.bytes).toBe(2 * (10_000 + 24) + mesh);
    use("c", 7);
    expect(held.bytes).toBe(3 * (10_000 + 24) + 2 * mesh);
    use("a", 0);
    expect(held.bytes).toBe(3 * (10_000 + 24) + 2 * mesh);
  });

  it("what failed is opened anew", () => {
    const held = new HeldSteps<ReturnType<typeof stepAt>>();
    const made = [stepAt(0), stepAt(0)];
    let n = 0;
    const ask = (work: () => number): number => held.with("a", () => made[n++]!, work);
    expect(() =>
      ask(() => {
        throw new Error("cut off");
      }),
    ).toThrow("cut off");
    expect([made[0]!.closed, held.bytes]).toEqual([1, 0]);
    expect([ask(() => 5), n]).toEqual([5, 2]);
  });
});

describe("a batch", () => {
  let s: SmallStudy;
  beforeEach(() => void (s = smallFieldStudy()));
  afterEach(() => {
    jest.restoreAllMocks();
    s.remove();
  });

  const reader = (): FileReader =>
    new FileReader(
      new Map([
        [
          "small",
          {
            name: "small",
            folder: s.folder,
            definition: readDefinition(s.folder).definition,
            runs: [{ id: "f050_d1", folder: "runs/f050_d1" }],
          },
        ],
      ]),
      new Map(),
      Budget.create(1e9),
    );
  const line = { kind: "line", from: [0, 0.5, 0.5], to: [2, 0.5, 0.5], count: 3 };
  const whole = { T: { mean: "T" } };
  const asks = [
    ["field.history", { site: line, reductions: whole }],
    ["field.history", { site: { kind: "plane", point: [1, 0, 0], normal: [1, 0, 0] }, reductions: whole }],
    ["field.sample", { when: "last", site: line, fields: ["T"] }],
    [
      "field.reduce",
      { when: "last", site: { kind: "plane", point: [0, 0.5, 0], normal: [0, 1, 0] }, reductions: whole },
    ],
  ] as const;

  /** The bytes that are read for some operations together. */
  function bytesFor(list: readonly (readonly [string, object])[]): number {
    // Of earlier ones nothing is known.
    forgetGeometry();
    const read = jest.spyOn(fs, "readSync");
    const from = reader();
    const plans = list.map(([op, args]) => from.plan(op, { study: "small", run: 0, file: "fields/f", ...args }));
    for (const p of plans) expect(p.read().rows).toBeGreaterThan(0);
    const bytes = read.mock.results.reduce((n, r) => n + Number(r.value), 0);
    read.mockRestore();
    return bytes;
  }

  it("reads what several operations need of a field once", () => {
    const alone = asks.map((a) => bytesFor([a]));
    // The collection that names the steps is read by each.
    const collection = fs.statSync(path.join(s.folder, "runs/f050_d1/fields/f.pvd")).size;
    expect(bytesFor([asks[0], asks[0]])).toBeLessThan(alone[0]! + 3 * collection);
    expect(bytesFor(asks)).toBeLessThan(Math.max(...alone) + 8 * collection);
    expect(bytesFor(asks)).toBeLessThan(0.6 * alone.reduce((n, b) => n + b, 0));
  });

  it("gives the same tables as each operation alone", () => {
    const plan = (from: FileReader, [op, args]: (typeof asks)[number]) =>
      from.plan(op, { study: "small", run: 0, file: "fields/f", ...args });
    const together = reader();
    const plans = asks.map((a) => plan(together, a));
    expect(plans.map((p) => p.read())).toEqual(asks.map((a) => plan(reader(), a).read()));
    expect(plans.map((p) => p.keyArgs)).toEqual(asks.map((a) => plan(reader(), a).keyArgs));
  });

  it("does not take what it holds for a file that has changed", () => {
    const file = path.join(s.folder, "runs/f050_d1/fields/f20.vtu");
    const plan = reader().plan("field.sample", {
      study: "small",
      run: 0,
      file: "fields/f",
      when: "last",
      site: line,
      fields: ["T"],
    });
    const text = fs.readFileSync(file, "utf8");
    // As many bytes, another value, written into the same file.
    fs.writeFileSync(file, text.replace(/(Name="T \[K\]" format="ascii">)1/, "$12"));
    fs.utimesSync(file, new Date(), new Date(Date.now() + 5000));
    expect(() => plan.read()).toThrow("changed while it was being read");
  });
});
