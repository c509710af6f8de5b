/** A script that uses most of what is checked, and has a mistake: what checking it needs is kept with the compiler. */
export const sampleScript = `import { study, chart, emit, at } from "oxtrum";
const runs = study("a").runs.map((run) => run.table("b.csv").window("time", ["0 s", "1 s"]).derive("d", "T + 1 K"));
const rows = runs.rows((t, run) => ({ peak: t.max("T").in("degC"), fan: run.params.fan, last: t.last("d") }));
emit.table("rows", rows.groupBy("fan", { columns: ["peak"] }), { formats: ["csv"] });
emit.chart("lines", chart.lines(runs, { x: "time", y: ["T", "d"], color: "fan" }));
emit.check("limit", rows.max("peak"), { below: "8 degC" });
emit.table("line", runs.map((_, run) => run.field("hall").sample(at.line([0, 0, 0], [1, 0, 0]), "T")));
emit.value("wrong", rows.max("peek"));
`;
