import fs from "node:fs";
import path from "node:path";
import { describe, expect, it } from "@jest/globals";
import { showMesh } from "@oxtrum/engine";
import { base, data, rows, run, useExamples } from "./testing/run-examples.js";

/**
 * Every example script is run on demo data, and what it puts out is compared with what a few lines of plain code read
 * from the same files.
 */
useExamples();

describe("example scripts of fields", () => {
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
        // The faces look out of the the air blows in.
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
      const near = plate.reduce((a, b) =>
        Math.abs(Number(b["x"]) - Number(row["x"])) < Math.abs(Number(a["x"]) - Number(row["x"])) ? b : a,
      );
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
    expect(table.map((x) => [x["place"], Number(x["x"]), Number(x["y"]), Number(x["z"])])).toEqual(
      places.map((x) => [x["product"], Number(x["x"]), Number(x["y"]), Number(x["z"])]),
    );
    expect(table.every((x) => Number(x["temperature"]) > 265 && Number(x["temperature"]) < 295)).toBe(true);
    const back = showMesh(path.join(base, "out/product-start.ts/products-075_080_none.vtp"), true);
    expect([back.points, back.fields.map((f) => f.name)]).toEqual([
      40,
      ["temperature", "humidity", "velocity", "velocity.mag"],
    ]);
    const T = table.map((x) => Number(x["temperature"]));
    expect([back.fields[0]!.min, back.fields[0]!.max]).toEqual([Math.min(...T), Math.max(...T)]);
    for (const row of r.table("worst"))
      expect(Number(row["temperature.max"])).toBeGreaterThanOrEqual(Number(row["temperature.mean"]));
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

  it("pictures of fields: panels, arrows, streamlines, patches, a sequence", async () => {
    const r = await run("hall-pictures.ts");
    expect([r.errors, r.failed, r.exit]).toEqual([[], [], 0]);
    const folder = path.join(base, "out/hall-pictures.ts");
    const size = (f: string): number[] => {
      const b = fs.readFileSync(path.join(folder, f));
      return [b.readUInt32BE(16), b.readUInt32BE(20)];
    };
    for (const n of ["aisle-by-fan", "arrows", "streamlines", "steps", "floor", "whole-hall"])
      expect(size(`${n}/${n}.png`)).toEqual([1600, 1040]);
    expect(fs.readdirSync(path.join(folder, "through-time")).sort()).toEqual([
      "through-time-0001.png",
      "through-time-0002.png",
      "through-time-0003.png",
      "through-time-0004.png",
      "through-time-0005.png",
      "through-time.anim.png",
    ]);
    const moving = fs.readFileSync(path.join(folder, "through-time/through-time.anim.png"));
    expect(moving.readUInt32BE(moving.indexOf("acTL") + 4)).toBe(5);
  });
});
