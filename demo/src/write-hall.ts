import fs from "node:fs";
import path from "node:path";
import { hallCases, solveHall, type HallCase, type HallState } from "./hall.js";
import { hallMesh, writeHallFields } from "./hall-fields.js";
import { normal, seeded } from "./random.js";

const END = 1800;
/** Where the run that diverges is stopped, s. */
const STOPPED_AT = 912;
const STOPPED = "060_120_none";
const CUT_OFF = "060_120_strip";
const WITHOUT_SENSORS = "090_120_none";
const IN_CELSIUS = "090_120_strip";

const fixed = (x: number, n: number): string => x.toFixed(n);

function write(file: string, text: string): void {
  fs.mkdirSync(path.dirname(file), { recursive: true });
  fs.writeFileSync(file, text);
}

function hallCsv(states: readonly HallState[], celsius: boolean): string {
  const t = (x: number): string => fixed(celsius ? x - 273.15 : x, 4);
  const unit = celsius ? "degC" : "K";
  const head =
    `time [s],T_mean [${unit}],T_max [${unit}],humidity [%],coil_duty [kW],door_flow ` +
    "[m^3/s],frost_mass [kg],p_door [Pa],fan_power [kW]";
  const rows = states.map((s) =>
    [
      s.time,
      t(s.tMean),
      t(s.tMax),
      fixed(s.humidity, 3),
      fixed(s.coilDuty / 1000, 4),
      fixed(s.doorFlow, 4),
      fixed(s.frost, 5),
      fixed(s.pDoor, 4),
      fixed(s.fanPower / 1000, 3),
    ].join(","),
  );
  return [head, ...rows].join("\n") + "\n";
}

function coilsCsv(states: readonly HallState[]): string {
  const head = ["Time (s)", ...[1, 2, 3, 4].flatMap((k) => [`flow_${k} (m3/s)`, `T_out_${k} (K)`])].join(";");
  const rows = states
    .filter((s) => s.time % 2 === 0)
    .map((s) => [s.time, ...s.coilFlow.flatMap((q, k) => [fixed(q, 4), fixed(s.coilOut[k]!, 4)])].join(";"));
  return [head, ...rows].join("\n") + "\n";
}

/** Blanks between columns, a banner, a footer, a stray bracket, and a restart that runs 60 s over again. */
function sensorsDat(states: readonly HallState[]): string {
  const names = ["S1_low", "S2_low", "S3_low", "S4_low", "S1_high", "S2_high", "S3_high", "S4_high"];
  const head = [
    "# time      " + names.map((n) => n.padStart(9)).join(" "),
    "#  s        " + names.map(() => "K".padStart(9)).join(" "),
  ];
  const row = (s: HallState, shift = 0): string =>
    fixed(s.time, 2).padStart(10) + "  " + Array.from(s.zones, (z) => fixed(z + shift, 3).padStart(9)).join(" ");
  const every = states.filter((s) => s.time % 5 === 0);
  const first = every.filter((s) => s.time <= 960).map((s) => row(s));
  const second = every.filter((s) => s.time >= 900).map((s) => row(s));
  return [
    "Brinehaven hall solver, probe output",
    "probes at 8 logger positions, order S1 .. S4 from the coils to the door",
    ...head,
    ...first,
    "}",
    "restart from checkpoint 900",
    ...head,
    ...second,
    "",
    `end of probe output, ${second.length + first.length} records`,
    "",
  ].join("\n");
}

function solverLog(c: HallCase, states: readonly HallState[], diverged: boolean): string {
  const random = seeded(c.fan * 1000 + c.doorOpen);
  const out = [
    "Brinehaven hall solver 4.2",
    `case ${c.id}`,
    `mesh: ${hallMesh.cells} hexahedra, ${hallMesh.count} points`,
    "",
  ];
  for (const s of states.filter((x) => x.time % 30 === 0)) {
    const stir = 1 + 12 * s.doorFlow;
    const k = 1 + Math.floor(3 + stir * 0.4 + random() * 2);
    const blow = diverged && s.time > 600 ? 10 ** ((s.time - 600) / 50) : 1;
    const dT = 2.1e-6 * stir * (0.8 + 0.4 * random()) * blow;
    const dU = 8.4e-6 * stir * (0.8 + 0.4 * random()) * blow;
    const spent = s.time * 0.41 + 2.2;
    for (let it = 1; it <= k; it++) {
      // The iterations of a step take both residuals down by three and a half decades, to what the step ends with.
      const above = k === 1 ? 0 : (3.5 * (k - it)) / (k - 1);
      out.push(
        `t ${s.time} s | it ${it} | dT ${(dT * 10 ** above).toExponential(3)} | dU ${(dU * 10 ** above).toExponential(3)} ` +
          `| wall ${fixed(spent + 0.06 * it, 2)} s`,
      );
    }
    if (s.doorFlow > 3) out.push("warning: local Courant number above 0.9 at the door");
  }
  out.push(diverged ? "stopped: temperature out of range in cell 17744" : "finished");
  return out.join("\n") + "\n";
}

function cellsPerWorker(c: HallCase): string {
  const random = seeded(77 + c.fan + c.doorOpen);
  const base = Array.from({ length: 16 }, (_, k) => 1344 + Math.round(90 * Math.sin(k * 1.7) + 40 * (random() - 0.5)));
  const rows: string[] = ["time [s]," + base.map((_, k) => `cells_${k}`).join(",")];
  for (let t = 0; t <= END; t += 30) {
    // The refined region follows the warm front for as long as the door is open, and some minutes after.
    const front = Math.exp(-Math.max(0, t - 30 - c.doorOpen) / 260) * Math.min(1, Math.max(0, t - 30) / 40);
    rows.push(
      [
        t,
        ...base.map((b, k) => Math.round(b * (1 + 0.55 * front * Math.exp(-(((k - 12) / 2.5) ** 2)) - 0.05 * front))),
      ].join(","),
    );
  }
  return rows.join("\n") + "\n";
}

