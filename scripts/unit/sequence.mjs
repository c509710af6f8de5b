// Which test files are begun first: those that take long, so that no thread is left with one at the end. A file's
// length says little of that.
import { statSync } from "node:fs";

/** The longest ones, the longest first. */
const LONG = [
  "cli/dist/examples-fields",
  "cli/dist/examples-tables",
  "server/dist/contract",
  "server/dist/server",
  "server/dist/testing/endure",
  "cli/dist/cli",
  "server/dist/jobs/process",
  "cli/dist/guide",
  "core/dist/exports/chart-files",
  "cli/dist/unchanged",
  "engine/dist/job/check-aside",
  "engine/dist/check/check-process",
  "cli/dist/watch",
  "cli/dist/extending",
  "server/dist/threads/threads",
];

const sizes = new Map();
function weight({ path }) {
  const place = LONG.findIndex((name) => path.endsWith(`/${name}.test.js`));
  if (place >= 0) return 1e9 - place;
  if (!sizes.has(path)) sizes.set(path, statSync(path).size);
  return sizes.get(path);
}

export default class Sequence {
  sort(tests) {
    const isThere = (name) => tests.some(({ path }) => path.endsWith(`/${name}.test.js`));
    const gone = LONG.filter((name) => !isThere(name));
    // Of a part of the tests some are not there.
    if (tests.length > 120 && gone.length > 0) throw new Error(`no such tests, say the longest: ${gone.join(", ")}`);
    return [...tests].sort((a, b) => weight(b) - weight(a));
  }

  shard(tests) {
    return tests;
  }

  allFailedTests(tests) {
    return tests;
  }

  cacheResults() {}
}
