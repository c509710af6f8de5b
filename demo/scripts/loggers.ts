// Do the loggers under the roof agree with the simulation of the same door, once their clock is put right?
import { study, chart, emit } from "oxtrum";

const hall = study("coldstore-doors");
const measured = hall.table("measured/loggers.csv");

// The run that was measured: fan 75 %, door open 80 s. The solver was restarted; rows run twice are dropped.
const simulated = hall.runs
  .where({ fan: 75, doorOpen: 80, curtain: "none" })
  .map((run) => run.table("monitors/sensors.dat"));
const sensor = simulated.get("075_080_none").to(["S1_high", "S2_high", "S3_high", "S4_high"], "degC");

// Nobody wrote down the loggers' clock: it is where both histories agree best.
const agreement = sensor.against(measured, {
  y: "S4_high",
  reference: "L4",
  shift: "estimate",
  maxLag: "120 s",
  within: "0.2 K",
});
emit.table("agreement", agreement);
emit.value("clock offset", agreement.shift());
emit.check("loggers agree", agreement.rms(), { below: "0.2 K" });

const both = agreement.side().label("S4_high", "simulated S4").label("reference", "logger L4");
emit.chart(
  "logger and simulation",
  chart.lines(both, {
    x: "time",
    y: ["reference", "S4_high"],
    title: "Under the roof, next to the door",
    subtitle: "by the loggers' clock",
    yTitle: "Air temperature",
    xTitle: "Time",
  }),
);
emit.table("side by side", both.resample("time", { step: "60 s" }));

// The other three with the same clock.
for (const k of [1, 2, 3] as const)
  emit.value(
    `rms of L${k}`,
    sensor.against(measured, { y: `S${k}_high`, reference: `L${k}`, shift: agreement.shift() }).rms(),
  );

// How the correlation tells it.
const shifts = measured.crossCorrelation("L4", sensor, { other: "S4_high", maxLag: "120 s" });
emit.chart(
  "correlation by shift",
  chart.lines(shifts, { x: "shift", y: "correlation", title: "Correlation of logger and simulation" }),
);
