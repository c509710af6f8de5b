import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, expect, it } from "@jest/globals";
import { runNames } from "../definition/run-ref.js";
import { runScript, smallStudy, type SmallStudy } from "../testing/small-study.js";

let s: SmallStudy;
let other: SmallStudy;
beforeEach(() => {
  s = smallStudy();
  other = smallStudy();
});
afterEach(() => {
  s.remove();
  other.remove();
});

it("runs of two studies with equal names are told apart in tables, files, charts and what is excluded", async () => {
  for (const study of [s, other]) fs.rmSync(path.join(study.folder, "runs/f050_d2/hall.csv"));
  const studies = [
    { name: "small", folder: s.folder },
    { name: "large", folder: other.folder },
  ];
  const r = await runScript(
    s,
    `const a = study("small").runs.map((run) => run.table("hall.csv").head(2));
const b = study("large").runs.where({ id: "f050_*" }).map((run) => run.table("hall.csv").derive("T", "2 * T").head(2));
emit.table("ids", study("large").runs.rows((run) => ({ id: run.id })));
emit.table("both", a.stack().concat(b.stack()));
emit.table("each", b, { layout: "each" });
emit.check("c", a.rows((x) => ({ m: x.max("T") })).max("m").plus(b.rows((x) => ({ m: x.max("T") })).max("m")), { below: "1000 K" });`,
    { studies, outFolder: s.out("a") },
  );
  expect(r.errors).toEqual([]);
  const rows = (name: string): string[] =>
    fs
      .readFileSync(path.join(s.out("a"), name), "utf8")
      .trim()
      .split("\n")
      .slice(1);
  expect(rows("ids.csv").slice(0, 2)).toEqual(["large/f050_d1,f050_d1", "large/f050_d2,f050_d2"]);
  expect(new Set(rows("both.csv").map((l) => l.split(",")[0])).size).toBe(5 + 2);
  expect(
    r
      .output("each")
      .files.map((f) => f.file)
      .sort(),
  ).toEqual(["each-large-f050_d1.csv", "each-large-f050_d3.csv"]);
  expect(
    r
      .output("c")
      .left.map((l) => l.run)
      .sort(),
  ).toEqual(["large/f050_d2", "small/f050_d2"]);
});

it("names of runs are their own where they mean one run", () => {
  const name = runNames(
    new Map([
      ["hall", ["r1", "r2"]],
      ["duct", ["r1"]],
    ]),
  );
  expect([
    name({ study: "hall", id: "r1" }),
    name({ study: "hall", id: "r2" }),
    name({ study: "duct", id: "r1" }),
  ]).toEqual(["hall/r1", "r2", "duct/r1"]);
});
