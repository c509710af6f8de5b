// Stops jobs, kills their processes, the server and a process that places outputs, and fills the disk, at random
// moments: npm run endure -- [ROUNDS] [SEED]
import { existsSync, mkdtempSync, rmSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { buildBundle, buildPackages, ensureInstalled, root, run } from "./ensure.mjs";

ensureInstalled();
buildPackages();
buildBundle();
const folder = path.join(root, "demo/data/coldstore-doors");
if (!existsSync(folder)) run(process.execPath, ["demo/dist/make.js", path.join(root, "demo/data")]);
const { endure, numbers } = await import("../packages/server/dist/testing/endure.js");
const { endurePlacing } = await import("../packages/server/dist/testing/endure-placing.js");
const { endureFullDisk } = await import("../packages/server/dist/testing/endure-disk.js");
const base = mkdtempSync(path.join(os.tmpdir(), "oxtrum-endure-"));
const rounds = Number(process.argv[2] ?? 200);
const seed = Number(process.argv[3] ?? 1);
const study = { name: "coldstore-doors", folder };
const script = `import { study, across, chart, emit } from "oxtrum";
const runs = study("coldstore-doors").runs.where({ curtain: "none", fan: [50, 75, 100] });
const t = runs.map((run) => run.table("monitors/hall.csv").derive("d", "T_mean * (2 + @round)"));
emit.table("peaks", t.rows((x, run) => ({ fan: run.params.fan, peak: x.max("d") })));
emit.chart("air", chart.lines(t, { x: "time", y: "d", color: "fan" }));
emit.table("band", across(t, { on: "time", columns: ["d"], percentiles: [5, 95] }));
`;
const say = (t) => process.stderr.write(`${t}\n`);
const server = await endure({
  dataFolder: path.join(base, "server"),
  study,
  script,
  rounds,
  seed,
  longest: 3000,
  tell: (k) => k % 20 === 19 && say(`${k + 1} of ${rounds} stops and kills`),
});
say("kills while outputs are placed");
const placing = await endurePlacing(path.join(base, "placing"), rounds, numbers(seed));
say("full disks");
const full = await endureFullDisk(base, study, script, Math.ceil(rounds / 4), numbers(seed + 1));
rmSync(base, { recursive: true, force: true });
const result = { ...server, placing, fullDisk: full ?? "not done: it needs the right to mount a small disk" };
process.stdout.write(JSON.stringify(result, null, 2) + "\n");
process.exit(server.broken.length + placing.length + (full ?? []).length > 0 ? 1 : 0);
