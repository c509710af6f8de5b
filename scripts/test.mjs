// Everything that has to hold: types, lint, format, unit tests, end-to-end tests. Ends with a line of counts.
import { spawn } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, rmSync, statfsSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { installation, root } from "./ensure.mjs";

const node = process.execPath;
/** Tests write thousands of small files: where the system has a disk in memory with room for them, onto that. */
function memoryDisk() {
  const TMPFS = 0x01021994;
  try {
    const { type, bavail, bsize } = statfsSync("/dev/shm");
    return type === TMPFS && bavail * bsize >= 4e9 ? "/dev/shm" : os.tmpdir();
  } catch {
    return os.tmpdir();
  }
}
const scratch = mkdtempSync(path.join(memoryDisk(), "oxtrum-test-"));
process.env.TMPDIR = scratch;
let passed = 0;
let failed = 0;
/** Names of what has failed, told at the end again. */
const failures = [];

function count(good, name) {
  if (good) return void passed++;
  failed++;
  failures.push(name);
}

/**
 * The browser: Debian's Chromium without a window of its own, which takes half of the time of the whole one. It is
 * installed, if it has to be, while other steps run.
 */
async function browser() {
  const known = [process.env.CHROMIUM_BIN, "/usr/bin/chromium-headless-shell", "/usr/bin/chromium"];
  const found = () => known.find((file) => file && existsSync(file));
  if (found()) return found();
  const sudo = process.getuid?.() === 0 ? [] : ["sudo"];
  const apt = (...args) =>
    new Promise((done) => {
      const [program, ...given] = [...sudo, "apt-get", "-qq", ...args];
      const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
      let said = "";
      const child = spawn(program, given, { env, stdio: ["ignore", "pipe", "pipe"] });
      for (const from of [child.stdout, child.stderr]) from.on("data", (d) => (said += d));
      child.on("error", (e) => done(e.message)).on("close", (code) => done(code === 0 ? "" : said));
    });
  let trouble = await apt("update");
  for (const name of ["chromium-headless-shell", "chromium"]) {
    trouble = await apt("install", "-y", "--no-install-recommends", name);
    if (trouble === "" && found()) return found();
  }
  process.stdout.write(`Chromium cannot be installed: ${trouble}\n`);
  return "/usr/bin/chromium";
}

const spawned = (args, options = {}) =>
  new Promise((done) =>
    spawn(node, args, { cwd: root, stdio: "inherit", ...options }).on("close", (c) => done(c === 0)),
  );
/** Steps that do not touch each other go side by side. */
async function together(name, parts) {
  const start = Date.now();
  process.stdout.write(`\n== ${name}\n`);
  const good = await Promise.all(parts);
  process.stdout.write(
    `== ${name}: ${good.every(Boolean) ? "good" : "FAILED"} (${((Date.now() - start) / 1000).toFixed(1)} s)\n`,
  );
  return good;
}

const chromium = process.argv.includes("--no-e2e") ? undefined : browser();
const install = installation();
if (install) {
  const code = await new Promise((done) => spawn(...install, { cwd: root, stdio: "inherit" }).on("close", done));
  if (code !== 0) process.exit(code ?? 1);
}
const tsc = (...projects) =>
  spawned(["node_modules/typescript-native/bin/tsc", "-b", ...projects, "--checkers", "1", "--builders", "2"]);
const given = process.argv.slice(2).filter((a) => a !== "--no-e2e");
const roots = (...names) => names.flatMap((name) => ["--roots", `packages/${name}/dist`]);
/** What is tested together: by which configuration of the runner, and with what else. */
const suites = Object.fromEntries(
  [
    // They need the least and are there first: they take what the steps before all others leave of the cores.
    ["core", "unit tests of core and contract", "jest.config.js", "--maxWorkers=1", ...roots("core", "contract")],
    ["unit", "unit tests", "jest.config.js", ...roots("engine", "server", "cli"), "--roots", "demo/dist"],
    ["pages", "tests of pages", "jest.pages.config.js"],
  ].map(([id, name, config, ...args]) => [id, { name, config, args, report: path.join(scratch, `${id}.json`) }]),
);
const tested = ({ config, args, report }) =>
  spawned([
    "node_modules/jest/bin/jest.js",
    "--config",
    config,
    "--json",
    `--outputFile=${report}`,
    ...args,
    // Of what is asked for, one of them may hold nothing.
    ...(given.length > 0 ? ["--passWithNoTests", ...given] : []),
  ]);

const reading = await together("types of core, lint, format", [
  tsc("packages/contract", "packages/core"),
  spawned(["node_modules/oxlint/bin/oxlint", "-c", "oxlint.config.mjs", "."]),
  spawned(["node_modules/oxfmt/bin/oxfmt", "--check", "."]),
]);
reading.forEach((good, k) => count(good, ["types of core", "lint and import circles", "format"][k]));
if (!reading[0]) process.exit(1);
const core = tested(suites.core);
const [types] = await together("all types", [tsc()]);
count(types, "all types");
if (!types) process.exit(1);
const making = await together("demo data, web application, measurements", [
  spawned(["scripts/demo-data.mjs"]),
  spawned(["scripts/build-web.mjs"]),
  spawned(["scripts/bundling/bundle.mjs"]),
  spawned(["scripts/web-tests.mjs"]),
  // What is measured only now and then has to load all the same.
  spawned(["bench/measure.mjs"]),
]);
const made = ["demo data", "web application", "bundle", "tests of pages, built", "measurements load"];
making.forEach((good, k) => count(good, made[k]));
await together("unit tests", [core, tested(suites.unit)]);
const e2e = path.join(scratch, "e2e.json");
/** What users do, in the browser. */
async function used() {
  const env = { ...process.env, CHROMIUM_BIN: await chromium, PLAYWRIGHT_JSON_OUTPUT_NAME: e2e };
  return spawned(["node_modules/@playwright/test/cli.js", "test", "--reporter=list,json"], { env });
}
// Side by side: who follows a study that grows waits most of the time.
if (chromium) await together("tests of pages, end-to-end tests", [tested(suites.pages), used()]);
else await together("tests of pages", [tested(suites.pages)]);

let found = 0;
for (const { name, report } of Object.values(suites)) {
  if (!existsSync(report)) {
    count(false, `${name} gave no report`);
    continue;
  }
  const r = JSON.parse(readFileSync(report, "utf8"));
  found += r.numTotalTests;
  passed += r.numPassedTests;
  failed += r.numFailedTests + r.numRuntimeErrorTestSuites;
  for (const suite of r.testResults) {
    for (const t of suite.assertionResults) if (t.status === "failed") failures.push(`${suite.name}: ${t.fullName}`);
    if (suite.status === "failed" && suite.assertionResults.length === 0) failures.push(`${suite.name} did not run`);
  }
}
if (found === 0) count(false, "no unit test was found");

if (existsSync(e2e)) {
  const { stats, suites: files } = JSON.parse(readFileSync(e2e, "utf8"));
  passed += stats.expected;
  failed += stats.unexpected + stats.flaky;
  for (const { file, specs } of files) for (const t of specs) if (!t.ok) failures.push(`${file}: ${t.title}`);
} else if (chromium) count(false, "end-to-end tests gave no report");
rmSync(scratch, { recursive: true, force: true });
for (const f of failures) process.stdout.write(`failed: ${f}\n`);
process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
process.exit(failed > 0 ? 1 : 0);
