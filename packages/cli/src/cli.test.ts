import { spawnSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, describe, expect, it } from "@jest/globals";
import { commandSchemas } from "@oxtrum/contract";
import { bytesOf, smallStudy, type SmallStudy } from "@oxtrum/engine/testing";
import { main } from "./main.js";

let s: SmallStudy;
let script: string;
beforeAll(() => {
  s = smallStudy();
  script = path.join(s.folder, "..", "peaks.ts");
  fs.writeFileSync(script, peaks);
});
afterAll(() => s.remove());

const peaks = `import { study, chart, emit, input, q } from "oxtrum";
const limit = input("limit", q("200 K"));
const t = study("small").runs.map((run) => run.table("hall.csv"));
const rows = t.rows((x, run) => ({ fan: run.params.fan, peak: x.max("T") }));
emit.table("peaks", rows);
emit.chart("air", chart.lines(t, { x: "time", y: "T", color: "fan" }));
emit.check("cool", rows.max("peak"), { below: limit });
`;

interface Ran {
  readonly code: number;
  readonly out: string;
  readonly err: string;
  // oxlint-disable-next-line typescript/no-explicit-any -- each test knows what it asked for
  readonly json: any;
}

/** Commands whose JSON was compared with the contract. */
const checkedJson = new Set<string>();
const command = fileURLToPath(new URL("../bin/oxtrum.js", import.meta.url));

/** A command line, executed in this process. */
async function oxtrum(...args: string[]): Promise<Ran> {
  let out = "";
  let err = "";
  const code = await main(
    args,
    {
      print: (line) => (out += `${line}\n`),
      complain: (line) => (err += `${line}\n`),
      progress: { write: (text) => (err += text) },
      env: { ...process.env, OXTRUM_DATA: s.data },
      signal: new AbortController().signal,
    },
    "1.2.3",
  );
  let json: unknown;
  try {
    json = JSON.parse(out);
  } catch {
    json = undefined;
  }
  // Whatever a test asks for as JSON has the shape that the contract says.
  if (args.includes("--json") && json !== undefined) {
    const read = commandSchemas[args[0] as keyof typeof commandSchemas].safeParse(json);
    expect([args, read.success ? [] : read.error.issues]).toEqual([args, []]);
    checkedJson.add(args[0]!);
  }
  return { code, out, err, json };
}
const small = (): string => `small=${s.folder}`;

describe("oxtrum show", () => {
  it("prints a table's facts as agreed, values by rows", async () => {
    const file = path.join(s.folder, "..", "odd.dat");
    fs.writeFileSync(file, "# a banner\ntime [s]  T [K]\n0 1.5\n1 NaN\n}\n2 Inf\n");
    const facts = await oxtrum("show", file, "--json");
    expect(facts.code).toBe(0);
    expect(facts.json).toEqual({
      kind: "table",
      rows: 3,
      columns: [
        { name: "time", unit: "s", type: "number", min: 0, max: 2, missing: 0 },
        { name: "T", unit: "K", type: "number", min: 1.5, max: "Inf", missing: 1 },
      ],
      skipped: [
        { line: 1, reason: expect.stringMatching(/comment|before the header/) },
        { line: 5, reason: expect.stringMatching(/1 field where 2 are expected/) },
      ],
      notes: expect.any(Array),
    });
    const rows = await oxtrum("show", file, "--json", "--rows", "0:2");
    expect(rows.json.values).toEqual({ time: [0, 1], T: [1.5, null] });
    const plain = await oxtrum("show", file);
    expect(plain.out).toMatch(/table, 3 rows, 2 columns/);
    expect(plain.out).toMatch(/skipped line 5/);
  });
  it("prints a mesh's facts as agreed, ranges and measures with --deep", async () => {
    const file = path.join(s.folder, "..", "plate.stl");
    const facet = (c: string): string =>
      `facet normal 0 0 1\nouter loop\n${c
        .split(";")
        .map((v) => `vertex ${v}`)
        .join("\n")}\nendloop\nendfacet\n`;
    fs.writeFileSync(
      file,
      `solid top\n${facet("0 0 1;2 0 1;2 1 1")}${facet("0 0 1;2 1 1;0 1 1")}endsolid\nsolid side\n${facet("0 0 0;2 0 0;2 0 1")}endsolid\n`,
    );
    const { code, json } = await oxtrum("show", file, "--json", "--deep");
    expect(code).toBe(0);
    expect(json).toEqual({
      kind: "field",
      points: 7,
      cells: 3,
      cellTypes: { triangle: 3 },
      bounds: [0, 2, 0, 1, 0, 1],
      times: [],
      fields: [],
      patches: [
        { name: "top", faces: 2, area: 2 },
        { name: "side", faces: 1, area: 1 },
      ],
      blocks: [],
    });
    expect((await oxtrum("show", file)).out).toMatch(/field, 7 points, 3 cells \(3 triangle\)/);
  });
  it("tells of a file that cannot be read: what, where and what to do", async () => {
    const file = path.join(s.folder, "..", "binary.csv");
    fs.writeFileSync(file, Buffer.from([0, 1, 2, 3, 0, 0, 9]));
    const r = await oxtrum("show", file, "--json");
    expect(r.code).toBe(1);
    expect(r.json).toEqual({
      error: { file, offset: 0, message: "this is not a text file", hint: expect.any(String) },
    });
    const gone = await oxtrum("show", path.join(s.folder, "none.csv"), "--json");
    expect(gone.code).toBe(1);
    expect(gone.json.error).toMatchObject({ message: "there is no such file", hint: "Check the path." });
  });
});

