// Does the sump run dry at the pump? Levels at gauges from the fill and from the particles, and how it sloshes.
import { study, at, across, chart, emit } from "oxtrum";

const runs = study("glycol-sump").runs;
const suction = 0.12;

// North wall, middle and pump; the sump is a slice in x and z.
const gauges = { north: 0.1, middle: 0.6, pump: 1.05 };
const histories = Object.entries(gauges).map(([name, x]) => ({
  name,
  t: runs.map((run) => run.field("fill/fill").history(at.column([x, 0], { count: 241 }), { level: { level: "fill" } })),
}));
for (const g of histories) {
  emit.table(`levels ${g.name}`, g.t);
  emit.chart(`level ${g.name}`, chart.lines(g.t, {
    x: "time", y: "level", color: "level", dash: "baffle", title: `Level at the ${g.name}`,
  }));
}

const atPump = histories[2]!.t;
emit.chart("all runs at the pump", chart.band(across(atPump, { on: "time", columns: ["level"] }), {
  y: "level", show: ["mean", "min", "max"], title: "Level at the pump, all runs",
}));
const lowest = atPump.rows((t, run) => {
  const rest = run.params.level;
  const up = t.crossings("level", rest, { direction: "rising" });
  return {
    level: rest, baffle: run.params.baffle,
    lowest: t.min("level"), when: t.min("level").at,
    waves: up.count("time"),
    period: up.last("time").minus(up.first("time")).over(up.count("time").minus(1)),
    frequency: t.dominant("level", { length: 32 }),
  };
});
emit.table("lowest at the pump", lowest);
emit.chart("spectrum at the pump", chart.lines(atPump.map((t) => t.detrend("level").spectrum("level.detrended", { length: 32 })), {
  x: "frequency", y: "level.detrended.psd", color: "level", dash: "baffle", title: "How the level moves at the pump", yScale: "log" }));
emit.check("the pump stays covered", lowest.min("lowest"), { above: `${suction} m` });

// The same from the particles, at the first step and the last.
emit.table("from particles", runs.rows((run) => {
  const pump = at.column([1.05, 0]);
  const first = run.field("cloud").at({ step: 0 }).reduce(pump, { level: { level: true, radius: 0.03 } });
  const last = run.field("cloud").at("last").reduce(pump, { level: { level: true, radius: 0.03 } });
  return { level: run.params.level, first: first.first("level"), last: last.first("level") };
}));
