// Runs one measurement in a process of its own and tells its figures: node bench/measure.mjs NAME. Without one, lists them.
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { bufferSource, memoryGrid, openMesh, readLargeTextTable } from "@oxtrum/core/formats";
import { boundaryFaces, cutByPlane, interpolate, loadMesh, locate } from "@oxtrum/core/mesh";
import { Block, reduceSite } from "@oxtrum/core/sampling";
import { drawPdf, drawPng, drawPngAside, drawSvg, markdownBlocks, pictureToPng, reportHtml, reportPdf, toCsv, toParquet, toXlsx } from "@oxtrum/core/exports"; // prettier-ignore
import {
  across,
  crossCorrelation,
  fit,
  groupBy,
  lowpass,
  meanError,
  peaks,
  smooth,
  spectrum,
  timeShift,
} from "@oxtrum/core/statistics";
import { makeTable, numberColumn } from "@oxtrum/core/tables";
import { jobRequestSchema, runJob, scanStudy, warmUp } from "@oxtrum/engine";
import { writeUnstructured } from "../packages/core/dist/formats/vtk/tests/write-xml.js";
import { fieldArgs } from "../packages/engine/dist/operations/field-arguments.js";
import { carryOutField } from "../packages/engine/dist/operations/field-verbs.js";
import { fieldLayout } from "../packages/engine/dist/workers/field-layout.js";
import { fieldSource } from "../packages/engine/dist/workers/read-fields.js";

const scratch = process.env.OXTRUM_BENCH ?? path.join(os.tmpdir(), "oxtrum-bench");
fs.mkdirSync(scratch, { recursive: true });
const full = process.env.OXTRUM_BENCH_FULL === "1";
const seconds = (f) => {
  const start = performance.now();
  const result = f();
  return result instanceof Promise
    ? result.then((r) => [(performance.now() - start) / 1000, r])
    : [(performance.now() - start) / 1000, result];
};

/** A numeric CSV of about `mb` megabytes, 20 columns. */
function csvFile(mb) {
  const file = path.join(scratch, `numbers-${mb}.csv`);
  if (fs.existsSync(file)) return file;
  const fd = fs.openSync(`${file}.part`, "w");
  let text = ["time", ...Array.from({ length: 19 }, (_, i) => `c${i}`)].join(",") + "\n";
  let x = 1;
  for (let row = 0, bytes = 0; bytes < mb * 1e6; row++) {
    const cells = [row * 0.01];
    for (let k = 0; k < 19; k++) {
      x = (x * 16807) % 2147483647;
      cells.push((x / 2147483647) * 300);
    }
    text += cells.join(",") + "\n";
    if (text.length > 1e6) {
      bytes += fs.writeSync(fd, text);
      text = "";
    }
  }
  fs.writeSync(fd, text);
  fs.closeSync(fd);
  fs.renameSync(`${file}.part`, file);
  return file;
}

/** A study of many small runs. */
function study(runs, files, rows) {
  const folder = path.join(scratch, `study-${runs}-${files}-${rows}`);
  if (fs.existsSync(folder)) return folder;
  for (let r = 0; r < runs; r++) {
    const run = path.join(`${folder}.part`, `run_${String(r).padStart(4, "0")}`);
    fs.mkdirSync(run, { recursive: true });
    fs.writeFileSync(path.join(run, "case.json"), JSON.stringify({ load: { value: r % 10, unit: "kN" }, seed: r }));
    for (let f = 0; f < files; f++) {
      let text = "time [s],T [K],p [Pa],q [W]\n";
      for (let i = 0; i < rows; i++)
        text += `${i / 10},${(280 + Math.sin((i + r) / 50)).toFixed(6)},${(1e5 + f + i).toFixed(3)},${(i * r) % 97}\n`;
      fs.writeFileSync(path.join(run, `history_${f}.csv`), text);
    }
  }
  fs.renameSync(`${folder}.part`, folder);
  return folder;
}