describe("oxtrum scan", () => {
  it("prints runs, parameters, files and problems", async () => {
    const { code, json } = await oxtrum("scan", s.folder, "--json");
    expect(code).toBe(0);
    expect(Object.keys(json)).toEqual(["runs", "parameters", "problems"]);
    expect(json.runs[0]).toMatchObject({
      id: "f050_d1",
      parameters: { fan: 50, door: 1, kind: "narrow" },
      problems: [],
    });
    expect(json.runs[0].files.find((f: { path: string }) => f.path === "hall.csv")).toMatchObject({
      columns: [
        { name: "time", unit: "s", type: "number" },
        { name: "T", unit: "K", type: "number" },
        { name: "p", unit: "Pa", type: "number" },
      ],
      last: 100,
    });
    expect((await oxtrum("scan", s.folder)).out).toMatch(/^6 runs.*\n.*run\s+fan %\s+door s\s+kind\s+files/s);
    expect((await oxtrum("scan", "/nowhere")).code).toBe(1);
  });
});

describe("oxtrum check", () => {
  it("names file, line, column and the nearest name; nothing is read", async () => {
    const wrong = path.join(s.folder, "..", "wrong.ts");
    fs.writeFileSync(wrong, peaks.replace('max("T")', 'max("TT")'));
    const r = await oxtrum("check", wrong, "--study", small());
    expect(r.code).toBe(1);
    expect(r.out).toMatch(/^wrong\.ts:4:69 "TT" is not found in any run.*Did you mean "T"\?/);
    const json = await oxtrum("check", wrong, "--study", small(), "--json");
    expect(json.json.diagnostics[0]).toMatchObject({
      file: "wrong.ts",
      line: 4,
      column: 69,
      severity: "error",
      fixes: ['"T"'],
    });
    expect((await oxtrum("check", script, "--study", small())).out).toBe("nothing found\n");
  });
});

