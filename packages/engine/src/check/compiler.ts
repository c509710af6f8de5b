import fs from "node:fs";
import Module, { createRequire } from "node:module";
import path from "node:path";
import vm from "node:vm";

/**
 * The compiler is nine megabytes of text, which take a third of a second to compile before anything is checked. What
 * that gives is kept beside the bundle when it is built, with the functions that a first check needs. Where it is not
 * there, or of another Node or another compiler, the compiler is loaded as any package is.
 */
const require = createRequire(import.meta.url);
const keptCode = new URL("../../bundle/typescript.code", import.meta.url);

/** Loads the compiler. @returns its script where it was loaded from its text, for whoever keeps its code */
export function loadCompiler(): vm.Script | undefined {
  const file = require.resolve("typescript");
  if (require.cache[file]) return undefined;
  let cachedData: Buffer | undefined;
  try {
    cachedData = fs.readFileSync(keptCode);
  } catch {
    return undefined;
  }
  return compile(file, cachedData);
}

/** Runs the compiler's text as a module under its own name, with code that was kept of it, if that fits. */
export function compile(file: string, cachedData: Buffer | undefined): vm.Script | undefined {
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
