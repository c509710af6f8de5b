import fs from "node:fs";
import path from "node:path";
import { rungeKutta } from "./random.js";

/** One impact of a pallet truck on a rack upright. */
export interface ImpactCase {
  readonly id: string;
  /** m/s */
  readonly speed: number;
  /** Steel grade of the upright: yield strength in MPa. */
  readonly grade: number;
}

const TRUCK = 1450; // kg
const NODES = 8;
const MASS = 62; // kg a node, with its share of the load
const CONTACT = 1.9e6; // N/m
const ANCHORS = 6;

export function impactCases(): ImpactCase[] {
  return [0.5, 1.0, 1.5, 2.0].flatMap((speed) =>
    [235, 355, 460].map((grade) => ({ id: `v${speed.toFixed(1).replace(".", "p")}-S${grade}`, speed, grade })),
  );
}

/**
 * The upright as a chain of masses in two directions on a base that six anchors hold; the truck is one more mass that
 * meets node 1 through a contact spring. Stiffness grows a little with the grade's thicker profile.
 */
function solve(c: ImpactCase): { nodes: string; anchors: string } {
  const k = 2.6e6 * (1 + (c.grade - 235) / 900);
  const base = 4.2e6;
  // x: 0..7 and v: 8..15 along the aisle, then the same across it, then the truck's x and v.
  const y = new Float64Array(4 * NODES + 2);
  y[4 * NODES] = -0.002;
  y[4 * NODES + 1] = c.speed;
  const ways = [
    { o: 0, share: 1, kk: k },
    { o: 2 * NODES, share: 0.18, kk: k * 0.7 },
  ];
  const contact = (s: Float64Array): number => Math.max(0, CONTACT * (s[4 * NODES]! - s[1]!));
  const rates = (_: number, s: Float64Array, d: Float64Array): void => {
    d.fill(0);
    const push = contact(s);
    for (const { o, share, kk } of ways) {
      for (let i = 0; i < NODES; i++) {
        d[o + i] = s[o + NODES + i]!;
        let force = i === 1 ? push * share : 0;
        const below = i === 0 ? 0 : s[o + i - 1]!;
        const vBelow = i === 0 ? 0 : s[o + NODES + i - 1]!;
        const ki = i === 0 ? base : kk;
        force -= ki * (s[o + i]! - below) + 0.0012 * ki * (s[o + NODES + i]! - vBelow);
        if (i < NODES - 1)
          force += kk * (s[o + i + 1]! - s[o + i]!) + 0.0012 * kk * (s[o + NODES + i + 1]! - s[o + NODES + i]!);
        d[o + NODES + i] = force / MASS;
      }
    }
    d[4 * NODES] = s[4 * NODES + 1]!;
    d[4 * NODES + 1] = -push / TRUCK;
  };
  const heads = Array.from({ length: ANCHORS }, (_, a) => [
    `A${a + 1}.Fx [N]`,
    `A${a + 1}.Fy [N]`,
    `A${a + 1}.Fz [N]`,
  ]).flat();
  const anchors = [["step", "time [s]", "load_factor", ...heads].join(",")];
  const nodes = [
    [
      "step",
      "time [s]",
      ...Array.from({ length: NODES }, (_, i) => [`N${i + 1}.ux [mm]`, `N${i + 1}.uy [mm]`]).flat(),
    ].join(","),
  ];
  const shares = [0.21, 0.19, 0.17, 0.16, 0.14, 0.13];
  const preload = [9200, 8800, 9050, 8950, 9100, 8900];
  const row = (step: number, time: number, factor: number): void => {
    const fx = base * y[0]!;
    const fy = base * y[2 * NODES]!;
    const cells = shares.flatMap((s, a) => [
      fx * s,
      fy * shares[ANCHORS - 1 - a]! + (step === 1 ? 310 * Math.sin(a + 1) * factor : 0),
      preload[a]! * factor + 0.11 * (a % 2 === 0 ? 1 : -1) * fx,
    ]);
    anchors.push([step, time.toFixed(5), factor.toFixed(3), ...cells.map((v) => v.toExponential(6))].join(","));
    nodes.push(
      [
        step,
        time.toFixed(5),
        ...Array.from({ length: NODES }, (_, i) => [
          (y[i]! * 1000).toExponential(5),
          (y[2 * NODES + i]! * 1000).toExponential(5),
        ]).flat(),
      ].join(","),
    );
  };
  // The bolts are tightened first: a static step in which "time" is only the load factor. Tightening drags them
  // sideways.
  for (let s = 0; s <= 20; s++) {
    y[0] = (s / 20) * 0.0042;
    row(1, s / 20, s / 20);
  }
  y[0] = 0;
  const h = 2e-5;
  for (let s = 0; s <= 12500; s++) {
    if (s % 25 === 0) row(2, 1 + s * h, 1);
    rungeKutta(rates, s * h, y, h);
  }
  return { nodes: nodes.join("\n") + "\n", anchors: anchors.join("\n") + "\n" };
}

/** Writes the study of a pallet truck that hits a rack upright. */
export function writeRackStudy(folder: string): void {
  for (const c of impactCases()) {
    const run = path.join(folder, c.id);
    fs.mkdirSync(path.join(run, "history"), { recursive: true });
    fs.writeFileSync(
      path.join(run, "case.json"),
      JSON.stringify({ speed: `${c.speed} m/s`, grade: `${c.grade} MPa` }, null, 2) + "\n",
    );
    const { nodes, anchors } = solve(c);
    fs.writeFileSync(path.join(run, "history/anchors.csv"), anchors);
    fs.writeFileSync(path.join(run, "history/nodes.csv"), nodes);
  }
  fs.writeFileSync(
    path.join(folder, "oxtrum.study.json"),
    JSON.stringify(
      {
        oxtrum: 1,
        title: "a pallet truck hits a rack upright",
        runs: { case: "case.json" },
        files: { anchors: "history/anchors.csv", nodes: "history/nodes.csv" },
      },
      null,
      2,
    ) + "\n",
  );
}