describe("oxtrum run", () => {
  it("says with --dry what it asks of which run, and reads nothing", async () => {
    const r = await oxtrum("run", script, "--study", small(), "--dry", "--json");
    expect(r.code).toBe(0);
    expect(r.json.complete).toBe(true);
    expect(r.json.asks).toHaveLength(6);
    expect(r.json.asks[0]).toEqual({ study: "small", run: "f050_d1", file: "hall.csv", line: 3 });
  });
  it("writes outputs with the exit codes of checks, settings and selections", async () => {
    const out = s.out("cli");
    const first = await oxtrum("run", script, "--study", small(), "--out", out, "--json");
    expect(first.code).toBe(0);
    expect(first.json.outputs.map((o: { name: string }) => o.name)).toEqual(["peaks", "air", "cool"]);
    expect(fs.readdirSync(out).sort()).toEqual([
      "air.png",
      "air.svg",
      "cool.json",
      "index.html",
      "manifest.json",
      "outputs.json",
      "peaks.csv",
    ]);
    const limited = await oxtrum("run", script, "--study", small(), "--out", s.out("limited"), "--set", "limit=100 K");
    expect(limited.code).toBe(3);
    const some = await oxtrum("run", script, "--study", small(), "--out", s.out("some"), "--runs", "fan=50,door=2");
    expect(some.code).toBe(0);
    expect(
      fs
        .readFileSync(path.join(s.out("some"), "peaks.csv"), "utf8")
        .trim()
        .split("\n"),
    ).toHaveLength(2);
  });
  it("says that there is no room where the disk is full, and leaves what was there before", async () => {
    const out = s.out("full");
    const run =
      `node ${JSON.stringify(command)} run ${JSON.stringify(script)} --study ` +
      `${JSON.stringify(small())} --out ${JSON.stringify(out)}`;
    const env = { ...process.env, OXTRUM_DATA: s.data };
    expect(spawnSync("bash", ["-c", run], { env }).status).toBe(0);
    const before = bytesOf(out);
    // No file may grow beyond 16 kB: the pictures do not fit.
    const full = spawnSync("bash", ["-c", `ulimit -f 16; ${run} --set limit="150 K"`], { env, encoding: "utf8" });
    expect(full.status).toBe(1);
    expect(full.stderr).toContain("there is no room for the outputs");
    expect(bytesOf(out)).toEqual(before);
    expect(fs.readdirSync(path.dirname(out)).filter((f) => f.startsWith("full"))).toEqual(["full"]);
    expect(fs.readdirSync(path.dirname(out)).filter((f) => f.startsWith(".oxtrum"))).toEqual([]);
    // In a new folder what was finished is kept, and its manifest says what is not.
    const fresh = spawnSync("bash", ["-c", `ulimit -f 16; ${run.replace(out, `${out}-new`)}`], {
      env,
      encoding: "utf8",
    });
    expect(fresh.status).toBe(1);
    expect(fresh.stderr).toMatch(/output "air" cannot be written: the file would be larger than is allowed here/);
    expect(fs.readdirSync(`${out}-new`).sort()).toEqual([
      "cool.json",
      "index.html",
      "manifest.json",
      "outputs.json",
      "peaks.csv",
    ]);
  });
  it("replaces no file of anybody's: a project with a manifest.json, remarks beside outputs, an archive's name", async () => {
    const project = s.out("project");
    fs.mkdirSync(project);
    fs.writeFileSync(path.join(project, "manifest.json"), '{"name":"site"}');
    fs.writeFileSync(path.join(project, "index.html"), "<p>");
    const before = bytesOf(project);
    const r = await oxtrum("run", script, "--study", small(), "--out", project);
    expect([r.code, r.err]).toEqual([1, expect.stringContaining("nothing there was touched")]);
    expect(bytesOf(project)).toEqual(before);
    fs.writeFileSync(s.out("mine.zip"), "mine");
    const zip = await oxtrum("run", script, "--study", small(), "--out", s.out("z"), "--archive", s.out("mine.zip"));
    expect([zip.code, zip.err]).toEqual([1, expect.stringContaining("is not the archive of a job")]);
    expect([fs.readFileSync(s.out("mine.zip"), "utf8"), fs.existsSync(s.out("z"))]).toEqual(["mine", false]);
  });
  it("steers no terminal with what files and scripts hold", async () => {
    const odd = path.join(s.folder, "..", "odd.csv");
    fs.writeFileSync(odd, "t,a\u001b[31m\u009b2J\n0,1\n1,2\n");
    const text = path.join(s.folder, "..", "odd.ts");
    fs.writeFileSync(
      text,
      'import { emit } from "oxtrum";\nemit.text("a\\u001b[2J", "b");\nthrow new Error("c\\u001b]0;d\\u0007");\n',
    );
    for (const args of [
      ["show", odd],
      ["show", odd, "--json"],
      ["run", text, "--out", s.out("odd"), "--study", small()],
      ["run", "\u001b[2J.ts", "--out", "x"],
      ["\u001b[2J"],
    ]) {
      const { out, err } = await oxtrum(...args);
      expect(out + err).not.toMatch(/[\u0000-\u0009\u000b-\u001f\u007f-\u009f]/);
      expect(out + err).toMatch(/\\u001b/);
    }
  });
  it("gives the same bytes with one worker and no cache, and verify says so", async () => {
    await oxtrum("run", script, "--study", small(), "--out", s.out("two"), "--workers", "2");
    await oxtrum("run", script, "--study", small(), "--out", s.out("one"), "--workers", "1", "--no-cache");
    expect(bytesOf(s.out("one"))).toEqual(bytesOf(s.out("two")));
    const good = await oxtrum("verify", path.join(s.out("one"), "manifest.json"), "--study", small());
    expect([good.code, good.out.trim().split("\n").pop()]).toEqual([0, "All outputs are the same."]);
  });
  it("leaves a broken run out with exit code 2 and says why; verify names what differs", async () => {
    const file = path.join(s.folder, "runs/f100_d3/hall.csv");
    const before = fs.readFileSync(file, "utf8");
    fs.writeFileSync(file, before.replace("\n100,103,3\n", "\n100,104,3\n"));
    const differs = await oxtrum("verify", path.join(s.out("one"), "manifest.json"), "--study", small(), "--json");
    expect(differs.code).toBe(1);
    expect(differs.json.inputs).toEqual([{ study: "small", path: "runs/f100_d3/hall.csv", change: "changed" }]);
    expect(differs.json.outputs.map((o: { name: string; verdict: string }) => [o.name, o.verdict])).toEqual(
      expect.arrayContaining([
        ["peaks", "differs"],
        ["air", "differs"],
      ]),
    );
    fs.rmSync(file);
    const body = path.join(s.folder, "..", "table.ts");
    fs.writeFileSync(body, peaks.replace(/emit\.check.*\n/, ""));
    const r = await oxtrum("run", body, "--study", small(), "--out", s.out("broken"));
    expect(r.code).toBe(2);
    expect(r.err).toMatch(/6 runs, 1 excluded/);
    expect(r.err).toMatch(/f100_d3: there is no hall\.csv in this run/);
    expect((await oxtrum("run", script, "--study", small(), "--out", s.out("undecided"))).code).toBe(3);
    fs.writeFileSync(file, before);
  });
  it("compares two folders of outputs, with a code for unattended checks", async () => {
    const same = await oxtrum("diff", s.out("two"), s.out("one"));
    expect([same.code, same.out.trim().split("\n").pop()]).toEqual([0, "All outputs are the same."]);
    const other = await oxtrum("diff", s.out("one"), s.out("broken"), "--json");
    const { verdict, inputs } = other.json as { verdict: string; inputs: { change: string }[] };
    expect([other.code, verdict]).toEqual([3, "changed"]);
    expect(inputs.some((i) => i.change === "changed" || i.change === "gone")).toBe(true);
    expect((await oxtrum("diff", s.out("one"), s.folder)).code).toBe(1);
  });
  it("writes nothing where the script is wrong, and refuses a folder with other files in it", async () => {
    const wrong = path.join(s.folder, "..", "wrong.ts");
    const r = await oxtrum("run", wrong, "--study", small(), "--out", s.out("none"));
    expect(r.code).toBe(1);
    expect(fs.existsSync(s.out("none"))).toBe(false);
    fs.mkdirSync(s.out("mine"));
    fs.writeFileSync(path.join(s.out("mine"), "thesis.txt"), "dear");
    const mine = await oxtrum("run", script, "--study", small(), "--out", s.out("mine"));
    expect(mine.code).toBe(1);
    expect(fs.readdirSync(s.out("mine"))).toEqual(["thesis.txt"]);
  });
});

