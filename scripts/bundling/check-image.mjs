// Makes the image of memory that processes start from which check a script: see engine/src/check/check.image.ts. In
// such an image only Node's own modules can be loaded, so the compiler is put into one text with all others: as it is,
// before them. Beside it goes the digest of all that a check depends on, for which the declarations have to be put
// together.
import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { createRequire, isBuiltin } from "node:module";
import os from "node:os";
import path from "node:path";
import { pathToFileURL } from "node:url";
import { rolldown } from "rolldown";
import { root } from "../ensure.mjs";
import { sampleScript } from "./sample-script.mjs";

const folder = process.argv[2];
const image = path.join(folder, "check.image");
const engine = path.join(root, "packages/engine/dist");
const compiler = createRequire(import.meta.url).resolve("typescript");
const { libraryDeclarations } = await import("../../packages/engine/dist/check/library.js");
const { computedDigest } = await import("../../packages/engine/dist/check/kept-checks.js");

/** What a module would load while it runs: nothing but the compiler, which stands before all modules. */
const loading = `export const createRequire = () => Object.assign(() => compiler, { resolve: () => ${JSON.stringify(compiler)} });`;
const before = `const compiler = (function () {
const module = { exports: {} };
${readFileSync(compiler, "utf8")}
return module.exports;
})();
`;
/** The declarations as they are now, without all the verbs that they are made from. */
const library = `export const libraryDeclarations = () => ${JSON.stringify(libraryDeclarations())};`;
const given = { "\0loading": loading, "\0library": library };

const parts = {
  name: "parts",
  resolveId(id, from) {
    if (/^(?:node:)?module$/.test(id) && from?.startsWith(engine)) return "\0loading";
    return id === "./library.js" && from?.startsWith(engine) ? "\0library" : null;
  },
  load: (id) => given[id] ?? null,
  transform: (code, id) =>
    id.startsWith(engine) ? code.replaceAll("import.meta.url", JSON.stringify(pathToFileURL(id).href)) : null,
};
const scratch = mkdtempSync(path.join(os.tmpdir(), "oxtrum-image-"));
try {
  const text = path.join(scratch, "check.cjs");
  const bundle = await rolldown({
    input: path.join(engine, "check/check.image.js"),
    platform: "node",
    external: (id) => isBuiltin(id) && !/^(?:node:)?module$/.test(id),
    plugins: [parts],
    logLevel: "silent",
  });
  const { output } = await bundle.generate({ format: "cjs" });
  writeFileSync(text, before + output[0].code);
  const made = spawnSync(process.execPath, ["--snapshot-blob", `${image}.new`, "--build-snapshot", text], {
    // As the process that starts from it: see engine/src/check/check-process.ts.
    env: { ...process.env, NODE_OPTIONS: "", OXTRUM_SAMPLE: sampleScript },
    stdio: ["ignore", "inherit", "pipe"],
    encoding: "utf8",
  });
  if (made.status !== 0) throw new Error(`the image was not made: ${made.stderr}`);
  writeFileSync(path.join(folder, "check.digest"), computedDigest());
  renameSync(`${image}.new`, image);
} finally {
  rmSync(scratch, { recursive: true, force: true });
}
