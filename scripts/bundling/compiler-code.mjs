// Keeps what compiling the compiler gives, after it has checked a script: see engine/src/check/compiler.ts.
import { existsSync, rmSync, writeFileSync } from "node:fs";
import { createRequire } from "node:module";

const target = process.argv[2];
if (existsSync(target)) rmSync(target);
const { compile } = await import("../../packages/engine/dist/check/compiler.js");
const script = compile(createRequire(import.meta.url).resolve("typescript"), undefined);
const { sharedChecker } = await import("../../packages/engine/dist/check/index.js");
const checker = sharedChecker();
const text = `import { study, chart, emit, at } from "oxtrum";
const runs = study("a").runs.map((run) => run.table("b.csv").window("time", ["0 s", "1 s"]).derive("d", "T + 1 K"));
const rows = runs.rows((t, run) => ({ peak: t.max("T").in("degC"), fan: run.params.fan, last: t.last("d") }));
emit.table("rows", rows.groupBy("fan", { columns: ["peak"] }), { formats: ["csv"] });
emit.chart("lines", chart.lines(runs, { x: "time", y: ["T", "d"], color: "fan" }));
emit.check("limit", rows.max("peak"), { below: "8 degC" });
emit.table("line", runs.map((_, run) => run.field("hall").sample(at.line([0, 0, 0], [1, 0, 0]), "T")));
emit.value("wrong", rows.max("peek"));
`;
checker.load({ "a.ts": text }, {});
checker.check();
writeFileSync(target, script.createCachedData());
