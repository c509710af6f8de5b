// Installs what is missing, builds, makes the demo data, starts the application and prints its address.
import { spawn } from "node:child_process";
import { existsSync, statSync } from "node:fs";
import path from "node:path";
import { buildBundle, buildPackages, buildWeb, ensureInstalled, root, run } from "./ensure.mjs";

ensureInstalled();
const built = path.join(root, "packages/server/dist/main.js");
const stale = () =>
  ["packages/core", "packages/contract", "packages/engine", "packages/server", "demo"].some(
    (p) => statSync(path.join(root, p, "src")).mtimeMs > statSync(built).mtimeMs,
  );
if (!existsSync(built) || process.argv.includes("--build") || stale()) buildPackages();
buildBundle();
buildWeb();
if (!existsSync(path.join(root, "demo/data/rack-impact")))
  run(process.execPath, ["demo/dist/make.js", path.join(root, "demo/data")]);
process.chdir(root);
if (process.argv.includes("--live")) {
  // The stand-in solver beside the application: a step per second.
  const folder = path.join(root, "demo/live/coldstore-live");
  const solver = spawn(process.execPath, ["demo/dist/live.js", folder], { stdio: "inherit" });
  process.on("exit", () => solver.kill());
  while (!existsSync(path.join(folder, "oxtrum.study.json")) && solver.exitCode === null)
    await new Promise((done) => setTimeout(done, 50));
}
process.env.OXTRUM_DEMO ??= path.join(root, "demo");
process.env.OXTRUM_DATA ??= path.join(root, ".oxtrum");
await import("../packages/server/dist/main.js");
