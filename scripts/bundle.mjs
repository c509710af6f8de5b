// Puts the command, the job, their threads and those of the server into a few files each: loading hundreds of modules
// takes longer than most jobs on kept results. What is bundled is only used while it is what was compiled last; see
// engine/src/bundled.ts.
import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from "node:fs";
import path from "node:path";
import { rolldown } from "rolldown";
import { root } from "./ensure.mjs";

const packages = path.join(root, "packages");
const home = path.join(packages, "engine/bundle");
const stamps = Object.fromEntries(
  ["core", "engine", "server", "cli"].map((n) => [n, statSync(path.join(packages, n, "dist/.tsbuildinfo")).mtimeMs]),
);
const told = path.join(home, "built.json");
const before = existsSync(told) ? JSON.parse(readFileSync(told, "utf8")) : undefined;
if (JSON.stringify(before?.of) === JSON.stringify(stamps)) process.exit(0);
// A folder of its own: programs that run from an older one still load parts of it.
const folder = createHash("sha256").update(JSON.stringify(stamps)).digest("hex").slice(0, 12);
const target = path.join(home, folder);
const entries = {
  process: "cli/dist/process.js",
  job: "engine/dist/job/main.js",
  sandbox: "engine/dist/sandbox/sandbox.js",
  worker: "engine/dist/scheduler/worker.js",
  "checker.worker": "server/dist/checks/checker.worker.js",
  "differ.worker": "server/dist/jobs/differ.worker.js",
  "following.worker": "server/dist/following/following.worker.js",
  "reading.worker": "server/dist/reading/reading.worker.js",
  "surveyor.worker": "server/dist/survey/surveyor.worker.js",
};
/** Files that are started by their name, and what they are called in the bundle. */
const started = { "./sandbox.js": "./sandbox.js", "./worker.js": "./worker.js", "./job/main.js": "./job.js" };
/** Packages that are plain modules; all others are left where they are. */
const inside = /^(?:@oxtrum\/|zod(?:\/|$)|commander$|fflate$|fastest-levenshtein$)/;

/** What a module says of its own place stays true: it is said from that of the bundle. */
const places = {
  name: "places",
  transform(code, id) {
    if (!id.startsWith(packages) || !code.includes("import.meta.url")) return null;
    const from = path.relative(target, id).replaceAll(path.sep, "/");
    const own = `new URL(${JSON.stringify(from)}, import.meta.url).href`;
    return code.replace(/new URL\("([^"]+)", import\.meta\.url\)|import\.meta\.url/g, (whole, file) => {
      if (file === undefined) return own;
      return Object.hasOwn(started, file)
        ? `new URL("${started[file]}", import.meta.url)`
        : `new URL("${file}", ${own})`;
    });
  },
};

const bundle = await rolldown({
  input: Object.fromEntries(Object.entries(entries).map(([name, file]) => [name, path.join(packages, file)])),
  platform: "node",
  external: (id) => !id.startsWith(".") && !path.isAbsolute(id) && !inside.test(id),
  plugins: [places],
  logLevel: "silent",
});
await bundle.write({ dir: target, format: "esm", entryFileNames: "[name].js", chunkFileNames: "[name]-[hash].js" });
// The compiler's code, with the functions that a check needs.
const code = spawnSync(process.execPath, ["scripts/compiler-code.mjs", path.join(home, folder, "typescript.code")], {
  cwd: root,
  stdio: "inherit",
});
if (code.status !== 0) process.exit(code.status ?? 1);
writeFileSync(`${told}.new`, JSON.stringify({ folder, of: stamps }));
renameSync(`${told}.new`, told);
for (const old of readdirSync(home))
  if (![folder, before?.folder, "built.json"].includes(old))
    rmSync(path.join(home, old), { recursive: true, force: true });
