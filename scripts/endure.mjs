// Stops jobs, kills their processes and kills the server at random moments: npm run endure -- [ROUNDS] [SEED]
import { existsSync, mkdtempSync, rmSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { buildPackages, ensureInstalled, root, run } from "./ensure.mjs";

ensureInstalled();
buildPackages();
const folder = path.join(root, "demo/data/coldstore-doors");
if (!existsSync(folder)) run(process.execPath, ["demo/dist/make.js", path.join(root, "demo/data")]);
const { endure } = await import("../packages/server/dist/testing/endure.js");
const dataFolder = mkdtempSync(path.join(os.tmpdir(), "oxtrum-endure-"));
const rounds = Number(process.argv[2] ?? 200);
const result = await endure({
  dataFolder,
  study: { name: "coldstore-doors", folder },
  script: `import { study, across, chart, emit } from "oxtrum";
const t = study("coldstore-doors").runs.where({ curtain: "none", fan: [50, 75, 100] }).map((run) => run.table("monitors/hall.csv").derive("d", "T_mean * (2 + @round)"));
emit.table("peaks", t.rows((x, run) => ({ fan: run.params.fan, peak: x.max("d") })));
emit.chart("air", chart.lines(t, { x: "time", y: "d", color: "fan" }));
emit.table("band", across(t, { on: "time", columns: ["d"], percentiles: [5, 95] }));
`,
  rounds,
  seed: Number(process.argv[3] ?? 1),
  longest: 3000,
  tell: (k) => process.stderr.write(k % 20 === 19 ? `${k + 1} of ${rounds}\n` : ""),
});
rmSync(dataFolder, { recursive: true, force: true });
process.stdout.write(JSON.stringify(result, null, 2) + "\n");
process.exit(result.broken.length > 0 ? 1 : 0);
