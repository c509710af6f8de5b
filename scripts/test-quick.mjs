// Unit tests that a change touches: of files that differ from the last commit, or from the one that is named,
// as in npm run test:quick -- main
import { execFileSync, spawnSync } from "node:child_process";
import { existsSync } from "node:fs";
import path from "node:path";
import { ensureInstalled, root } from "./ensure.mjs";

ensureInstalled();
const [since = "HEAD", ...more] = process.argv.slice(2);
const git = (...args) => execFileSync("git", args, { cwd: root, encoding: "utf8" }).split("\n").filter(Boolean);
const changed = [...git("diff", "--name-only", since, "--"), ...git("ls-files", "--others", "--exclude-standard")];
const node = (...args) => spawnSync(process.execPath, args, { cwd: root, stdio: "inherit" }).status ?? 1;

let status = node("node_modules/typescript-native/bin/tsc", "-b", "--checkers", "1", "--builders", "2");
// Some tests start programs as users do; it is made only where what is compiled has changed.
if (status === 0) status = node("scripts/bundling/bundle.mjs");
// The compiled files stand beside the sources, and are what tests import.
const compiled = changed
  .map((f) => /^(packages\/[\w-]+|demo)\/src\/(.*)\.tsx?$/.exec(f))
  .flatMap((m) => (m ? [path.join(m[1], "dist", `${m[2]}.js`)] : []))
  .filter((f) => existsSync(path.join(root, f)));
if (status === 0 && changed.some((f) => f.startsWith("packages/web/src/"))) {
  status = node("scripts/web-tests.mjs");
  if (status === 0) status = node("node_modules/jest/bin/jest.js", "--config", "jest.pages.config.js");
}
if (status === 0 && compiled.length === 0) process.stdout.write("no source differs: no test is touched\n");
else if (status === 0) {
  process.stdout.write(`${compiled.length} changed file${compiled.length === 1 ? "" : "s"}\n`);
  const jest = ["node_modules/jest/bin/jest.js"];
  status = node(...jest, "--findRelatedTests", "--passWithNoTests", ...more, ...compiled);
}
process.exit(status);
