import { spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, describe, expect, it } from "@jest/globals";
import { jobRequestSchema, runJob } from "@oxtrum/engine";
import { readScript } from "./studies.js";

/**
 * Every example script is run on freshly made demo data, and what it puts out is compared with what a few lines of
 * plain code read from the same files.
 */
const demo = fileURLToPath(new URL("../../../demo", import.meta.url));
let base: string;
let data: string;

beforeAll(() => {
  base = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-examples-"));
  data = path.join(base, "data");
  const made = spawnSync(process.execPath, [path.join(demo, "dist/make.js"), data]);
  if (made.status !== 0) throw new Error(made.stderr.toString());
});
afterAll(() => fs.rmSync(base, { recursive: true, force: true }));

interface Example {
  readonly exit: number;
  readonly errors: readonly string[];
  readonly failed: readonly string[];
  readonly left: ReadonlySet<string>;
  table(name: string): Record<string, string>[];
  value(name: string): number;
  readonly files: readonly string[];
}

async function run(script: string): Promise<Example> {
  const { main, files } = readScript(path.join(demo, "scripts", script));
  const out = path.join(base, "out", script);
  const errors: string[] = [];
  const result = await runJob(
    jobRequestSchema.parse({
      files,
      main,
      studies: fs.readdirSync(data).map((name) => ({ name, folder: path.join(data, name) })),
      dataFolder: path.join(base, "oxtrum"),
      outFolder: out,
      workers: 2,
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

const text = (script: string): string[] => fs.readFileSync(path.join(demo, "scripts", script), "utf8").split("\n");

/** A plain CSV file by heads without their units; no file of the demo that is read so has quoted fields. */
function rows(file: string): Record<string, string>[] {
  const [head, ...body] = fs.readFileSync(file, "utf8").trim().split("\n");
  const names = head!.split(",").map((h) => h.replace(/ \[.*\]$/, ""));
  return body.map((l) => Object.fromEntries(l.split(",").map((c, k) => [names[k]!, c])));
}
const hall = (run: string): Record<string, string>[] =>
  rows(path.join(data, "coldstore-doors/runs", run, "monitors/hall.csv"));
const most = (list: readonly number[]): number => list.reduce((a, b) => Math.max(a, b), -Infinity);

describe("example scripts", () => {
  it("histories over runs: peaks, times and heat", async () => {
    const r = await run("hall-recovery.ts");
    expect([r.errors, r.failed]).toEqual([[], []]);
    // Of all runs two have no whole history; the nine of the door series are all there.
    expect(r.table("peaks")).toHaveLength(9);
    for (const row of r.table("peaks")) {
      const h = hall(row["run"]!);
      const T = h.map((x) => Number(x["T_mean"]) - 273.15);
      expect(Number(row["peak"])).toBeCloseTo(most(T), 9);
      expect(Number(row["at"])).toBe(Number(h[T.indexOf(most(T))]!["time"]));
      const heat = h.slice(1).reduce((sum, x, k) => {
        const before = h[k]!;
        return (
          sum +
          ((Number(x["coil_duty"]) + Number(before["coil_duty"])) / 2) * (Number(x["time"]) - Number(before["time"]))
        );
      }, 0);
      expect(Number(row["heat"]) / heat).toBeCloseTo(1, 12);
      const base = r.table("peaks").find((x) => x["fan"] === "75" && x["open"] === row["open"])!;
      expect(Number(row["peak.diff"])).toBeCloseTo(Number(row["peak"]) - Number(base["peak"]), 10);
    }
    expect(r.value("warmest-of-all")).toBe(most(r.table("peaks").map((x) => Number(x["peak"]))));
    expect(r.files).toEqual(expect.arrayContaining(["hall-air.png", "hall-air.svg", "hall-band.svg", "manifest.json"]));
  });

  it("worker balance: the most loaded against the mean", async () => {
    const r = await run("worker-balance.ts");
    expect([r.errors, r.failed]).toEqual([[], []]);
    const table = r.table("imbalance-by-run");
    expect(table.length).toBeGreaterThanOrEqual(9);
    for (const row of table) {
      const load = rows(path.join(data, "coldstore-doors/runs", row["run"]!, "load/cells_per_worker.csv"));
      const worst = most(
        load.map((x) => {
          const cells = Object.entries(x).flatMap(([k, v]) => (k.startsWith("cells_") ? [Number(v)] : []));
          return most(cells) / (cells.reduce((a, b) => a + b, 0) / cells.length) - 1;
        }),
      );
      expect(Number(row["worst"])).toBeCloseTo(100 * worst, 9);
    }
    const sorted = table.map((x) => Number(x["worst"]));
    expect(sorted).toEqual([...sorted].sort((a, b) => b - a));
  });

  it("anchor loads: resultants, peaks after the preload, bolt size", async () => {
    const r = await run("anchor-bolts.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([0, [], []]);
    const table = r.table("governing-anchors");
    expect(table).toHaveLength(12);
    for (const row of table) {
      const h = rows(path.join(data, "rack-impact", row["run"]!, "history/anchors.csv")).filter(
        (x) => x["step"] === "2",
      );
      const peaks = [1, 2, 3, 4, 5, 6].map((a) =>
        most(h.map((x) => Math.hypot(Number(x[`A${a}.Fx`]), Number(x[`A${a}.Fy`])))),
      );
      expect(row["anchor"]).toBe(`A${1 + peaks.indexOf(most(peaks))}`);
      expect(Number(row["peak"])).toBeCloseTo(most(peaks) / 1000, 9);
      expect(Number(row["bolt"])).toBeCloseTo(Math.sqrt((4 * most(peaks)) / Math.PI / 140), 9);
    }
    expect(r.value("bolt-diameter")).toBe(most(table.map((x) => Number(x["bolt"]))));
  });

  it("loggers against the simulation", async () => {
    const r = await run("loggers.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([0, [], []]);
    const [mean, rms, largest] = [r.value("mean-difference"), r.value("rms-difference"), r.value("largest-difference")];
    expect(Math.abs(mean)).toBeLessThan(rms);
    expect(rms).toBeLessThan(largest);
    const sides = r.table("side-by-side");
    expect(Number(sides[1]!["time"]) - Number(sides[0]!["time"])).toBe(60);
    expect(
      most(sides.map((x) => Math.abs(Number(x["off"]) - (Number(x["measured"]) - Number(x["S4_high"]))))),
    ).toBeLessThan(1e-9);
  });

  it("residuals read from logs", async () => {
    const r = await run("residuals.ts");
    expect([r.errors, r.failed]).toEqual([[], []]);
    for (const row of r.table("residuals-by-run")) {
      const log = fs.readFileSync(path.join(data, "coldstore-doors/runs", row["run"]!, "solver.log"), "utf8");
      const values = [...log.matchAll(/residual T (\S+)/g)].map((m) => Number(m[1]));
      expect(Number(row["worst"])).toBe(most(values));
    }
  });

  it("profile up the aisle over runs and times", async () => {
    const r = await run("aisle-profile.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([0, [], []]);
    for (const row of r.table("layering")) {
      expect(Number(row["step"])).toBeCloseTo(Number(row["high"]) - Number(row["low"]), 10);
      // Warm air lies on top.
      expect(Number(row["step"])).toBeGreaterThan(0);
    }
  });

  it("plane means over time, sections along the hall", async () => {
    const r = await run("plane-speed.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([0, [], []]);
    const speed = r.table("speed-over-time");
    expect(speed).toHaveLength(3 * 13);
    // The roll goes with the fans' speed; before the door opens nothing else moves the air.
    const at = (fan: string): number => Number(speed.find((x) => x["fan"] === fan && x["time"] === "0")!["speed"]);
    expect(at("100") / at("50")).toBeCloseTo(2, 3);
    expect(r.table("sections")).toHaveLength(3 * 23);
  });

  it("flow and temperature at each coil face, heat from the floor", async () => {
    const r = await run("coil-faces.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([0, [], []]);
    for (const k of [1, 2, 3, 4])
      for (const row of r.table(`face-of-coil_${k}`)) {
        expect(Number(row["coldest"])).toBeLessThanOrEqual(Number(row["mean"]));
        expect(Number(row["mean"])).toBeLessThanOrEqual(Number(row["warmest"]));
        // The faces look out of the hall, the air blows in.
        expect(Number(row["flow"])).toBeLessThan(0);
      }
    expect(r.table("heat-from-the-floor").every((x) => Number(x["heat"]) > 1)).toBe(true);
  });

  it("a check that fails on purpose", async () => {
    const r = await run("door-limits.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([3, [], []]);
    const peak = most(r.table("peaks-with-a-long-door").map((x) => Number(x["peak"])));
    expect(peak).toBeGreaterThan(4);
    const check = JSON.parse(fs.readFileSync(path.join(base, "out/door-limits.ts/stays-below-4-C.json"), "utf8")) as {
      verdict: string;
    };
    expect(check.verdict).toBe("failed");
  });

  it("are all run here", () => {
    const tested = fs.readFileSync(fileURLToPath(import.meta.url), "utf8");
    for (const f of fs.readdirSync(path.join(demo, "scripts"))) {
      const isScript = text(f).some((l) => l.includes("emit."));
      if (isScript) expect([f, tested.includes(`run("${f}")`)]).toEqual([f, true]);
    }
  });
});
