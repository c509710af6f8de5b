// Installs what is missing, builds, makes the demo data, starts the application and prints its address.
import { existsSync, statSync } from "node:fs";
import path from "node:path";
import { buildBundle, buildPackages, buildWeb, ensureInstalled, root, run } from "./ensure.mjs";

ensureInstalled();
const built = path.join(root, "packages/server/dist/main.js");
const stale = () =>
  ["packages/core", "packages/engine", "packages/server", "demo"].some(
    (p) => statSync(path.join(root, p, "src")).mtimeMs > statSync(built).mtimeMs,
  );
if (!existsSync(built) || process.argv.includes("--build") || stale()) buildPackages();
buildBundle();
buildWeb();
if (!existsSync(path.join(root, "demo/data/rack-impact")))
  run(process.execPath, ["demo/dist/make.js", path.join(root, "demo/data")]);
process.chdir(root);
process.env.OXTRUM_DEMO ??= path.join(root, "demo");
process.env.OXTRUM_DATA ??= path.join(root, ".oxtrum");
await import("../packages/server/dist/main.js");
