// How does the air layer up the aisle, in every run, five minutes in and at the end?
import { study, across, at, chart, emit } from "oxtrum";

const runs = study("coldstore-doors").runs.where({ curtain: "none", fan: [50, 75, 100] });
const rake = at.line([12, 6, 0.05], [12, 6, 5.95], { count: 60 });

const early = runs.map((run) =>
  run
    .field("fields/hall")
    .at({ time: "300 s" })
    .sample(rake, ["temperature", "velocity.mag"])
    .to("temperature", "degC"),
);
const late = runs.map((run) =>
  run.field("fields/hall").at("last").sample(rake, ["temperature", "velocity.mag"]).to("temperature", "degC"),
);

emit.chart(
  "aisle after 300 s",
  chart.lines(early, {
    x: "distance",
    y: "temperature",
    color: "fan",
    dash: "doorOpen",
    swapAxes: true,
    title: "Temperature up the aisle after 300 s",
    xTitle: "Height",
  }),
);
const band = across(late, { on: "distance", columns: ["temperature"] });
emit.chart(
  "aisle at the end",
  chart.band(band, {
    y: "temperature",
    along: "distance",
    show: ["mean", "min", "max"],
    swapAxes: true,
    title: "All runs at the end: mean, min and max",
  }),
);

emit.table(
  "layering",
  early.rows((t, run) => ({
    fan: run.params.fan,
    open: run.params.doorOpen,
    low: t.at("temperature", "0.5 m"),
    high: t.at("temperature", "5.5 m"),
    step: t.at("temperature", "5.5 m").minus(t.at("temperature", "0.5 m")),
  })),
);
