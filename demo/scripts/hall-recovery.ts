// How warm does the hall get when the door opens, and how fast does it recover?
import { study, across, chart, emit, input, q } from "oxtrum";

const limit = input("limit", q("25 min"));
const runs = study("coldstore-doors").runs.where({ curtain: "none", fan: [50, 75, 100] });

const air = runs.map((run) =>
  run
    .table("monitors/hall.csv")
    .window("time", ["0 s", "30 min"])
    .to(["T_mean", "T_max"], "degC")
    .label("T_mean", "Hall air"),
);

emit.chart(
  "hall air",
  chart.lines(air, {
    x: "time",
    y: "T_mean",
    color: "fan",
    dash: "doorOpen",
    title: "Hall air T_{mean} after the door opens",
    xTitle: "Time",
  }),
);

const peaks = air.rows((t, run) => ({
  fan: run.params.fan,
  open: run.params.doorOpen,
  peak: t.max("T_mean"),
  at: t.max("T_mean").at,
  back: t.settles("T_mean", { within: "0.5 K" }),
  heat: t.integral("coil_duty"),
}));
emit.table("peaks", peaks.compareTo({ fan: 75 }, { match: ["open"] }), { formats: ["csv", "json"] });
emit.check("back in time", peaks.max("back"), { below: limit });

// All doors and fans together: where does the hall spend its half hour?
const all = study("coldstore-doors").runs.map((run) =>
  run.table("monitors/hall.csv").to("T_mean", "degC").label("T_mean", "Hall air"),
);
const band = across(all, { on: "time", columns: ["T_mean"], percentiles: [5, 95] });
emit.chart(
  "hall band",
  chart.band(band, { y: "T_mean", show: ["mean", "p5", "p95"], title: "All runs: mean and 5 to 95 %", xTitle: "Time" }),
);
emit.table("hall band numbers", band);
emit.value("warmest of all", peaks.max("peak"));
