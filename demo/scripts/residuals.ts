// Did every run converge at every time, and which one did not?
import { study, chart, emit } from "oxtrum";

const logs = study("coldstore-doors").runs.map((run) =>
  run.lines("solver.log").read("t {time:s} s | it 1 |", "| it {iterations} | dT {dT} | dU {dU}", { several: "last" }),
);

emit.chart(
  "residuals",
  chart.lines(logs, {
    x: "time",
    y: "dT",
    color: "doorOpen",
    yScale: "log",
    title: "Residual of temperature",
    yTitle: "Residual",
    xTitle: "Time",
  }),
);
emit.table(
  "residuals by run",
  logs.rows((t, run) => ({
    fan: run.params.fan,
    open: run.params.doorOpen,
    worst: t.max("dT"),
    at: t.max("dT").at,
    iterations: t.mean("iterations", { weights: "none" }),
  })),
);
