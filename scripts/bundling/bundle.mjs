// Puts the command, the job, the server and their threads into a few files each: loading hundreds of modules takes
// longer than most jobs on kept results. What is bundled is only used while it is what was compiled last; see
// engine/src/bundled.ts.
import { spawn } from "node:child_process";
import { createHash } from "node:crypto";
import {
  copyFileSync,
  existsSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from "node:fs";
import path from "node:path";
import { rolldown } from "rolldown";
import { root } from "../ensure.mjs";

const packages = path.join(root, "packages");
const home = path.join(packages, "engine/bundle");
const madeFrom = [
  ...["core", "engine", "server", "cli"].map((name) => `${name}/dist/.tsbuildinfo`),
  // What is written by hand of the declarations that scripts are checked against.
  "engine/library/oxtrum.d.ts",
];
const stamps = Object.fromEntries(madeFrom.map((from) => [from, statSync(path.join(packages, from)).mtimeMs]));
const told = path.join(home, "built.json");
const before = existsSync(told) ? JSON.parse(readFileSync(told, "utf8")) : undefined;
if (JSON.stringify(before?.of) === JSON.stringify(stamps) && before.complete) process.exit(0);
// A folder of its own: programs that run from an older one still load parts of it.
const folder = createHash("sha256").update(JSON.stringify(stamps)).digest("hex").slice(0, 12);
const target = path.join(home, folder);
const programs = {
  process: "cli/dist/process.js",
  job: "engine/dist/job/main.js",
  sandbox: "engine/dist/sandbox/sandbox.js",
  worker: "engine/dist/scheduler/worker.js",
  server: "server/dist/serve.js",
  "checker.worker": "server/dist/checks/checker.worker.js",
  "differ.worker": "server/dist/jobs/differ.worker.js",
  "following.worker": "server/dist/following/following.worker.js",
  "reading.worker": "server/dist/reading/reading.worker.js",
  "surveyor.worker": "server/dist/survey/surveyor.worker.js",
};
/** Files that are started by their name, and what they are called in the bundle. */
const started = {
  "./sandbox.js": "../sandbox.cjs",
  "./worker.js": "../worker.cjs",
  "./job/main.js": "../job.cjs",
};
/** Packages that bring files of their own, or that only some jobs need. */
const outside = /^(?:typescript|@napi-rs\/canvas|@jitl\/.*|h5wasm\b.*|hyparquet\b.*|write-excel-file\b.*|@libsql\/.*)$/;

/** What a module says of its own place stays true: it is said from that of the bundle. */
const places = {
  name: "places",
  transform(code, id) {
    if (!id.startsWith(packages) || !code.includes("import.meta.url")) return null;
    const from = path.relative(path.join(target, "parts"), id).replaceAll(path.sep, "/");
    const own = `new URL(${JSON.stringify(from)}, import.meta.url).href`;
    return code.replace(/new URL\("([^"]+)", import\.meta\.url\)|import\.meta\.url/g, (whole, file) => {
      if (file === undefined) return own;
      return Object.hasOwn(started, file)
        ? `new URL("${started[file]}", import.meta.url)`
        : `new URL("${file}", ${own})`;
    });
  },
};

/** What is left to import while a program runs is asked of `start.cjs`. */
const imports = {
  name: "imports",
  renderChunk: (code) => code.replace(/\bimport\((?="[^".])/g, "importOutside("),
};

const bundle = await rolldown({
  input: Object.fromEntries(Object.entries(programs).map(([name, file]) => [name, path.join(packages, file)])),
  platform: "node",
  external: (id) => id.startsWith("node:") || outside.test(id),
  plugins: [places, imports],
  logLevel: "silent",
});
rmSync(target, { recursive: true, force: true });
await bundle.write({
  dir: path.join(target, "parts"),
  format: "cjs",
  entryFileNames: "[name].cjs",
  chunkFileNames: "[name]-[hash].cjs",
});
copyFileSync(path.join(root, "scripts/bundling/start.cjs"), path.join(target, "start.cjs"));
for (const name of Object.keys(programs))
  writeFileSync(path.join(target, `${name}.cjs`), `require("./start.cjs")(${JSON.stringify(name)});\n`);

const tell = (complete) => {
  writeFileSync(`${told}.new`, JSON.stringify({ folder, of: stamps, complete }));
  renameSync(`${told}.new`, told);
};
tell(false);
const made = (...work) =>
  new Promise((done) => {
    const [file, ...given] = work;
    const args = [path.join(root, "scripts/bundling", file), ...given];
    spawn(process.execPath, args, { cwd: root, stdio: "inherit" }).on("close", (code) => done(code === 0));
  });
// The code of the compiler, an image of it, and the code of all programs, with the functions that a first use needs.
const compiler = await Promise.all([
  made("compiler-code.mjs", path.join(target, "typescript.code")),
  made("check-image.mjs", target),
]);
if (!compiler.every(Boolean) || !(await made("keep-code.mjs", target, path.join(target, "code")))) process.exit(1);
for (const name of Object.keys(programs))
  if (!existsSync(path.join(target, "code", name))) throw new Error(`nothing was kept of the program ${name}`);
tell(true);
for (const old of readdirSync(home))
  if (![folder, before?.folder, "built.json"].includes(old))
    rmSync(path.join(home, old), { recursive: true, force: true });
