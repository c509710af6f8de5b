// Follows 200 runs × 5 files, a line written to each of them every second, and tells memory, processor share and the
// time from a write to its answer, minute by minute: npm run endure:following -- [MINUTES] [RUNS]
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
const result = await endureFollowing(base, Number(process.argv[2] ?? 60), Number(process.argv[3] ?? 200), say);
rmSync(base, { recursive: true, force: true });
process.stdout.write(JSON.stringify(result, null, 2) + "\n");
process.exit(result.broken.length > 0 ? 1 : 0);
