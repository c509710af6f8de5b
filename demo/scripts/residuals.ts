// Did every run converge at every time, and which one did not?
import { study, chart, emit } from "oxtrum";

const logs = study("coldstore-doors").runs.map((run) =>
  run.lines("solver.log").read("Time = {time:s} s", "residual T {rT}  residual U {rU}  iterations {iterations}"));

emit.chart("residuals", chart.lines(logs, {
  x: "time", y: "rT", color: "doorOpen", yScale: "log",
  title: "Residual of temperature", yTitle: "Residual", xTitle: "Time",
}));
emit.table("residuals by run", logs.rows((t, run) => ({
  fan: run.params.fan,
  open: run.params.doorOpen,
  worst: t.max("rT"),
  at: t.max("rT").at,
  iterations: t.mean("iterations", { weights: "none" }),
})));
