// Runs one measurement in a process of its own and tells its figures: node bench/measure.mjs NAME. Without one, lists
// them.
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { bufferSource, memoryGrid, openMesh, readLargeTextTable } from "@oxtrum/core/formats";
import { boundaryFaces, cutByPlane, interpolate, loadMesh, locate } from "@oxtrum/core/mesh";
import { Block, reduceSite } from "@oxtrum/core/sampling";
import { toCsv, toParquet, toXlsx } from "@oxtrum/core/exports";
import {
  across,
  crossCorrelation,
  fit,
  groupBy,
  lowpass,
  mean,
  meanError,
  peaks,
  smooth,
  spectrum,
  std,
  timeShift,
} from "@oxtrum/core/statistics";
import { makeTable, numberColumn } from "@oxtrum/core/tables";
import { scanStudy } from "@oxtrum/engine";
import { writeUnstructured } from "../packages/core/dist/formats/vtk/tests/write-xml.js";
import { fieldArgs } from "../packages/engine/dist/verbs/field-arguments.js";
import { executeField } from "../packages/engine/dist/verbs/field/index.js";
import { csvFile, full, job, scratch, seconds, study, tetrahedra } from "./data.mjs";
import { drawings } from "./drawings.mjs";
import { following } from "./following.mjs";
import { fieldLayout } from "../packages/engine/dist/read/field-layout.js";
import { fieldSource } from "../packages/engine/dist/read/read-fields.js";

