import { spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, describe, expect, it } from "@jest/globals";
import { unzipSync } from "fflate";
import { parquetReadObjects } from "hyparquet";
import readWorkbook from "read-excel-file/node";
import { formatNumber } from "@oxtrum/core/tables";
import { jobRequestSchema, runJob, showMesh } from "@oxtrum/engine";
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
      studies: fs
        .readdirSync(data)
        .filter((name) => Object.values(files).some((t) => t.includes(`study("${name}")`)))
        .map((name) => ({ name, folder: path.join(data, name) })),
      dataFolder: path.join(base, "oxtrum"),
      outFolder: out,
      workers: 1,
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
    const table = r.table("peaks");
    expect(table).toHaveLength(12);
    for (const row of table) {
      const h = rows(path.join(data, "rack-impact", row["run"]!, "history/anchors.csv")).filter(
        (x) => x["step"] === "2",
      );
      const peaks = [1, 2, 3, 4, 5, 6].map((a) =>
        most(h.map((x) => Math.hypot(Number(x[`A${a}.Fx`]), Number(x[`A${a}.Fy`])))),
      );
      const governs = r.table("governing-anchors").find((x) => x["run"] === row["run"])!;
      expect(governs["governs"]).toBe(`A${1 + peaks.indexOf(most(peaks))}.shear`);
      expect(Number(row["peak"])).toBeCloseTo(most(peaks) / 1000, 9);
      expect(Number(row["bolt"])).toBeCloseTo(Math.sqrt((4 * most(peaks)) / Math.PI / 140), 9);
    }
    expect(r.value("bolt-diameter")).toBe(most(table.map((x) => Number(x["bolt"]))));
    const [governing] = r.table("governing-run");
    expect(Number(governing!["bolt"])).toBe(r.value("bolt-diameter"));
    const envelope = r.table("envelope");
    const at = envelope.reduce((a, b) => (Number(b["most.max"]) > Number(a["most.max"]) ? b : a));
    expect(at["most.maxRun"]).toBe(governing!["run"]);
  });

  it("loggers against the simulation: the offset of their clock is found", async () => {
    const r = await run("loggers.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([0, [], []]);
    // The loggers' clock runs 42 s behind, as the stand-in solver put it in; they tell every 10 s, with 0.06 K of noise.
    expect(Math.abs(r.value("clock-offset") + 42)).toBeLessThan(2);
    const said = Object.fromEntries(r.table("agreement").map((x) => [x["measure"], Number(x["value"])]));
    expect(said["rms"]!).toBeGreaterThan(0.05);
    expect(said["rms"]!).toBeLessThan(0.1);
    expect(Math.abs(said["bias"]!)).toBeLessThan(said["rms"]!);
    expect(said["within"]!).toBeGreaterThan(0.98);
    for (const k of [1, 2, 3]) expect(r.value(`rms-of-L${k}`)).toBeLessThan(0.1);
    const sides = r.table("side-by-side");
    expect(Number(sides[1]!["time"]) - Number(sides[0]!["time"])).toBe(60);
    expect(most(sides.map((x) => Math.abs(Number(x["difference"]) - (Number(x["S4_high"]) - Number(x["reference"])))))).toBeLessThan(1e-9); // prettier-ignore
  });

  it("near the wall: profiles in wall units against the laws, for all meshes and treatments", async () => {
    const r = await run("near-wall.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([0, [], []]);
    const table = r.table("against-the-composite-law");
    expect(table).toHaveLength(6);
    const of = (mesh: string, wall: string): Record<string, string> => table.find((x) => x["mesh"] === mesh && x["wall"] === wall)!; // prettier-ignore
    // The mixing length with van Driest's damping follows the composite law; a finer mesh goes nearer to the wall.
    expect(Number(of("fine", "resolved")["first"])).toBeLessThan(Number(of("coarse", "resolved")["first"]) / 3);
    // In so narrow a gap the shear falls off towards the middle: there the profile stays below the law by one or two.
    expect(Number(of("fine", "resolved")["rms"])).toBeLessThan(1.2);
    expect(Number(of("fine", "resolved")["rms"])).toBeLessThan(Number(of("coarse", "resolved")["rms"]));
    expect(Number(of("fine", "resolved")["bias"])).toBeLessThan(0);
    expect(Number(of("coarse", "bridged")["first"])).toBeGreaterThan(20);
    // Of second order: four times the cells, a sixteenth of what is off.
    const parabola = r.table("against-the-parabola");
    const rms = (mesh: string): number => Number(parabola.find((x) => x["mesh"] === mesh)!["rms"]);
    expect(rms("coarse") / rms("fine")).toBeGreaterThan(10);
  });

  it("parameter effects on peak and recovery, of the runs that count", async () => {
    const r = await run("door-effects.ts");
    expect([r.errors, r.failed]).toEqual([[], []]);
    const verdicts = r.table("which-runs-count");
    expect(verdicts.find((x) => x["run"] === "060_120_none")!["accepted"]).toBe("no");
    expect(verdicts.filter((x) => x["accepted"] === "no").length).toBeLessThan(4);
    expect(r.left.has("060_120_none")).toBe(true);
    const peaks = r.table("peaks");
    expect(peaks).toHaveLength(verdicts.filter((x) => x["accepted"] === "yes").length);
    expect(peaks.map((x) => Number(x["peak.rank"]))).toEqual(peaks.map((_, k) => k + 1));
    // A longer door warms, a curtain and stronger fans cool.
    const s = Object.fromEntries(r.table("sensitivity-of-the-peak").map((x) => [x["parameter"], Number(x["sensitivity"])])); // prettier-ignore
    expect(s["open"]!).toBeGreaterThan(0.3);
    expect(s["fan"]!).toBeLessThan(0);
    expect(s["curtain"]!).toBeLessThan(0);
    const effects = r.table("effects-on-the-peak");
    const strip = effects.find((x) => x["parameter"] === "curtain" && x["level"] === "strip")!;
    const mean = (list: Record<string, string>[]): number => list.reduce((a, x) => a + Number(x["peak"]), 0) / list.length; // prettier-ignore
    expect(Number(strip["effect"])).toBeCloseTo(mean(peaks.filter((x) => x["curtain"] === "strip")) - mean(peaks), 9);
    for (const row of r.table("one-change-at-a-time")) {
      const of = (run: string): number => Number(peaks.find((x) => x["run"] === run)!["peak"]);
      expect(Number(row["peak.diff"])).toBeCloseTo(of(row["run"]!) - of(row["baseline"]!), 9);
    }
    const pivot = r.table("peak-by-door-and-fan");
    expect(Object.keys(pivot[0]!)).toEqual(["open", "fan 50", "fan 75", "fan 100"]);
    expect(Number(pivot[2]!["fan 50"])).toBe(Number(peaks.find((x) => x["run"] === "050_160_none")!["peak"]));
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

  it("stations along the passage: flow, bulk temperature and the heat that the plates take", async () => {
    const r = await run("passage-stations.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([0, [], []]);
    const sections = r.table("sections");
    expect(sections).toHaveLength(6 * 100);
    for (const row of sections) {
      // What flows through is the same everywhere: half the Reynolds number times the viscosity.
      expect(Number(row["flow"]) / ((Number(row["Re"]) * Number(row["nu"])) / 2)).toBeCloseTo(1, 3);
      expect(Number(row["speed"]) * Number(row["gap"])).toBeCloseTo(Number(row["flow"]), 7);
      // Of a parabola it is 1 − 1/(3√3).
      expect(Number(row["even"])).toBeCloseTo(0.8075, 3);
    }
    const plate = rows(path.join(data, "plate-cooler/laminar_Re00400_g30_fine_resolved/plate.csv"));
    for (const row of sections.filter((x) => x["run"] === "laminar_Re00400_g30_fine_resolved")) {
      const near = plate.reduce((a, b) => (Math.abs(Number(b["x"]) - Number(row["x"])) < Math.abs(Number(a["x"]) - Number(row["x"])) ? b : a)); // prettier-ignore
      expect(Math.abs(Number(row["bulk"]) + 273.15 - Number(near["T_bulk"]))).toBeLessThan(0.03);
    }
    for (const row of r.table("balance")) expect(Math.abs(Number(row["share"]) - 1)).toBeLessThan(0.005);
  });

  it("profiles across the passage", async () => {
    const r = await run("plate-profiles.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([0, [], []]);
    for (const row of r.table("shape")) {
      expect(Number(row["height"])).toBeCloseTo(2, 5);
      if (Number(row["Re"]) < 2000) expect(Number(row["peak"])).toBeCloseTo(1.5, 2);
      else expect(Number(row["peak"])).toBeLessThan(1.25);
      const plate = rows(path.join(data, "plate-cooler", row["run"]!, "plate.csv")).map((x) => Number(x["wall_shear"]));
      expect(Number(row["shear"]) / (plate.reduce((a, b) => a + b, 0) / plate.length)).toBeCloseTo(1, 1);
    }
  });

  it("values at the products' places, written back as points", async () => {
    const r = await run("product-start.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([0, [], []]);
    const places = rows(path.join(data, "coldstore-doors/points/product.csv"));
    const table = r.table("products").filter((x) => x["run"] === "075_080_none");
    expect(table.map((x) => [x["place"], Number(x["x"]), Number(x["y"]), Number(x["z"])])).toEqual(places.map((x) => [x["product"], Number(x["x"]), Number(x["y"]), Number(x["z"])])); // prettier-ignore
    expect(table.every((x) => Number(x["T"]) > 265 && Number(x["T"]) < 295)).toBe(true);
    const back = showMesh(path.join(base, "out/product-start.ts/products-075_080_none.vtp"), true);
    expect([back.points, back.fields.map((f) => f.name)]).toEqual([40, ["T", "humidity", "U", "U.mag"]]);
    const T = table.map((x) => Number(x["T"]));
    expect([back.fields[0]!.min, back.fields[0]!.max]).toEqual([Math.min(...T), Math.max(...T)]);
    for (const row of r.table("worst")) expect(Number(row["T.max"])).toBeGreaterThanOrEqual(Number(row["T.mean"]));
  });

  it("levels at gauges: the lowest at the pump, and the period of the tank's first mode", async () => {
    const r = await run("sump-levels.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([0, [], []]);
    for (const row of r.table("lowest-at-the-pump")) {
      const k = Math.PI / 1.2;
      const free = (2 * Math.PI) / Math.sqrt(9.81 * k * Math.tanh(k * Number(row["level"])));
      const period = row["baffle"] === "half" ? free / 0.88 : free;
      expect(Math.abs(Number(row["period"]) / period - 1)).toBeLessThan(0.03);
      // Six seconds of a slow wave: the spectrum's lines are 0.3 Hz apart.
      expect(Math.abs(Number(row["frequency"]) * period - 1)).toBeLessThan(0.25);
      expect(Number(row["lowest"])).toBeLessThan(Number(row["level"]));
    }
    // The particles tell the same to within their spacing.
    const first = r.table("levels-pump").filter((x) => x["time"] === "0");
    for (const row of r.table("from-particles")) {
      const fill = Number(first.find((x) => x["run"] === row["run"])!["level"]);
      expect(Math.abs(Number(row["first"]) - fill)).toBeLessThan(0.025);
    }
  });

  it("wall transfer on the floor", async () => {
    const r = await run("floor-transfer.ts");
    expect([r.errors, r.failed]).toEqual([[], []]);
    const patches = r.table("patches");
    expect(Number(patches.find((x) => x["block"] === "floor")!["area"])).toBe(24 * 12 - 2 * 12 * 2);
    for (const row of r.table("floor")) {
      expect(Number(row["low"])).toBeLessThan(Number(row["h"]));
      expect(Number(row["h"])).toBeLessThan(Number(row["high"]));
    }
    expect(r.value("heat-through-floor")).toBeGreaterThan(1);
  });

  it("wall transfer and friction over Reynolds and Prandtl numbers, as the stand-in solver put them in", async () => {
    const r = await run("wall-transfer.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([0, [], []]);
    // Laminar friction between plates is 96/Re, whatever the glycol; the mesh's part is below a percent.
    expect(r.value("laminar-friction-exponent")).toBeCloseTo(-1, 3);
    expect(Math.abs(r.value("laminar-friction-constant") / 96 - 1)).toBeLessThan(0.01);
    const turbulent = r.table("turbulent-law");
    expect(turbulent.map((x) => x["term"])).toEqual(["C", "Re", "Pr"]);
    const exponent = (name: string): number => Number(turbulent.find((x) => x["term"] === name)!["value"]);
    expect(exponent("Re")).toBeGreaterThan(0.75);
    expect(exponent("Re")).toBeLessThan(0.95);
    expect(exponent("Pr")).toBeGreaterThan(0.25);
    expect(exponent("Pr")).toBeLessThan(0.45);
    expect(r.value("fit-of-turbulent-transfer")).toBeGreaterThan(0.99);
  });

  it("mesh convergence of the cooler's passage", async () => {
    const r = await run("mesh-convergence.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([0, [], []]);
    const levels = r.table("laminar-resolved-levels");
    expect(levels.map((x) => x["mesh"]).sort()).toEqual(["coarse", "fine", "medium"]);
    // Marching is of first order, differences across the gap of second: what is seen lies between.
    expect(r.value("order-of-the-laminar-heat-flux")).toBeGreaterThan(0.7);
    expect(r.value("order-of-the-laminar-heat-flux")).toBeLessThan(2.3);
    // The profile alone is of second order.
    expect(Number(r.table("laminar-resolved-shear")[0]!["order"])).toBeCloseTo(2, 1);
    const [heat] = r.table("laminar-resolved-heat");
    const values = ["coarse", "medium", "fine"].map((m) => Number(levels.find((x) => x["mesh"] === m)!["heat"]));
    const toLimit = values.map((v) => Math.abs(v - Number(heat!["extrapolated"])));
    expect(toLimit[2]!).toBeLessThan(toLimit[1]!);
    expect(toLimit[1]!).toBeLessThan(toLimit[0]!);
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

  it("every kind of chart, in every format, and a report of all", async () => {
    const r = await run("chart-kinds.ts");
    expect([r.errors, r.failed, r.exit]).toEqual([[], [], 0]);
    const charts = r.files.filter((f) => f.endsWith(".svg")).map((f) => f.slice(0, -4));
    expect(charts).toHaveLength(21);
    for (const c of charts) expect(r.files).toEqual(expect.arrayContaining([`${c}.png`, `${c}.pdf`, `${c}.csv`]));
    // What a chart draws is what the files say: the peaks of the bars are those of the runs' own histories.
    const bars = r.table("bars-grouped").filter((x) => x["quantity"] === "peak");
    expect(bars).toHaveLength(9);
    for (const b of bars) expect(Number(b["peak"])).toBeCloseTo(most(hall(b["run"]!).map((x) => Number(x["T_mean"]) - 273.15)), 9); // prettier-ignore
    const counted = r.table("histogram").reduce((n, x) => n + Number(x["Values"]), 0);
    expect(counted).toBe(bars.reduce((n, b) => n + hall(b["run"]!).filter((x) => Number(x["time"]) <= 1800).length, 0));
    const html = fs.readFileSync(path.join(base, "out/chart-kinds.ts/gallery.html"), "utf8");
    expect(html.match(/<svg/g)).toHaveLength(21);
    expect(html).toContain(`<strong>${formatNumber(r.value("warmest"))} °C</strong>`);
    // The same numbers in every format, as other programs read them.
    const file = (end: string): Buffer => fs.readFileSync(path.join(base, "out/chart-kinds.ts", `peaks.${end}`));
    const wanted = r.table("peaks").map((x) => Number(x["peak"]));
    const lines = (end: string): string[] => file(end).toString("utf8").trim().split("\n").filter((l) => !l.startsWith("#")); // prettier-ignore
    const near = (got: number[]): void => got.forEach((v, k) => expect(v / wanted[k]!).toBeCloseTo(1, 8));
    near(lines("tsv").slice(1).map((l) => Number(l.split("\t")[3]))); // prettier-ignore
    near(lines("semicolon.csv").slice(1).map((l) => Number(l.split(";")[3]!.replace(",", ".")))); // prettier-ignore
    near((JSON.parse(file("json").toString()) as { columns: { name: string; values: number[] }[] }).columns.find((c) => c.name === "peak")!.values); // prettier-ignore
    const packed = new Uint8Array(file("parquet"));
    near((await parquetReadObjects({ file: packed.buffer.slice(packed.byteOffset, packed.byteOffset + packed.byteLength) as ArrayBuffer })).map((x) => Number(x["peak"]))); // prettier-ignore
    const sheets = await readWorkbook(file("xlsx"));
    expect(sheets.map((x) => x.sheet)).toEqual(["peaks", "charts", "where from"]);
    near((sheets[0]!.data as unknown[][]).slice(2).map((x) => Number(x[3]))); // prettier-ignore
    near(lines("md").slice(-9).map((l) => Number(l.split("|")[4]))); // prettier-ignore
    near(lines("tex").filter((l) => l.includes("none")).map((l) => Number(l.split("&")[3]))); // prettier-ignore
    expect(file("html").toString()).toContain("<table");
    // The workbook holds the table and two charts as pictures.
    const book = unzipSync(new Uint8Array(fs.readFileSync(path.join(base, "out/chart-kinds.ts/peaks.xlsx"))));
    expect(Object.keys(book).filter((f) => f.endsWith(".png"))).toHaveLength(2);
  });

  it("pictures of fields: panels, arrows, streamlines, patches, a sequence", async () => {
    const r = await run("hall-pictures.ts");
    expect([r.errors, r.failed, r.exit]).toEqual([[], [], 0]);
    const folder = path.join(base, "out/hall-pictures.ts");
    const size = (f: string): number[] => { const b = fs.readFileSync(path.join(folder, f)); return [b.readUInt32BE(16), b.readUInt32BE(20)]; }; // prettier-ignore
    for (const n of ["aisle-by-fan", "arrows", "streamlines", "steps", "floor", "whole-hall"]) expect(size(`${n}/${n}.png`)).toEqual([1600, 1040]); // prettier-ignore
    expect(fs.readdirSync(path.join(folder, "through-time")).sort()).toEqual(["through-time-0001.png", "through-time-0002.png", "through-time-0003.png", "through-time-0004.png", "through-time-0005.png", "through-time.anim.png"]); // prettier-ignore
    const moving = fs.readFileSync(path.join(folder, "through-time/through-time.anim.png"));
    expect(moving.readUInt32BE(moving.indexOf("acTL") + 4)).toBe(5);
  });

  it("are all run here", () => {
    const tested = fs.readFileSync(fileURLToPath(import.meta.url), "utf8");
    for (const f of fs.readdirSync(path.join(demo, "scripts"))) {
      const isScript = text(f).some((l) => l.includes("emit."));
      if (isScript) expect([f, tested.includes(`run("${f}")`)]).toEqual([f, true]);
    }
  });
});
