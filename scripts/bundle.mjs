// Puts the command, the job and their threads into a few files each: loading hundreds of modules takes longer than most
// jobs on kept results. What is bundled is only used while it is what was compiled last; see engine/src/bundled.ts.
import { spawnSync } from "node:child_process";
import { rmSync, statSync, writeFileSync } from "node:fs";
import path from "node:path";
import { rolldown } from "rolldown";
import { root } from "./ensure.mjs";

const packages = path.join(root, "packages");
const target = path.join(packages, "engine/bundle");
const entries = {
  process: "cli/dist/process.js",
  job: "engine/dist/job/main.js",
  sandbox: "engine/dist/sandbox/sandbox.js",
  worker: "engine/dist/scheduler/worker.js",
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

rmSync(target, { recursive: true, force: true });
const bundle = await rolldown({
  input: Object.fromEntries(Object.entries(entries).map(([name, file]) => [name, path.join(packages, file)])),
  platform: "node",
  external: (id) => !id.startsWith(".") && !path.isAbsolute(id) && !inside.test(id),
  plugins: [places],
  logLevel: "silent",
});
await bundle.write({ dir: target, format: "esm", entryFileNames: "[name].js", chunkFileNames: "[name]-[hash].js" });
// The compiler's code, with the functions that a check needs.
const code = spawnSync(process.execPath, ["scripts/compiler-code.mjs", path.join(target, "typescript.code")], {
  cwd: root,
  stdio: "inherit",
});
if (code.status !== 0) process.exit(code.status ?? 1);
const stamp = (name) => statSync(path.join(packages, name, "dist/.tsbuildinfo")).mtimeMs;
writeFileSync(
  path.join(target, "built.json"),
  JSON.stringify(Object.fromEntries(["core", "engine", "cli"].map((n) => [n, stamp(n)]))),
);
