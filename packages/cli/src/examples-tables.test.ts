import fs from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { describe, expect, it } from "@jest/globals";
import { unzipSync } from "fflate";
import { parquetReadObjects } from "hyparquet";
import readWorkbook from "read-excel-file/node";
import { formatNumber } from "@oxtrum/core/tables";
import { demo } from "./testing/demo-data.js";
import { base, data, hall, most, rows, run, text, useExamples } from "./testing/run-examples.js";

/**
 * Every example script is run on demo data, and what it puts out is compared with what a few lines of plain code read
 * from the same files.
 */
useExamples();

describe("example scripts of tables, logs and charts", () => {
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
      expect(governs["maxColumn"]).toBe(`A${1 + peaks.indexOf(most(peaks))}.shear`);
      expect(Number(row["peak"])).toBeCloseTo(most(peaks) / 1000, 9);
      expect(Number(row["bolt"])).toBeCloseTo(Math.sqrt((4 * most(peaks)) / Math.PI / 140), 9);
    }
    expect(r.value("bolt-diameter")).toBe(most(table.map((x) => Number(x["bolt"]))));
    const [governing] = r.table("governing-run");
    expect(Number(governing!["bolt"])).toBe(r.value("bolt-diameter"));
    const envelope = r.table("envelope");
    const at = envelope.reduce((a, b) => (Number(b["max.max"]) > Number(a["max.max"]) ? b : a));
    expect(at["max.maxRun"]).toBe(governing!["run"]);
  });

  it("loggers against the simulation: the offset of their clock is found", async () => {
    const r = await run("loggers.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([0, [], []]);
    // The loggers' clock runs 42 s behind, as the stand-in solver put it in; they tell every 10 s, with 0.06 K of
    // noise.
    expect(Math.abs(r.value("clock-offset") + 42)).toBeLessThan(2);
    const said = Object.fromEntries(r.table("agreement").map((x) => [x["measure"], Number(x["value"])]));
    expect(said["rms"]!).toBeGreaterThan(0.05);
    expect(said["rms"]!).toBeLessThan(0.1);
    expect(Math.abs(said["bias"]!)).toBeLessThan(said["rms"]!);
    expect(said["within"]!).toBeGreaterThan(0.98);
    for (const k of [1, 2, 3]) expect(r.value(`rms-of-L${k}`)).toBeLessThan(0.1);
    const sides = r.table("side-by-side");
    expect(Number(sides[1]!["time"]) - Number(sides[0]!["time"])).toBe(60);
    expect(
      most(sides.map((x) => Math.abs(Number(x["difference"]) - (Number(x["S4_high"]) - Number(x["reference"]))))),
    ).toBeLessThan(1e-9);
  });

  it("near the wall: profiles in wall units against the laws, for all meshes and treatments", async () => {
    const r = await run("near-wall.ts");
    expect([r.exit, r.errors, r.failed]).toEqual([0, [], []]);
    const table = r.table("against-the-composite-law");
    expect(table).toHaveLength(6);
    const of = (mesh: string, wall: string): Record<string, string> =>
      table.find((x) => x["mesh"] === mesh && x["wall"] === wall)!;
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
    const s = Object.fromEntries(
      r.table("sensitivity-of-the-peak").map((x) => [x["parameter"], Number(x["sensitivity"])]),
    );
    expect(s["open"]!).toBeGreaterThan(0.3);
    expect(s["fan"]!).toBeLessThan(0);
    expect(s["curtain"]!).toBeLessThan(0);
    const effects = r.table("effects-on-the-peak");
    const strip = effects.find((x) => x["parameter"] === "curtain" && x["level"] === "strip")!;
    const mean = (list: Record<string, string>[]): number =>
      list.reduce((a, x) => a + Number(x["peak"]), 0) / list.length;
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
      // Of each time the last iteration counts.
      const byTime = new Map([...log.matchAll(/^t (\S+) s .* dT (\S+)/gm)].map((m) => [m[1], Number(m[2])]));
      expect(byTime.size).toBeGreaterThan(20);
      expect(Number(row["worst"])).toBe(most([...byTime.values()]));
    }
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
    for (const b of bars)
      expect(Number(b["peak"])).toBeCloseTo(most(hall(b["run"]!).map((x) => Number(x["T_mean"]) - 273.15)), 9);
    const counted = r.table("histogram").reduce((n, x) => n + Number(x["Values"]), 0);
    expect(counted).toBe(bars.reduce((n, b) => n + hall(b["run"]!).filter((x) => Number(x["time"]) <= 1800).length, 0));
    const html = fs.readFileSync(path.join(base, "out/chart-kinds.ts/gallery.html"), "utf8");
    expect(html.match(/<svg/g)).toHaveLength(21);
    expect(html).toContain(`<strong>${formatNumber(r.value("warmest"))} °C</strong>`);
    // The same numbers in every format, as other programs read them.
    const file = (end: string): Buffer => fs.readFileSync(path.join(base, "out/chart-kinds.ts", `peaks.${end}`));
    const wanted = r.table("peaks").map((x) => Number(x["peak"]));
    const lines = (end: string): string[] =>
      file(end)
        .toString("utf8")
        .trim()
        .split("\n")
        .filter((l) => !l.startsWith("#"));
    const near = (got: number[]): void => got.forEach((v, k) => expect(v / wanted[k]!).toBeCloseTo(1, 8));
    near(
      lines("tsv")
        .slice(1)
        .map((l) => Number(l.split("\t")[3])),
    );
    near(
      lines("semicolon.csv")
        .slice(1)
        .map((l) => Number(l.split(";")[3]!.replace(",", "."))),
    );
    near(
      (JSON.parse(file("json").toString()) as { columns: { name: string; values: number[] }[] }).columns.find(
        (c) => c.name === "peak",
      )!.values,
    );
    const packed = new Uint8Array(file("parquet"));
    near(
      (
        await parquetReadObjects({
          file: packed.buffer.slice(packed.byteOffset, packed.byteOffset + packed.byteLength) as ArrayBuffer,
        })
      ).map((x) => Number(x["peak"])),
    );
    const sheets = await readWorkbook(file("xlsx"));
    expect(sheets.map((x) => x.sheet)).toEqual(["peaks", "charts", "where from"]);
    near((sheets[0]!.data as unknown[][]).slice(2).map((x) => Number(x[3])));
    near(
      lines("md")
        .slice(-9)
        .map((l) => Number(l.split("|")[4])),
    );
    near(
      lines("tex")
        .filter((l) => l.includes("none"))
        .map((l) => Number(l.split("&")[3])),
    );
    expect(file("html").toString()).toContain("<table");
    // The workbook holds the table and two charts as pictures.
    const book = unzipSync(new Uint8Array(fs.readFileSync(path.join(base, "out/chart-kinds.ts/peaks.xlsx"))));
    expect(Object.keys(book).filter((f) => f.endsWith(".png"))).toHaveLength(2);
  });

  it("are all run here or beside", () => {
    const folder = fileURLToPath(new URL("../src", import.meta.url));
    const tests = fs.readdirSync(folder).filter((f) => /^examples-.*\.test\.ts$/.test(f));
    const tested = tests.map((f) => fs.readFileSync(path.join(folder, f), "utf8")).join("");
    const scripts = fs.readdirSync(path.join(demo, "scripts")).filter((f) => text(f).some((l) => l.includes("emit.")));
    expect(scripts.length).toBeGreaterThan(15);
    expect(scripts.filter((f) => !tested.includes(`run("${f}")`))).toEqual([]);
  });
});
