// Puts each test of the page's code into a file that Node loads as it is: the page itself is built by Vite only.
import { readdirSync, rmSync } from "node:fs";
import path from "node:path";
import { rolldown } from "rolldown";
import { root } from "./ensure.mjs";

const web = path.join(root, "packages/web");
const source = path.join(web, "src");
const tests = readdirSync(source, { recursive: true }).filter((f) => /\.test\.tsx?$/.test(f));
const bundle = await rolldown({
  input: Object.fromEntries(
    [...tests, "testing/browser.ts"].map((f) => [
      f.replaceAll(path.sep, "/").replace(/\.tsx?$/, ""),
      path.join(source, f),
    ]),
  ),
  platform: "node",
  external: (id) => !id.startsWith(".") && !path.isAbsolute(id),
  plugins: [{ name: "styles", load: (id) => (id.endsWith(".css") ? { code: "", moduleType: "js" } : null) }],
  transform: { jsx: "react-jsx" },
  logLevel: "silent",
});
rmSync(path.join(web, "test-build"), { recursive: true, force: true });
await bundle.write({
  dir: path.join(web, "test-build"),
  format: "esm",
  sourcemap: true,
  entryFileNames: "[name].js",
  chunkFileNames: "chunk-[hash].js",
  // Tests of components need a document before any library of the page is loaded.
  banner: ({ facadeModuleId, name }) =>
    facadeModuleId?.endsWith(".test.tsx")
      ? `import "${"../".repeat(name.split("/").length - 1)}testing/browser.js";`
      : "",
});
