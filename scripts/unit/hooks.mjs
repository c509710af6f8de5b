const globals = new URL("./globals.mjs", import.meta.url).href;

export const resolve = (specifier, context, next) =>
  specifier === "@jest/globals" ? { url: globals, format: "module", shortCircuit: true } : next(specifier, context);
