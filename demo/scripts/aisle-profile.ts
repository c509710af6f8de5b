// How does the air layer up the aisle, in every run, five minutes in and at the end?
import { study, across, at, chart, emit } from "oxtrum";

const runs = study("coldstore-doors").runs.where({ curtain: "none", fan: [50, 75, 100] });
const rake = at.line([12, 6, 0.05], [12, 6, 5.95], { count: 60 });

const early = runs.map((run) => run.field("fields/hall").at({ time: "300 s" }).sample(rake, ["T", "U.mag"]).to("T", "degC"));
const late = runs.map((run) => run.field("fields/hall").at("last").sample(rake, ["T", "U.mag"]).to("T", "degC"));

emit.chart("aisle after 300 s", chart.lines(early, {
  x: "distance", y: "T", color: "fan", dash: "doorOpen", swapAxes: true,
  title: "Temperature up the aisle after 300 s", xTitle: "Height",
}));
const band = across(late, { on: "distance", columns: ["T"] });
emit.chart("aisle at the end", chart.band(band, { y: "T", along: "distance", show: ["mean", "min", "max"], swapAxes: true, title: "All runs at the end: mean, least and most" }));

emit.table("layering", early.rows((t, run) => ({
  fan: run.params.fan,
  open: run.params.doorOpen,
  low: t.at("T", "0.5 m"),
  high: t.at("T", "5.5 m"),
  step: t.at("T", "5.5 m").minus(t.at("T", "0.5 m")),
})));