/** The text files of a run, by their paths in its folder, in the order in which they are written. */
export function hallRunTexts(c: HallCase, states: readonly HallState[]): ReadonlyMap<string, string> {
  const coils = coilsCsv(states);
  return new Map([
    [
      "case.json",
      JSON.stringify(
        { fan: { value: c.fan, unit: "%" }, doorOpen: { value: c.doorOpen, unit: "s" }, curtain: c.curtain },
        null,
        2,
      ) + "\n",
    ],
    ["monitors/hall.csv", hallCsv(states, c.id === IN_CELSIUS)],
    ["monitors/coils.csv", c.id === CUT_OFF ? coils.slice(0, Math.floor(coils.length * 0.61)) : coils],
    ...(c.id === WITHOUT_SENSORS ? [] : [["monitors/sensors.dat", sensorsDat(states)] as const]),
    ["solver.log", solverLog(c, states, c.id === STOPPED)],
    ["load/cells_per_worker.csv", cellsPerWorker(c)],
  ]);
}

/** The states of a case, second by second, up to where its run ends. */
export function hallStates(c: HallCase): HallState[] {
  const states: HallState[] = [];
  solveHall(c, c.id === STOPPED ? STOPPED_AT : END, (s) => states.push({ ...s, zones: s.zones.slice() }));
  return states;
}

/** The definition of the study. */
export const hallDefinition = {
  oxtrum: 1,
  title: "the hall when the door opens",
  runs: { pattern: "runs/{fan:%}_{doorOpen:s}_{curtain}" },
  parameters: {
    fan: { unit: "%", label: "fan speed" },
    doorOpen: { unit: "s", label: "door open" },
    curtain: { label: "curtain" },
  },
  files: { "fields/hall": { path: "fields/hall_*.vtu", times: { step: "1 s" } } },
  accept: {
    "reached the end": { table: "monitors/hall.csv", value: "last(time)", above: "1799 s" },
    converged: {
      lines: "solver.log",
      read: ["t {time:s} s | it {iteration} | dT {dT:1} | dU {dU:1}"],
      value: "last(dT)",
      below: 1e-4,
    },
  },
  states: {
    finished: { file: "solver.log", text: "finished" },
    failed: { file: "solver.log", text: "stopped:" },
    diverging: {
      lines: "solver.log",
      read: ["t {time:s} s | it {iteration} | dT {dT:1} | dU {dU:1}"],
      value: "last(dT)",
      above: 1e-3,
    },
    stalledAfter: "2 min",
    progress: { table: "monitors/hall.csv", value: "last(time)", end: "1800 s" },
  },
  units: {
    "load/cells_per_worker.csv": { "cells_*": "1" },
    fields: {
      temperature: "K",
      velocity: "m/s",
      pressure: "Pa",
      humidity: "1",
      heat_flux: "W/m^2",
      wall_shear: "Pa",
      x: "m",
    },
  },
};

/** Writes the study of the hall when the door opens. */
export function writeHallStudy(folder: string): void {
  const runsTable = ["run,fan [%],doorOpen [s],curtain"];
  for (const c of hallCases()) {
    const states = hallStates(c);
    const run = path.join(folder, "runs", c.id);
    for (const [file, text] of hallRunTexts(c, states)) write(path.join(run, file), text);
    writeHallFields(run, c, states, c.id === CUT_OFF);
    runsTable.push(`${c.id},${c.fan},${c.doorOpen},${c.curtain}`);
    if (c.id === "075_080_none") write(path.join(folder, "measured/loggers.csv"), loggers(states));
  }
  write(path.join(folder, "runs.csv"), runsTable.join("\n") + "\n");
  write(path.join(folder, "points/product.csv"), products());
  write(path.join(folder, "oxtrum.study.json"), JSON.stringify(hallDefinition, null, 2) + "\n");
}

/** The clock of the loggers runs this much behind, s. */
export const CLOCK_OFFSET = 42;

/** "Measured" temperatures: the run with fan 75 % and 80 s, with noise and a clock that is off, every 10 s. */
function loggers(states: readonly HallState[]): string {
  const random = seeded(2024);
  const rows = ["time [s];L1 [degC];L2 [degC];L3 [degC];L4 [degC]"];
  for (const s of states.filter((x) => x.time % 10 === 0 && x.time >= CLOCK_OFFSET))
    rows.push(
      [
        s.time - CLOCK_OFFSET,
        ...[0, 1, 2, 3].map((k) => fixed(s.zones[4 + k]! - 273.15 + 0.06 * normal(random), 3).replace(".", ",")),
      ].join(";"),
    );
  return rows.join("\r\n") + "\r\n";
}

function products(): string {
  const random = seeded(40);
  const rows = ["product,z [m],x [m],y [m]"];
  for (let k = 1; k <= 40; k++)
    rows.push(
      [
        `P${String(k).padStart(2, "0")}`,
        fixed(0.4 + 4.8 * random(), 3),
        fixed(3 + 18 * random(), 3),
        fixed(k % 2 === 0 ? 2.4 + random() : 8.2 + random(), 3),
      ].join(","),
    );
  return rows.join("\n") + "\n";
}
