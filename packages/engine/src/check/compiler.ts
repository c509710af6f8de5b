import fs from "node:fs";
import Module, { createRequire } from "node:module";
import path from "node:path";
import vm from "node:vm";
import { bundled } from "../bundled.js";

/**
 * The compiler is nine megabytes of text, which take a third of a second to compile before anything is checked. What
 * that gives is kept beside the bundle when it is built, with the functions that a first check needs. Where it is not
 * there, or of another Node or another compiler, the compiler is loaded as any package is.
 */
const require = createRequire(import.meta.url);

/** Loads the compiler from the code that is kept, where there is some. */
function loadCompiler(): void {
  const file = require.resolve("typescript");
  if (require.cache[file]) return;
  const code = bundled("typescript.code");
  if (code) compile(file, fs.readFileSync(code));
}

/** Runs the compiler's text as a module under its own name, with code that was kept of it, if that fits. */
export function compile(file: string, cachedData: Buffer | undefined): vm.Script {
  const script = new vm.Script(Module.wrap(fs.readFileSync(file, "utf8")), {
    filename: file,
    ...(cachedData && { cachedData }),
  });
  const module = new Module(file);
  module.filename = file;
  module.paths = [];
  const run = script.runInThisContext() as (...given: unknown[]) => void;
  run.call(module.exports, module.exports, createRequire(file), module, file, path.dirname(file));
  module.loaded = true;
  require.cache[file] = module;
  return script;
}

loadCompiler();
