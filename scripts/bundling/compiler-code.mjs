// Keeps what compiling the compiler gives, after it has checked a script: see engine/src/check/compiler.ts.
import { existsSync, rmSync, writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import { sampleScript } from "./sample-script.mjs";

const target = process.argv[2];
if (existsSync(target)) rmSync(target);
const { compile } = await import("../../packages/engine/dist/check/compiler.js");
const script = compile(createRequire(import.meta.url).resolve("typescript"), undefined);
const { sharedChecker } = await import("../../packages/engine/dist/check/index.js");
const checker = sharedChecker();
checker.load({ "a.ts": sampleScript }, {});
checker.check();
writeFileSync(target, script.createCachedData());
