import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { runScript, smallStudy, type SmallStudy } from "../testing/small-study.js";
import { diffJobs } from "./then-and-now.js";

let s: SmallStudy;
beforeEach(() => void (s = smallStudy()));
afterEach(() => s.remove());

const SCRIPT = `
const t = study("small").runs.map((run) => run.table("hall.csv"));
const rows = t.rows((x, run) => ({ fan: run.params.fan, peak: x.max("T") }));
emit.table("peaks", rows);
emit.table("pressure", t.rows((x) => ({ p: x.max("p") })));
emit.chart("air", chart.lines(t, { x: "time", y: "T" }));
emit.value("warmest", rows.max("peak"));
emit.check("cool", rows.max("peak"), { below: "200 K" });
`;
const exact = { absolute: 0, relative: 0 };
const run = (name: string, script = SCRIPT): Promise<unknown> => runScript(s, script, { outFolder: s.out(name) });
/** Changes the temperature of one run's last row. */
function change(id: string, to: number): void {
  const file = path.join(s.folder, "runs", id, "hall.csv");
  const lines = fs.readFileSync(file, "utf8").trim().split("\n");
  const [time, , p] = lines[lines.length - 1]!.split(",");
  lines[lines.length - 1] = `${time!},${to},${p!}`;
  fs.writeFileSync(file, lines.join("\n") + "\n");
}
const verdicts = (d: ReturnType<typeof diffJobs>): Record<string, string> =>
  Object.fromEntries(d.outputs.map((o) => [o.name, o.verdict]));

describe("then and now", () => {
  it("of the same job twice are the same bytes", async () => {
    await run("a");
    await run("b");
    const d = diffJobs(s.out("a"), s.out("b"), exact);
    expect([d.verdict, d.script, d.inputs, d.runs, d.settings]).toEqual(["same bytes", [], [], [], []]);
  });

  it("find exactly what one changed input touched, and by how much", async () => {
    await run("a");
    // The last row of f050_d2 was 52 K.
    change("f050_d2", 52.5);
    await run("b");
    const d = diffJobs(s.out("a"), s.out("b"), exact);
    expect(d.inputs).toEqual([{ study: "small", path: "runs/f050_d2/hall.csv", change: "changed" }]);
    expect(verdicts(d)).toEqual({
      peaks: "changed",
      pressure: "same bytes",
      air: "changed",
      warmest: "same bytes",
      cool: "same bytes",
    });
    const peaks = d.outputs.find((o) => o.name === "peaks")!;
    expect(peaks.moved).toBe(1);
    expect(peaks.cells).toEqual([
      { row: 2, where: "f050_d2", column: "peak", then: 52, now: 52.5, change: 0.5, relative: 0.5 / 52 },
    ]);
    expect(d.verdict).toBe("changed");
    // Within a tolerance the table counts as the same; a chart of other numbers does not.
    expect(verdicts(diffJobs(s.out("a"), s.out("b"), { absolute: 0.6, relative: 0 }))["peaks"]).toBe(
      "within tolerance",
    );
    expect(verdicts(diffJobs(s.out("a"), s.out("b"), { absolute: 0, relative: 0.01 }))["peaks"]).toBe(
      "within tolerance",
    );
  });

  it("tell values and checks with their change, the largest first", async () => {
    await run("a");
    change("f100_d3", 150);
    change("f100_d2", 103);
    await run("b");
    const d = diffJobs(s.out("a"), s.out("b"), exact);
    const of = (name: string) => d.outputs.find((o) => o.name === name)!;
    expect(of("warmest").cells![0]).toMatchObject({ then: 103, now: 150, change: 47 });
    expect(of("peaks").cells!.map((c) => c.where)).toEqual(["f100_d3", "f100_d2"]);
    change("f100_d3", 250);
    await run("c");
    expect(diffJobs(s.out("a"), s.out("c"), exact).outputs.find((o) => o.name === "cool")!.detail).toBe(
      "passed then, failed now",
    );
  });

  it("tell values that are missing from infinite ones, and have a size of change for neither", async () => {
    const values = { plain: "peak", rising: "peak / 0", falling: "-peak / 0", missing: "0 * peak / 0" };
    for (const [name, formula] of Object.entries(values))
      await run(
        name,
        `const t = study("small").runs.map((run) => run.table("hall.csv"));
const rows = t.rows((x) => ({ peak: x.max("T") })).derive("r", "${formula}");
emit.table("rows", rows);
emit.value("most", rows.max("r"));
`,
      );
    const shown = { plain: 103, rising: "Inf", falling: "-Inf", missing: null };
    const names = Object.keys(values) as (keyof typeof values)[];
    for (const a of names)
      for (const b of names) {
        const d = diffJobs(s.out(a), s.out(b), exact);
        if (a === b) {
          expect([a, d.verdict]).toEqual([a, "same bytes"]);
          continue;
        }
        expect([a, b, verdicts(d)]).toEqual([a, b, { rows: "changed", most: "changed" }]);
        const [table, value] = d.outputs;
        expect([a, b, value!.cells]).toEqual([
          a,
          b,
          [{ row: 1, where: "", column: "value", then: shown[a], now: shown[b] }],
        ]);
        expect(table!.moved).toBe(6);
        // As it travels to a page.
        expect(JSON.parse(JSON.stringify(d))).toEqual(d);
      }
  });

  it("name lines of the script, outputs and runs that came and went", async () => {
    await run("a");
    fs.rmSync(path.join(s.folder, "runs", "f050_d1"), { recursive: true });
    await run(
      "b",
      SCRIPT.replace('emit.value("warmest", rows.max("peak"));', 'emit.value("coolest", rows.min("peak"));'),
    );
    const d = diffJobs(s.out("a"), s.out("b"), exact);
    expect(d.script.map((l) => [l.then !== undefined, l.now !== undefined])).toEqual([
      [true, false],
      [false, true],
    ]);
    expect(d.runs).toEqual([{ study: "small", run: "f050_d1", change: "gone" }]);
    expect(verdicts(d)).toMatchObject({ warmest: "gone", coolest: "new", peaks: "changed" });
    expect(d.outputs.find((o) => o.name === "peaks")).toMatchObject({ detail: "1 row gone", moved: 0 });
  });

  it("are refused without manifests, and stay inside the folders that hold them", async () => {
    await run("a");
    expect(() => diffJobs(s.out("a"), s.folder, exact)).toThrow(/manifest/);
    await run("b", SCRIPT.replace('max("p")', 'min("p")').replace("200 K", "201 K"));
    const file = path.join(s.out("b"), "manifest.json");
    const manifest = JSON.parse(fs.readFileSync(file, "utf8")) as {
      outputs: { name: string; files: { file: string; sha256: string }[] }[];
    };
    const peaks = manifest.outputs.find((o) => o.name === "peaks")!;
    peaks.files[0] = { ...peaks.files[0]!, file: "../../secret.csv", sha256: "0" };
    fs.writeFileSync(file, JSON.stringify(manifest));
    expect(diffJobs(s.out("a"), s.out("b"), exact).outputs.find((o) => o.name === "peaks")!.detail).toMatch(
      /cannot be compared/,
    );
  });
});
