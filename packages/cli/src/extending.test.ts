import { spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, describe, expect, it } from "@jest/globals";
import { transformSync } from "@swc/wasm-typescript";

const root = fileURLToPath(new URL("../../..", import.meta.url));
const page = fs.readFileSync(path.join(root, "docs/extending.md"), "utf8");

/** The files that the page shows. */
const shown = [...page.matchAll(/```ts file=(\S+)\n([\s\S]*?)```/g)].map(([, file, text]) => ({
  file: file!,
  text: text!,
}));

/** The lists that they stand in, with the entry in front of which each goes. */
const lists: Readonly<Record<string, readonly [list: string, entry: string, before: RegExp]>> = {
  "packages/engine/src/verbs/table/mid-range.ts": ["index", "midRangeVerb", /(?<=const tableVerbs = \[)/],
  "packages/core/src/formats/surfaces/sheet.ts": ["../open-mesh", "sheet", /(?<=const meshFormats = \[vtkXml, )/],
  "packages/core/src/sampling/sites/circle.ts": ["index", "circle", /(?<=const kinds = \[)/],
  "packages/engine/src/verbs/sites/circle.ts": ["index", "circleWord", /(?<=const siteWords = \[)/],
  "packages/core/src/charts/kinds/stems.ts": ["index", "stems", /(?<=new Map\(\[)/],
  "packages/engine/src/verbs/charts/kinds/stems.ts": ["index", "stemsLayer", /(?<=const layerKinds = \[)/],
  "packages/engine/src/outputs/kinds/heads.ts": ["index", "heads", /(?<=new Map\(\[)/],
  "packages/engine/src/verbs/emit/heads.ts": ["index", "headsWord", /(?<=const emitWords = \[)/],
};

let copy: string;

/** A copy of the built programs, with the packages that they use. */
function copyPrograms(): void {
  copy = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-extending-"));
  for (const name of ["core", "engine", "cli"]) {
    const [from, to] = [path.join(root, "packages", name), path.join(copy, "packages", name)];
    fs.cpSync(path.join(from, "dist"), path.join(to, "dist"), {
      recursive: true,
      filter: (f) => !/\.(?:map|d\.ts|test\.js|tsbuildinfo)$/.test(f),
    });
    for (const more of ["package.json", "bin", "library"])
      if (fs.existsSync(path.join(from, more)))
        fs.cpSync(path.join(from, more), path.join(to, more), { recursive: true });
  }
  const modules = path.join(copy, "node_modules");
  fs.mkdirSync(path.join(modules, "@oxtrum"), { recursive: true });
  for (const name of fs.readdirSync(path.join(root, "node_modules")))
    if (name !== "@oxtrum" && !name.startsWith(".cache"))
      fs.symlinkSync(path.join(root, "node_modules", name), path.join(modules, name));
  for (const name of ["core", "engine"])
    fs.symlinkSync(path.join(copy, "packages", name), path.join(modules, "@oxtrum", name));
}

const builtOf = (file: string): string => path.join(copy, file.replace("/src/", "/dist/").replace(/\.ts$/, ".js"));

/** Adds a file of the page, and its entry to its list. */
function add({ file, text }: (typeof shown)[number]): void {
  const target = builtOf(file);
  fs.writeFileSync(target, transformSync(text, { mode: "strip-only" }).code);
  const [list, entry, before] = lists[file]!;
  const index = path.join(path.dirname(target), `${list}.js`);
  const code = fs.readFileSync(index, "utf8");
  if (!before.test(code)) throw new Error(`${index} has no list for ${entry}`);
  const from = path.relative(path.dirname(index), target).replaceAll(path.sep, "/");
  const imported = `import { ${entry} } from "${from.startsWith(".") ? from : `./${from}`}";\n`;
  fs.writeFileSync(index, imported + code.replace(before, `${entry}, `));
}

describe("what docs/extending.md shows", () => {
  beforeAll(copyPrograms);
  afterAll(() => fs.rmSync(copy, { recursive: true, force: true }));

  it("has a file and a list for everything", () => {
    expect(shown.map((s) => s.file).sort()).toEqual(Object.keys(lists).sort());
  });

  it("is all that it takes to add a verb, a format, a site, a series, a chart and an output", () => {
    shown.forEach(add);
    const study = path.join(copy, "study");
    for (const [id, top] of [
      ["f1", 290],
      ["f2", 310],
    ] as const) {
      const run = path.join(study, "runs", id);
      fs.mkdirSync(run, { recursive: true });
      fs.writeFileSync(path.join(run, "air.csv"), `time [s],T [K]\n0,270\n1,${top}\n2,280\n`);
      // A square in x = 0 of two triangles.
      fs.writeFileSync(path.join(run, "wall.sheet"), "sheet\n0 0 0 0 2 0 0 2 2\n0 0 0 0 2 2 0 0 2\n");
    }
    fs.writeFileSync(
      path.join(copy, "script.ts"),
      `import { study, emit, chart, at } from "oxtrum";
const runs = study("s").runs;
emit.table("middles", runs.rows((run) => ({ middle: run.table("air.csv").midRange("T", { less: "500 mK" }) })));
emit.table("ring", runs.map((run) => run.field("wall").sample(at.circle([0, 1, 1], 0.5, { count: 4 }), [])).get("f1"));
emit.chart("stems", chart.stems(runs.map((run) => run.table("air.csv")).get("f1"), { x: "time", y: "T" }));
emit.heads("columns", runs.map((run) => run.table("air.csv")).get("f1"));
emit.report("all", { formats: ["html"] });
`,
    );
    const done = spawnSync(
      process.execPath,
      [
        path.join(copy, "packages/cli/bin/oxtrum.js"),
        "run",
        path.join(copy, "script.ts"),
        "--study",
        `s=${study}`,
        "--out",
        path.join(copy, "out"),
      ],
      { encoding: "utf8", env: { ...process.env, OXTRUM_DATA: path.join(copy, "data") } },
    );
    expect([done.status, done.stdout + done.stderr]).toEqual([0, expect.not.stringContaining("error")]);
    const read = (f: string): string => fs.readFileSync(path.join(copy, "out", f), "utf8");
    expect(read("middles.csv")).toBe("run,middle [K]\nf1,279.5\nf2,289.5\n");
    const ring = read("ring.csv").trim().split("\n");
    expect(ring[0]).toMatch(/^x.*,y.*,z/);
    expect(ring.slice(1).map((l) => l.split(",").map((v) => Number(Number(v).toFixed(9))))).toEqual([
      [0, 1.5, 1],
      [0, 1, 1.5],
      [0, 0.5, 1],
      [0, 1, 0.5],
    ]);
    expect(read("stems.svg")).toMatch(/<path/);
    expect(JSON.parse(read("columns.heads.json"))).toEqual([
      { name: "time", unit: "s" },
      { name: "T", unit: "K" },
    ]);
    expect(read("all.html")).toContain("time s, T K");
  });
});