it("every command has help with examples; a wrong option says so", async () => {
  for (const c of ["scan", "show", "check", "run", "verify"]) {
    const { code, out } = await oxtrum(c, "--help");
    expect([c, code]).toEqual([c, 0]);
    expect(out).toMatch(new RegExp(`Examples:\\n  oxtrum ${c} `));
  }
  const r = await oxtrum("run", "--wrong");
  expect([r.code, r.err.split("\n")[0]]).toEqual([1, expect.stringMatching(/unknown option|missing required/)]);
});

describe("the command as a process", () => {
  const env = (): NodeJS.ProcessEnv => ({ ...process.env, OXTRUM_DATA: s.data });
  it("tells its version, and a command's answer with its exit code", () => {
    const { version } = JSON.parse(fs.readFileSync(new URL("../package.json", import.meta.url), "utf8")) as {
      version: string;
    };
    expect(spawnSync(process.execPath, [command, "--version"], { encoding: "utf8" }).stdout).toBe(`${version}\n`);
    const { status, stdout, stderr } = spawnSync(process.execPath, [command, "scan", "/nowhere"], {
      encoding: "utf8",
      env: env(),
    });
    expect([status, stdout]).toEqual([1, ""]);
    expect(stderr).toMatch(/^oxtrum: there is no folder/);
  });
  it("is not an error for whoever has read enough", () => {
    const r = spawnSync(
      "bash",
      ["-o", "pipefail", "-c", `node ${JSON.stringify(command)} scan ${JSON.stringify(s.folder)} --json | head -c 10`],
      { env: env() },
    );
    expect([r.status, r.stdout.toString()]).toEqual([0, '{"runs":[{']);
  });
});

describe("the JSON of commands", () => {
  it("was compared with the contract for each of them", async () => {
    await oxtrum("run", script, "--study", small(), "--out", s.out("json"), "--json");
    await oxtrum("run", script, "--study", small(), "--dry", "--json");
    await oxtrum("verify", path.join(s.out("json"), "manifest.json"), "--study", small(), "--json");
    await oxtrum("diff", s.out("json"), s.out("json"), "--json");
    await oxtrum("check", script, "--study", small(), "--json");
    expect([...checkedJson].sort()).toEqual(Object.keys(commandSchemas).sort());
  });
});
