// Follows 200 runs × 5 files, a line written to each of them every second, and tells memory, processor share and the
// time from a write to its answer, minute by minute: npm run endure:following -- [MINUTES] [RUNS] [ROWS],
// with so many rows in each file at the beginning
import { mkdtempSync, rmSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { buildBundle, buildPackages, ensureInstalled } from "./ensure.mjs";

ensureInstalled();
buildPackages();
buildBundle();
const { endureFollowing } = await import("../packages/server/dist/testing/endure-following.js");
const base = mkdtempSync(path.join(os.tmpdir(), "oxtrum-following-"));
const say = (t) => process.stderr.write(`${t}\n`);
const [minutes = 60, runs = 200, rows = 1] = process.argv.slice(2).map(Number);
const result = await endureFollowing(base, minutes, runs, say, rows);
rmSync(base, { recursive: true, force: true });
process.stdout.write(JSON.stringify(result, null, 2) + "\n");
process.exit(result.broken.length > 0 ? 1 : 0);
