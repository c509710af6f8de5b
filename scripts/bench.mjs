// Measures, side by side in one run: npm run bench [-- NAME …]. OXTRUM_BENCH_FULL=1 takes the large sizes.
import { spawnSync } from "node:child_process";
import os from "node:os";
import { buildBundle, buildPackages, ensureInstalled, root } from "./ensure.mjs";

ensureInstalled();
buildPackages();
buildBundle();
const measure = (...name) =>
  spawnSync(process.execPath, ["--max-old-space-size=6000", "bench/measure.mjs", ...name], {
    cwd: root,
    encoding: "utf8",
    stdio: ["ignore", "pipe", "inherit"],
  });
const listed = measure();
if (listed.status !== 0) process.exit(1);
const names = process.argv.slice(2).length > 0 ? process.argv.slice(2) : JSON.parse(listed.stdout);
process.stdout.write(
  `${os.cpus()[0]?.model ?? "?"}, ${os.availableParallelism()} cores, Node ${process.versions.node}\n`,
);
for (const name of names) {
  const r = measure(name);
  process.stdout.write(`\n${name}\n`);
  if (r.status !== 0) {
    process.stdout.write("  failed\n");
    process.exitCode = 1;
  } else
    for (const [what, value] of Object.entries(JSON.parse(r.stdout)))
      process.stdout.write(`  ${typeof value === "number" ? Number(value.toPrecision(3)) : value}  ${what}\n`);
}
