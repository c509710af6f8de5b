// Makes the demo studies: npm run demo-data -- [FOLDER]
import { existsSync } from "node:fs";
import path from "node:path";
import { buildPackages, ensureInstalled, root, run } from "./ensure.mjs";

ensureInstalled();
if (!existsSync(path.join(root, "demo/dist/make.js"))) buildPackages();
run(process.execPath, ["demo/dist/make.js", path.resolve(process.argv[2] ?? path.join(root, "demo/data"))]);
