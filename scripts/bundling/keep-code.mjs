// Runs the programs of a bundle on a small study, and keeps what compiling them gave: see start.cjs.
import { spawn } from "node:child_process";
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import os from "node:os";
import path from "node:path";

const [folder, target] = process.argv.slice(2);
const scratch = mkdtempSync(path.join(os.tmpdir(), "oxtrum-code-"));
const env = { ...process.env, OXTRUM_DATA: path.join(scratch, "data"), OXTRUM_KEEP_CODE: target };
const study = path.join(scratch, "small");
for (const [run, rise] of [
  ["run-1", 2],
  ["run-2", 3],
]) {
  mkdirSync(path.join(study, run), { recursive: true });
  const rows = Array.from({ length: 40 }, (_, i) => `${i},${5 + rise * (1 - Math.exp(-i / 10))},${i % 3}`);
  writeFileSync(path.join(study, run, "hall.csv"), ["time [s],T [degC],n", ...rows, ""].join("\n"));
  writeFileSync(path.join(study, run, "run.json"), JSON.stringify({ fan: 50 * rise }));
  const grid = [
    "# vtk DataFile Version 3.0\nhall\nASCII\nDATASET STRUCTURED_POINTS\nDIMENSIONS 3 3 3\nORIGIN 0 0 0\nSPACING 1 1 1",
    "POINT_DATA 27\nSCALARS T double 1\nLOOKUP_TABLE default",
    Array.from({ length: 27 }, (_, i) => i * rise).join(" "),
  ];
  writeFileSync(path.join(study, run, "field.vtk"), `${grid.join("\n")}\n`);
}
const text = `import { study, at, across, chart, emit, q } from "oxtrum";
const runs = study("small").runs;
const hall = runs.map((run) => run.table("hall.csv").window("time", ["1 s", "30 s"]).derive("d", "2 * n + 1"));
const rows = hall.rows((t) => ({ peak: t.max("T").in("degC"), mean: t.mean("T"), last: t.last("d") }));
emit.chart("hall", chart.lines(hall, { x: "time", y: "T", title: "Air" }), { formats: ["svg", "png"] });
emit.chart("band", chart.lines(across(hall, { columns: ["T"] }), { x: "time", y: "T.mean" }));
emit.table("rows", rows.sortBy("peak"), { formats: ["csv", "json", "xlsx", "parquet"] });
emit.check("limit", rows.max("peak"), { below: q("90 degC") });
emit.value("mean", rows.mean("peak"));
emit.table("line", runs.map((run) => run.field("field").sample(at.line([0, 0, 0], [2, 2, 2], { count: 5 }), "T")));
`;
const script = path.join(scratch, "small.ts");
writeFileSync(script, text);

const command = ["run", script, "--study", `small=${study}`, "--out", path.join(scratch, "out")];
const run = spawn(process.execPath, [path.join(folder, "process.cjs"), ...command], { env });
let said = "";
for (const from of [run.stdout, run.stderr]) from.on("data", (text) => (said += text));
const ran = new Promise((done) => run.on("close", done));

const port = await new Promise((done) => {
  import("node:net").then(({ createServer }) => {
    const free = createServer().listen(0, "127.0.0.1", () => {
      const { port } = free.address();
      free.close(() => done(port));
    });
  });
});
const server = spawn(process.execPath, [path.join(folder, "server.cjs")], {
  env: { ...env, PORT: String(port), HOST: "127.0.0.1" },
  stdio: ["ignore", "ignore", "inherit"],
});
const ended = new Promise((done) => server.on("exit", done));
const ask = async (where, body, method = body === undefined ? "GET" : "POST") => {
  const answer = await fetch(`http://127.0.0.1:${port}${where}`, {
    method,
    ...(body !== undefined && { body: JSON.stringify(body), headers: { "content-type": "application/json" } }),
  });
  const got = await answer.text();
  if (!answer.ok) throw new Error(`${where}: ${answer.status} ${got}`);
  return got === "" ? undefined : JSON.parse(got);
};
const pause = (ms) => new Promise((done) => setTimeout(done, ms));
while (server.exitCode === null && !(await fetch(`http://127.0.0.1:${port}/api/health`).catch(() => undefined))?.ok)
  await pause(50);
try {
  await ask("/api/studies", { name: "small", folder: study });
  await ask("/api/studies/small");
  await ask("/api/scripts/small.ts", { text }, "PUT");
  await ask("/api/scripts/small.ts/check", { text });
  const last = [];
  for (const mode of ["try", "run", "run"]) {
    const { id } = await ask("/api/jobs", { script: "small.ts", text, mode });
    for (;;) {
      const job = await ask(`/api/jobs/${id}`);
      if (!["waiting", "running"].includes(job.state)) break;
      await pause(100);
    }
    last.unshift(id);
  }
  await ask(`/api/jobs/${last[0]}/diff/${last[1]}`);
  await ask("/api/studies/small/live", {
    runs: ["run-1", "run-2"],
    quantities: [{ quantity: { kind: "table", file: "hall.csv", column: "T" }, along: "axis" }],
  });
  await ask("/api/studies/small/survey/outline", { run: "run-1", file: "field" });
  if ((await ran) !== 0) throw new Error(`the small job failed: ${said}`);
} finally {
  server.kill("SIGTERM");
  run.kill("SIGTERM");
  await Promise.all([ended, ran]);
  rmSync(scratch, { recursive: true, force: true });
}
