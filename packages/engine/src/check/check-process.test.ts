import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { pathToFileURL } from "node:url";
import { afterAll, beforeAll, describe, expect, it } from "@jest/globals";
import { askCheck } from "./ask-check.js";
import { CheckProcess } from "./check-process.js";
import { ScriptChecker, compileScript, type ScriptFiles } from "./index.js";

let folder: string;
beforeAll(() => void (folder = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-image-"))));
afterAll(() => fs.rmSync(folder, { recursive: true, force: true }));

const types = {
  small: `declare module "oxtrum" {
  interface Studies { small: { tables: { "hall.csv": { time: Numbers<"s">; T: Numbers<"K"> } }; params: {}; lines: {}; fields: {} } }
}
export {};
`,
};
const head = 'import { study, emit, chart, q } from "oxtrum";\n';
const table = 'const t = study("small").runs.map((run) => run.table("hall.csv"));\n';
const scripts: readonly (readonly [what: string, files: ScriptFiles])[] = [
  ["nothing wrong", { "main.ts": `${head}${table}emit.table("a", t.rows((x) => ({ p: x.max("T") })));\n` }],
  ["types", { "main.ts": `${head}const n: number = q("1 m").value;\nemit.value("n", q(\`\${n} m\`));\n` }],
  ["a wrong name", { "main.ts": `${head}${table}emit.table("a", t.rows((x) => ({ p: x.max("Tee") })));\n` }],
  ["an error of syntax", { "main.ts": `${head}const = ;\nconst b = (;\n` }],
  [
    "two modules, in letters of other scripts",
    { "main.ts": 'import { größe } from "./more.ts";\ngröße.längd;\n', "more.ts": 'export const größe = "日本 😀";\n' },
  ],
];

describe("a process that starts with the compiler in its memory", () => {
  const here = new ScriptChecker(false);
  it.each(scripts)("finds what is found here, and makes the same modules: %s", async (_, files) => {
    here.load(files, types);
    const diagnostics = here.check();
    const modules = diagnostics.some((d) => d.severity === "error") ? undefined : compileScript(files).modules;
    const asked = askCheck(files, types, undefined, true);
    expect(asked.isSettled).toBe(false);
    expect(await asked.verdict).toEqual({ diagnostics, ...(modules && { modules }) });
  });
  it("is not there without an image, and finds nothing out with one that is not of this Node", async () => {
    const bad = path.join(folder, "bad.image");
    for (const bytes of ["", Buffer.alloc(100_000, 7)]) {
      fs.writeFileSync(bad, bytes);
      expect(await CheckProcess.start(pathToFileURL(bad))!.check({ "main.ts": "" }, {})).toBeUndefined();
    }
    expect(await CheckProcess.start(pathToFileURL(path.join(folder, "none")))!.check({}, {})).toBeUndefined();
  });
  it("leaves a script to be checked here where it finds nothing out", async () => {
    const files = { "main.ts": `${head}emit.text("a", 1);\n` };
    const bad = path.join(folder, "other.image");
    fs.writeFileSync(bad, "of another Node");
    const asked = askCheck(files, {}, undefined, true, CheckProcess.start(pathToFileURL(bad)));
    here.load(files, {});
    expect(await asked.verdict).toEqual({ diagnostics: here.check() });
  });
  it("says that it has ended, when somebody ends it before its answer", async () => {
    const ready = CheckProcess.start()!;
    await ready.isReady;
    ready.stop();
    await expect(ready.check({ "main.ts": "" }, {})).rejects.toThrow("its process has ended (SIGKILL)");
  });
  it("starts whatever options of Node this process was given", async () => {
    const before = process.env.NODE_OPTIONS;
    process.env.NODE_OPTIONS = "--max-old-space-size=700 --no-warnings";
    try {
      expect(await CheckProcess.start()!.check({ "main.ts": "" }, {})).toEqual([]);
    } finally {
      if (before === undefined) delete process.env.NODE_OPTIONS;
      else process.env.NODE_OPTIONS = before;
    }
  });
});
