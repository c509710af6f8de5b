// Gives every reader damaged files, with time and memory watched: npm run fuzz -- [INPUTS] [SEED]
import { buildPackages, ensureInstalled } from "./ensure.mjs";

ensureInstalled();
buildPackages();
const { fuzzAll } = await import("../packages/engine/dist/testing/fuzz-all.js");
const inputs = Number(process.argv[2] ?? 3000);
const results = await fuzzAll(inputs, Number(process.argv[3] ?? 1), (r) => {
  process.stdout.write(
    `${r.target.padEnd(18)} ${r.inputs} inputs, ${r.refused} refused, longest ${r.longest.toFixed(2)} s, ` +
      `most memory ${r.memory.toFixed(0)} MB, ${r.broken.length} broken\n`,
  );
  for (const b of r.broken) process.stdout.write(`  ${b}\n`);
});
process.exit(results.some((r) => r.broken.length > 0) ? 1 : 0);