const job = async (folder, text, more = {}) => {
  const told = {};
  // As the server does: threads are started before a job is asked for.
  const warm = warmUp();
  await new Promise((done) => setTimeout(done, 1000));
  const start = performance.now();
  const result = await runJob(
    jobRequestSchema.parse({
      files: { "main.ts": text },
      main: "main.ts",
      studies: [{ name: "bench", folder }],
      dataFolder: path.join(scratch, "data"),
      ...more,
    }),
    (e) => {
      if (e.type === "cells" && told.first === undefined) told.first = (performance.now() - start) / 1000;
      if (e.type === "stage") told[e.stage] ??= (performance.now() - start) / 1000;
      if (e.type === "message" || e.type === "diagnostics") told.trouble ??= JSON.stringify(e).slice(0, 300);
    },
    undefined,
    warm,
  );
  return { ...told, total: (performance.now() - start) / 1000, exit: result.exit, peak: result.summary.peakBytes };
};

/** The unit cube as 6 n³ tetrahedra. */
function tetrahedra(n) {
  const side = n + 1;
  const points = new Float64Array(3 * side ** 3);
  for (let k = 0, q = 0; k <= n; k++)
    for (let j = 0; j <= n; j++)
      for (let i = 0; i <= n; i++) {
        points[q++] = i / n;
        points[q++] = j / n;
        points[q++] = k / n;
      }
  const at = (i, j, k) => i + side * (j + side * k);
  const tets = [0, 1, 2, 6, 0, 2, 3, 6, 0, 3, 7, 6, 0, 7, 4, 6, 0, 4, 5, 6, 0, 5, 1, 6];
  const cellCount = 6 * n ** 3;
  const nodes = new Int32Array(4 * cellCount);
  let q = 0;
  for (let k = 0; k < n; k++)
    for (let j = 0; j < n; j++)
      for (let i = 0; i < n; i++) {
        const h = [at(i, j, k), at(i + 1, j, k), at(i + 1, j + 1, k), at(i, j + 1, k), at(i, j, k + 1), at(i + 1, j, k + 1), at(i + 1, j + 1, k + 1), at(i, j + 1, k + 1)]; // prettier-ignore
        for (const v of tets) nodes[q++] = h[v];
      }
  const offsets = Int32Array.from({ length: cellCount + 1 }, (_, c) => 4 * c);
  return { points, pointCount: side ** 3, cellCount, types: new Uint8Array(cellCount).fill(10), offsets, nodes, dimension: 3 }; // prettier-ignore
}