const measurements = {
  ...following,
  async csv() {
    const file = csvFile(full ? 1000 : 200);
    const size = fs.statSync(file).size;
    const out = {};
    for (const threads of [1, 2]) {
      const [s] = seconds(() => readLargeTextTable(file, file, size, undefined, {}, undefined, threads));
      out[`MB/s, ${threads} thread${threads > 1 ? "s" : ""}`] = size / 1e6 / s;
    }
    const text = fs.readFileSync(csvFile(200), "latin1");
    const [plain] = seconds(() => text.split("\n").map((l) => l.split(",").map(Number)).length);
    out["MB/s, split and Number()"] = 200 / plain;
    return out;
  },
  async band() {
    const n = 20_000;
    const time = Float64Array.from({ length: n }, (_, i) => i);
    const tables = Array.from({ length: 300 }, (_, r) =>
      makeTable(
        [
          numberColumn("time", "s", time),
          numberColumn(
            "T",
            "K",
            time.map((t) => 280 + Math.sin((t + r) / 500)),
          ),
        ],
        { axis: "time" },
      ),
    );
    const [s] = seconds(() => across(tables, { on: "time", columns: ["T"] }));
    const [p] = seconds(() => across(tables, { on: "time", columns: ["T"], percentiles: [5, 95] }));
    const governing = tables.map((_, k) => String(k));
    const [g] = seconds(() => across(tables, { on: "time", columns: ["T"], confidence: 0.95, governing }));
    return {
      "s, 300 runs × 20,000 rows": s,
      "s, with two percentiles": p,
      "s, with intervals and the runs that govern": g,
    };
  },
  async statistics() {
    const history = (n, f) =>
      makeTable(
        [
          numberColumn(
            "time",
            "s",
            Float64Array.from({ length: n }, (_, i) => i / 100),
          ),
          numberColumn(
            "y",
            "m",
            Float64Array.from({ length: n }, (_, i) => f(i)),
          ),
        ],
        { axis: "time" },
      );
    const wave = (i) => Math.sin(i / 7) + 0.3 * Math.cos(i / 3.1) + (((i * 2654435761) % 2 ** 32) / 2 ** 32 - 0.5);
    const [long, middle] = [history(1e7, wave), history(1e6, wave)];
    const rows = [10, 20, 40, 80, 160, 320, 640, 1280, 2560, 5120, 10240, 20480];
    const points = (k) =>
      makeTable([
        numberColumn("x", "1", rows),
        numberColumn(
          "y",
          "1",
          rows.map((x, i) => 0.02 * x ** 0.8 * (1 + 0.01 * Math.sin(k + i))),
        ),
      ]);
    const sets = Array.from({ length: 10_000 }, (_, k) => points(k));
    const grouped = makeTable([
      numberColumn(
        "k",
        "1",
        Float64Array.from({ length: 1e6 }, (_, i) => i % 1000),
      ),
      numberColumn("y", "m", middle.columns[1].values),
    ]);
    const [a, b] = [
      history(2000, (i) => Math.exp(-(((i - 800) / 90) ** 2))),
      history(2000, (i) => Math.exp(-(((i - 833) / 90) ** 2))),
    ];
    const time = (f) => seconds(f)[0];
    return {
      "s, mean and deviation of 10 M rows": time(() => [mean(long, "y"), std(long, "y")]),
      "s, unweighted": time(() => [mean(long, "y", "none"), std(long, "y", "none")]),
      "s, spectrum of 10 M rows": time(() => spectrum(long, "y")),
      "s, spectrum of 10 M rows, segments of 1,024": time(() => spectrum(long, "y", { length: 1024 })),
      "s, 10,000 power laws through 12 points": time(() =>
        sets.forEach((t) => fit(t, { kind: "power", y: "y", x: ["x"] })),
      ),
      "s, smoothing 1 M rows by the mean of 101": time(() => smooth(middle, "y", { over: 1 })),
      "s, by parabolas through 101": time(() => smooth(middle, "y", { over: 1, how: "peaks" })),
      "s, low-pass of 1 M rows": time(() => lowpass(middle, "y", { below: 1 })),
      "s, peaks of 1 M rows": time(() => peaks(middle, "y", { prominence: 1 })),
      "s, error of the mean of 1 M rows": time(() => meanError(middle, "y")),
      "s, 1 M rows into 1,000 groups": time(() => groupBy(grouped, ["k"])),
      "s, shift between two histories of 2,000 rows": time(() => timeShift(a, "y", b)),
      "s, their correlation at 1,000 shifts": time(() => crossCorrelation(a, "y", b, { most: 5 })),
    };
  },
  async exports() {
    const n = 1e7;
    const long = makeTable([
      numberColumn(
        "time",
        "s",
        Float64Array.from({ length: n }, (_, i) => i / 100),
      ),
      numberColumn(
        "T",
        "K",
        Float64Array.from({ length: n }, (_, i) => 280 + Math.sin(i)),
      ),
    ]);
    const [parquet, packed] = await seconds(() => toParquet(long));
    const [csv, plain] = seconds(() => toCsv(long));
    const run = makeTable([
      numberColumn(
        "time",
        "s",
        Float64Array.from({ length: 1000 }, (_, i) => i),
      ),
      ...["T", "p", "q"].map((k) =>
        numberColumn(
          k,
          "1",
          Float64Array.from({ length: 1000 }, (_, i) => Math.sin(i)),
        ),
      ),
    ]);
    const sheets = Array.from({ length: 100 }, (_, k) => ({ name: `run ${k}`, table: run }));
    const [xlsx, book] = await seconds(() => toXlsx(sheets, { about: [], digits: 5 }));
    return {
      "s, Parquet of 10 M rows × 2": parquet,
      "MB of it": packed.length / 1e6,
      "s, the same as CSV": csv,
      "MB of that": plain.length / 1e6,
      "s, workbook of 100 runs, 1,000 rows × 4 each": xlsx,
      "MB of the workbook": book.length / 1e6,
    };
  },
  drawings,
  async scan() {
    const folder = study(2000, 20, 50);
    let first;
    const start = performance.now();
    const options = {
      keepIn: path.join(scratch, "catalogues"),
      onRuns: () => (first = (performance.now() - start) / 1000),
    };
    fs.rmSync(options.keepIn, { recursive: true, force: true });
    const [cold] = await seconds(() => scanStudy(folder, options));
    const runs = first;
    const [warm] = await seconds(() => scanStudy(folder, options));
    return { "s to the runs and parameters": runs, "s, 2,000 runs × 20 files, first time": cold, "s, again": warm };
  },
  async many() {
    const folder = study(2000, 20, 50);
    await scanStudy(folder, { keepIn: path.join(scratch, "data", "catalogues") });
    const verbs = Array.from({ length: 16 }, (_, k) => `    .derive("d${k}", "T * ${k + 1}")`).join("\n");
    const cells = Array.from({ length: 33 }, (_, k) => `  m${k}: t.max("d${k % 16}")`).join(",\n");
    const text = `import { study, emit } from "oxtrum";
const t = study("bench").runs.map((run) => run.table("history_0.csv")\n${verbs});\nemit.table("rows", t.rows((t) => ({\n${cells} })));\n`;
    const r = await job(folder, text, { cache: false });
    return {
      "s from the script's start to the first work": r.working - r.script,
      "s to the first square of the grid": r.first - r.script,
      "s in all": r.total,
      "MB of arrays at the peak": r.peak / 1e6,
      ...(r.trouble && { trouble: r.trouble }),
    };
  },
  async probe() {
    const mesh = tetrahedra(69);
    const count = 1e6;
    // Places that repeat in no pattern of the mesh: multiples of an odd constant (Knuth 1973).
    const places = Float64Array.from({ length: 3 * count }, (_, i) => ((i * 2654435761) % 2 ** 32) / 2 ** 32);
    const [first, at] = seconds(() => locate(mesh, places));
    const linear = (x, y, z) => 3 + 2 * x - 5 * y + 7 * z;
    const values = Float64Array.from({ length: mesh.pointCount }, (_, i) =>
      linear(mesh.points[3 * i], mesh.points[3 * i + 1], mesh.points[3 * i + 2]),
    );
    const [again, found] = seconds(() => interpolate(at, values, 1));
    const off = found.reduce(
      (m, v, i) => Math.max(m, Math.abs(v - linear(places[3 * i], places[3 * i + 1], places[3 * i + 2]))),
      0,
    );
    const [few] = seconds(() => locate(mesh, places.subarray(0, 30)));
    const [rest] = seconds(() => locate(mesh, places.subarray(30, 60)));
    const [plane] = seconds(() => cutByPlane(mesh, [0.503, 0, 0], [1, 0.1, 0]));
    const block = new Block(
      memoryGrid("", mesh.points, mesh, [{ name: "q", on: "point", components: 1, type: "float64", values }]),
      "",
    );
    const field = {
      file: "",
      blocks: [block],
      fields: [{ name: "q", stored: "q", on: "point", components: 1, unit: null }],
      lengthUnit: null,
      derived: [],
    };
    void block.digest;
    const mean = (site) => seconds(() => reduceSite(field, site, { m: { mean: "q" }, A: { size: true } }))[0];
    const [outer] = seconds(() => boundaryFaces(mesh));
    return {
      "cells, tetrahedra": mesh.cellCount,
      "s, 1 M probes the first time": first,
      "s, the same probes at the next time": again,
      "largest error of a linear field": off,
      "s, 10 probes": few,
      "s, 10 more, cells sorted into boxes on the way": rest,
      "s, a plane cut": plane,
      "s, plane and area mean": mean({ kind: "plane", point: [0.4, 0, 0], normal: [1, 0.2, 0] }),
      "s, 20 stations with their area means": mean({ kind: "stations", along: "x", from: 0.1, to: 0.9, count: 20 }),
      "s, boundary surface": outer,
    };
  },
  /** The same mesh and field read from files of every encoding. */
  async encodings() {
    const mesh = tetrahedra(40);
    const values = Float64Array.from({ length: mesh.pointCount }, (_, i) => Math.sin(i));
    const cells = {
      points: Array.from(mesh.points),
      cells: Array.from({ length: mesh.cellCount }, (_, c) => ({
        type: 10,
        nodes: Array.from(mesh.nodes.subarray(4 * c, 4 * c + 4)),
      })),
    };
    const fields = [{ on: "point", name: "q", type: "float64", values: Array.from(values) }];
    const out = { "cells, tetrahedra": mesh.cellCount };
    for (const [name, how] of Object.entries({
      ascii: { format: "ascii" },
      "inline base64": { format: "binary" },
      "appended base64": { format: "appended-base64" },
      "appended raw": { format: "appended-raw" },
      "appended raw, zlib": { format: "appended-raw", packed: "zlib", block: 32768 },
      "appended raw, lz4": { format: "appended-raw", packed: "lz4", block: 32768 },
    })) {
      const bytes = writeUnstructured(how, cells, fields, true);
      const [s, sum] = seconds(() => {
        const [grid] = openMesh(bufferSource("m.vtu", bytes), {}).grids;
        return loadMesh(grid, "m").cellCount + grid.readField("point", "q").length;
      });
      if (sum !== mesh.cellCount + mesh.pointCount) throw new Error("not all was read");
      out[`s, points, cells and a field: ${name} (${(bytes.length / 1e6).toFixed(0)} MB)`] = s;
    }
    return out;
  },
  /** One place in 500 files of a raw series, and how many bytes are read for it. */
  async series() {
    const mesh = tetrahedra(32);
    const values = Array.from({ length: mesh.pointCount }, (_, i) => Math.sin(i));
    const cells = {
      points: Array.from(mesh.points),
      cells: Array.from({ length: mesh.cellCount }, (_, c) => ({
        type: 10,
        nodes: Array.from(mesh.nodes.subarray(4 * c, 4 * c + 4)),
      })),
    };
    const fields = ["T", "p", "k"].map((name) => ({ on: "point", name, type: "float64", values }));
    const bytes = writeUnstructured({ format: "appended-raw" }, cells, fields, true);
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-series-"));
    fs.mkdirSync(path.join(folder, "a"));
    fs.writeFileSync(path.join(folder, "a/case.json"), "{}");
    fs.writeFileSync(path.join(folder, "a/f_000.vtu"), bytes);
    for (let k = 1; k < 500; k++)
      fs.linkSync(path.join(folder, "a/f_000.vtu"), path.join(folder, `a/f_${String(k).padStart(3, "0")}.vtu`));
    const read = () => Number(/rchar: (\d+)/.exec(fs.readFileSync("/proc/self/io", "utf8"))[1]);
    const locate = (f) => path.join(folder, "a", f);
    const source = fieldSource(fieldLayout("f_*.vtu", locate), locate, {}, {});
    const args = fieldArgs.parse({
      study: "",
      file: "",
      site: { kind: "points", places: [[0.313, 0.517, 0.713]] },
      fields: ["T"],
    });
    const before = read();
    const [history, table] = seconds(() => executeField("field.history", args, source));
    const took = read() - before;
    if (table.rows !== 500) throw new Error("not all times were read");
    const script = `import { study, at, emit } from "oxtrum";
emit.table("T", study("bench").runs.map((run) => run.field("f_*.vtu").history(at.point([0.313, 0.517, 0.713]), "T")));\n`;
    const start = read();
    const whole = await job(folder, script);
    const byJob = read() - start;
    fs.rmSync(folder, { recursive: true });
    return {
      "MB a file": bytes.length / 1e6,
      "s, one place at 500 times": history,
      "MB read": took / 1e6,
      "times less than the files hold": (500 * bytes.length) / took,
      "s, the same as a job, check and start included": whole.total,
      "MB read by the job, digests of what it used included": byJob / 1e6,
      "times less than the files hold, by the job": (500 * bytes.length) / byJob,
    };
  },
  async again() {
    const folder = study(40, 3, 20_000);
    const text = (k) =>
      `import { study, emit, across, chart } from "oxtrum";
const t = study("bench").runs.map((run) => run.table("history_0.csv"));\nemit.chart("c", chart.band(across(t, { on: "time", columns: ["T"] }), { y: "T", title: "${k}" }));\n`;
    const first = await job(folder, text(1), { mode: "try", tryRuns: { bench: "run_0000" } });
    const second = await job(folder, text(2), { mode: "try", tryRuns: { bench: "run_0000" } });
    const all = await job(folder, text(3));
    const kept = await job(folder, text(4));
    return {
      "s, first Try (modules loaded)": first.total,
      "s, Try after an edit": second.total,
      "s, run on 40": all.total,
      "s, run on 40 from the cache": kept.total,
    };
  },
};

const name = process.argv[2];
if (name === undefined) {
  process.stdout.write(JSON.stringify(Object.keys(measurements)) + "\n");
  process.exit(0);
}
const result = await measurements[name]();
result["MB resident at the peak"] = process.resourceUsage().maxRSS / 1024;
process.stdout.write(JSON.stringify(result) + "\n");
process.exit(0);
