// Do the loggers under the roof agree with the simulation of the same door?
import { study, chart, emit } from "oxtrum";

const hall = study("coldstore-doors");
const measured = hall.table("measured/loggers.csv").rename({ L4: "measured" });

// The run that was measured: fan 75 %, door open 80 s. The solver was restarted; rows run twice are dropped.
const simulated = hall.runs.where({ fan: 75, doorOpen: 80, curtain: "none" }).map((run) =>
  run.table("monitors/sensors.dat").to("S4_high", "degC"));
const sensor = simulated.get("075_080_none");

const both = measured
  .join(sensor.pick("S4_high"))
  .derive("off", "measured - S4_high")
  .label("measured", "logger L4")
  .label("S4_high", "simulated S4");

emit.chart("logger and simulation", chart.lines(both, {
  x: "time", y: ["measured", "S4_high"],
  title: "Under the roof, next to the door", yTitle: "Air temperature", xTitle: "Time",
}));
emit.value("mean difference", both.mean("off"));
emit.value("rms difference", both.rms("off"));
emit.value("largest difference", both.derive("size", "abs(off)").max("size"));
emit.table("side by side", both.resample("time", { step: "60 s" }));
