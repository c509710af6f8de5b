// Installs and builds what is missing; needs nothing but Node and npm.
import { spawnSync } from "node:child_process";
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";

export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), "..");

export function run(command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: root, stdio: "inherit", ...options });
  if (result.error) throw result.error;
  if (result.status !== 0) process.exit(result.status ?? 1);
}

const newer = (a, b) => statSync(path.join(root, a)).mtimeMs > statSync(path.join(root, b)).mtimeMs;

/** What installs the packages, unless what is installed is what the lock file says. */
export function installation() {
  const mark = "node_modules/.package-lock.json";
  if (existsSync(path.join(root, mark)) && !newer("package-lock.json", mark)) return undefined;
  return [process.platform === "win32" ? "npm.cmd" : "npm", ["ci", "--no-audit", "--no-fund"]];
}

export function ensureInstalled() {
  const install = installation();
  if (install) run(...install);
}

export function buildPackages() {
  run(process.execPath, ["node_modules/typescript-native/bin/tsc", "-b", "--checkers", "1", "--builders", "2"]);
}

/** The command and the job in few files, when they are not those that were compiled last. */
export function buildBundle() {
  run(process.execPath, ["scripts/bundling/bundle.mjs"]);
}

function newest(folder) {
  let latest = 0;
  for (const e of readdirSync(path.join(root, folder), { withFileTypes: true, recursive: true }))
    if (e.isFile()) latest = Math.max(latest, statSync(path.join(e.parentPath ?? e.path, e.name)).mtimeMs);
  return latest;
}

/** Puts a compressed copy beside each file that gets smaller by it: the server sends these as they are. */
function compress(folder) {
  for (const e of readdirSync(folder, { withFileTypes: true, recursive: true })) {
    if (!e.isFile() || !/\.(?:js|css|svg|html)$/.test(e.name)) continue;
    const file = path.join(e.parentPath ?? e.path, e.name);
    const bytes = readFileSync(file);
    if (bytes.length < 1000) continue;
    const quality = { params: { [constants.BROTLI_PARAM_QUALITY]: 7 } };
    writeFileSync(`${file}.br`, brotliCompressSync(bytes, quality));
    writeFileSync(`${file}.gz`, gzipSync(bytes, { level: 9 }));
  }
}

/** The web application, when its sources are newer than what was built. */
export function buildWeb() {
  const index = path.join(root, "packages/web/dist/index.html");
  const sources = ["packages/web/src", "packages/contract/src", "packages/core/src"].map(newest);
  if (existsSync(index) && statSync(index).mtimeMs > Math.max(...sources)) return;
  const vite = path.join(
    path.dirname(createRequire(path.join(root, "packages/web/package.json")).resolve("vite/package.json")),
    "bin/vite.js",
  );
  run(process.execPath, [vite, "build", "--logLevel", "warn"], { cwd: path.join(root, "packages/web") });
  compress(path.join(root, "packages/web/dist"));
}
