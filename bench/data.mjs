// What measurements are made on: files, studies, meshes and jobs.
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { jobRequestSchema, runJob, warmUp } from "@oxtrum/engine";

export const scratch = process.env.OXTRUM_BENCH ?? path.join(os.tmpdir(), "oxtrum-bench");
fs.mkdirSync(scratch, { recursive: true });
export const full = process.env.OXTRUM_BENCH_FULL === "1";
/** How long something takes, and what it gives. */
export const seconds = (f) => {
  const start = performance.now();
  const result = f();
  return result instanceof Promise
    ? result.then((r) => [(performance.now() - start) / 1000, r])
    : [(performance.now() - start) / 1000, result];
};

/** A numeric CSV of about `mb` megabytes, 20 columns. */
export function csvFile(mb) {
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
export function study(runs, files, rows) {
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

/** A job, with the times of its stages. */
export const job = async (folder, text, more = {}) => {
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
export function tetrahedra(n) {
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
        const h = [
          at(i, j, k),
          at(i + 1, j, k),
          at(i + 1, j + 1, k),
          at(i, j + 1, k),
          at(i, j, k + 1),
          at(i + 1, j, k + 1),
          at(i + 1, j + 1, k + 1),
          at(i, j + 1, k + 1),
        ];
        for (const v of tets) nodes[q++] = h[v];
      }
  const offsets = Int32Array.from({ length: cellCount + 1 }, (_, c) => 4 * c);
  return {
    points,
    pointCount: side ** 3,
    cellCount,
    types: new Uint8Array(cellCount).fill(10),
    offsets,
    nodes,
    dimension: 3,
    lowerCells: 0,
  };
}