const measurements = {
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
    const history = (n, f) => makeTable([numberColumn("time", "s", Float64Array.from({ length: n }, (_, i) => i / 100)), numberColumn("y", "m", Float64Array.from({ length: n }, (_, i) => f(i)))], { axis: "time" }); // prettier-ignore
    const wave = (i) => Math.sin(i / 7) + 0.3 * Math.cos(i / 3.1) + (((i * 2654435761) % 2 ** 32) / 2 ** 32 - 0.5);
    const [long, middle] = [history(1e7, wave), history(1e6, wave)];
    const rows = [10, 20, 40, 80, 160, 320, 640, 1280, 2560, 5120, 10240, 20480];
    const points = (k) => makeTable([numberColumn("x", "1", rows), numberColumn("y", "1", rows.map((x, i) => 0.02 * x ** 0.8 * (1 + 0.01 * Math.sin(k + i))))]); // prettier-ignore
    const sets = Array.from({ length: 10_000 }, (_, k) => points(k));
    const grouped = makeTable([numberColumn("k", "1", Float64Array.from({ length: 1e6 }, (_, i) => i % 1000)), numberColumn("y", "m", middle.columns[1].values)]); // prettier-ignore
    const [a, b] = [history(2000, (i) => Math.exp(-(((i - 800) / 90) ** 2))), history(2000, (i) => Math.exp(-(((i - 833) / 90) ** 2)))]; // prettier-ignore
    const time = (f) => seconds(f)[0];
    return {
      "s, spectrum of 10 M rows": time(() => spectrum(long, "y")),
      "s, spectrum of 10 M rows, segments of 1,024": time(() => spectrum(long, "y", { length: 1024 })),
      "s, 10,000 power laws through 12 points": time(() => sets.forEach((t) => fit(t, { kind: "power", y: "y", x: ["x"] }))),
      "s, smoothing 1 M rows by the mean of 101": time(() => smooth(middle, "y", { over: 1 })),
      "s, by parabolas through 101": time(() => smooth(middle, "y", { over: 1, how: "peaks" })),
      "s, low-pass of 1 M rows": time(() => lowpass(middle, "y", { below: 1 })),
      "s, peaks of 1 M rows": time(() => peaks(middle, "y", { prominence: 1 })),
      "s, error of the mean of 1 M rows": time(() => meanError(middle, "y")),
      "s, 1 M rows into 1,000 groups": time(() => groupBy(grouped, ["k"])),
      "s, shift between two histories of 2,000 rows": time(() => timeShift(a, "y", b)),
      "s, their correlation at 1,000 shifts": time(() => crossCorrelation(a, "y", b, { most: 5 })),
    }; // prettier-ignore
  },
  async exports() {
    const n = 1e7;
    const long = makeTable([numberColumn("time", "s", Float64Array.from({ length: n }, (_, i) => i / 100)), numberColumn("T", "K", Float64Array.from({ length: n }, (_, i) => 280 + Math.sin(i)))]); // prettier-ignore
    const [parquet, packed] = await seconds(() => toParquet(long));
    const [csv, plain] = seconds(() => toCsv(long));
    const run = makeTable([numberColumn("time", "s", Float64Array.from({ length: 1000 }, (_, i) => i)), ...["T", "p", "q"].map((k) => numberColumn(k, "1", Float64Array.from({ length: 1000 }, (_, i) => Math.sin(i))))]); // prettier-ignore
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
  async drawings() {
    const x = Float64Array.from({ length: 20_000 }, (_, i) => i / 10);
    const axis = { title: "Time", unit: "s", scale: "linear" };
    const chart = (n) => ({
      title: `Hall air ${n}`, x: axis, y: { ...axis, title: "T", unit: "degC" },
      series: [0, 1, 2, 3].map((k) => ({ kind: "lines", name: `run ${k}`, x, y: x.map((v) => k + Math.sin(v / 200 + n) + 0.1 * Math.sin(v * 3)), color: { palette: k }, dash: k })),
    }); // prettier-ignore
    const charts = Array.from({ length: 200 }, (_, n) => chart(n));
    const size = { width: 800, height: 450, scale: 2 };
    drawPng(charts[0], size);
    const all = (draw) => seconds(() => charts.reduce((n, c) => n + draw(c, size).length, 0));
    const [[png, pngBytes], [svg, svgBytes], [pdf, pdfBytes]] = [all(drawPng), all(drawSvg), all(drawPdf)];
    const [both] = await seconds(async () => { for (const c of charts) { const aside = drawPngAside(c, size); drawSvg(c, size); await aside; } }); // prettier-ignore
    const body = charts.slice(0, 60).flatMap((c, k) => [
      { kind: "heading", level: 3, text: `output ${k}` },
      { kind: "chart", chart: c, width: 800, height: 450, caption: "four runs" },
      { kind: "table", head: ["run", "peak"], numeric: [false, true], rows: Array.from({ length: 40 }, (_, i) => [`run_${i}`, String(i / 7)]) },
    ]); // prettier-ignore
    const report = { title: "Sixty outputs", cover: markdownBlocks("# Sixty outputs"), body: [{ kind: "heading", level: 2, text: "Outputs" }, ...body] }; // prettier-ignore
    const [html, page] = seconds(() => reportHtml(report));
    const [book, pages] = await seconds(() => reportPdf(report));
    const n = 300;
    const triangles = new Float64Array(18 * n * n);
    const values = new Float64Array(6 * n * n);
    let t = 0;
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++)
        for (const [a, b] of [[0, 0], [1, 0], [1, 1], [0, 0], [1, 1], [0, 1]]) {
          const [u, v] = [(i + a) / n, (j + b) / n];
          triangles.set([u, 0, v], 3 * t);
          values[t++] = Math.sin(9 * u) * Math.cos(7 * v);
        } // prettier-ignore
    const none = new Float64Array(0);
    const picture = { panels: [{ scene: { triangles, values, edges: none, rim: none } }], color: { title: "T", unit: "K", min: -1, max: 1 }, camera: { from: [0, -1, 0], up: [0, 0, 1] }, contours: [-0.5, 0, 0.5], arrows: false, streamlines: false, mesh: false, sites: [], lengthUnit: "m" }; // prettier-ignore
    const [drawn] = seconds(() => pictureToPng(picture));
    return {
      "s, 200 charts of 4 × 20,000 points as PNG, 1600 × 900": png,
      "MB of them": pngBytes / 1e6,
      "s, as SVG": svg,
      "MB of these": svgBytes / 1e6,
      "s, as PDF": pdf,
      "MB of those": pdfBytes / 1e6,
      "s, as PNG and SVG together, as a job does": both,
      "s, report of 60 charts and tables as HTML": html,
      "MB of it": page.length / 1e6,
      "s, as PDF with contents": book,
      "MB of that": pages.length / 1e6,
      "s, picture of 180,000 triangles with contours, 1600 × 1040": drawn,
      "MB resident": process.memoryUsage.rss() / 1e6,
    };
  },
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
    const text = `import { study, emit } from "oxtrum";\nconst t = study("bench").runs.map((run) => run.table("history_0.csv")\n${verbs});\nemit.table("rows", t.rows((t) => ({\n${cells} })));\n`;
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
    const block = new Block(memoryGrid("", mesh.points, mesh, [{ name: "q", on: "point", components: 1, type: "float64", values }]), ""); // prettier-ignore
    const field = { file: "", blocks: [block], fields: [{ name: "q", stored: "q", on: "point", components: 1, unit: null }], lengthUnit: null, derived: [] }; // prettier-ignore
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
    const cells = { points: Array.from(mesh.points), cells: Array.from({ length: mesh.cellCount }, (_, c) => ({ type: 10, nodes: Array.from(mesh.nodes.subarray(4 * c, 4 * c + 4)) })) }; // prettier-ignore
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
    const cells = { points: Array.from(mesh.points), cells: Array.from({ length: mesh.cellCount }, (_, c) => ({ type: 10, nodes: Array.from(mesh.nodes.subarray(4 * c, 4 * c + 4)) })) }; // prettier-ignore
    const fields = ["T", "p", "k"].map((name) => ({ on: "point", name, type: "float64", values }));
    const bytes = writeUnstructured({ format: "appended-raw" }, cells, fields, true);
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-series-"));
    fs.mkdirSync(path.join(folder, "a"));
    fs.writeFileSync(path.join(folder, "a/case.json"), "{}");
    fs.writeFileSync(path.join(folder, "a/f_000.vtu"), bytes);
    for (let k = 1; k < 500; k++) fs.linkSync(path.join(folder, "a/f_000.vtu"), path.join(folder, `a/f_${String(k).padStart(3, "0")}.vtu`)); // prettier-ignore
    const read = () => Number(/rchar: (\d+)/.exec(fs.readFileSync("/proc/self/io", "utf8"))[1]);
    const locate = (f) => path.join(folder, "a", f);
    const source = fieldSource(fieldLayout("f_*.vtu", locate), locate, {}, {});
    const args = fieldArgs.parse({ study: "", file: "", site: { kind: "points", places: [[0.313, 0.517, 0.713]] }, fields: ["T"] }); // prettier-ignore
    const before = read();
    const [history, table] = seconds(() => carryOutField("field.history", args, source));
    const took = read() - before;
    if (table.rows !== 500) throw new Error("not all times were read");
    const script = 'import { study, at, emit } from "oxtrum";\nemit.table("T", study("bench").runs.map((run) => run.field("f_*.vtu").history(at.point([0.313, 0.517, 0.713]), "T")));\n'; // prettier-ignore
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
      `import { study, emit, across, chart } from "oxtrum";\nconst t = study("bench").runs.map((run) => run.table("history_0.csv"));\nemit.chart("c", chart.band(across(t, { on: "time", columns: ["T"] }), { y: "T", title: "${k}" }));\n`;
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
