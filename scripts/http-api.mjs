// Writes docs/http-api.md from the schemas of the contract.
import { writeFileSync } from "node:fs";
import path from "node:path";
import { buildPackages, ensureInstalled, root } from "./ensure.mjs";

ensureInstalled();
buildPackages();
const { httpApiPage } = await import("../packages/contract/dist/http-api.js");
writeFileSync(path.join(root, "docs/http-api.md"), httpApiPage());
