// What matters more for the hall: how long the door is open, how hard the fans blow, or a curtain?
import { study, chart, emit, fit } from "oxtrum";

// Runs that reached their end with small residuals; the rules stand in the study's definition.
const runs = study("coldstore-doors").runs.accepted;
emit.table("which runs count", study("coldstore-doors").runs.verdicts());

const peaks = runs.rows((run) => {
  const t = run.table("monitors/hall.csv").to("T_mean", "degC");
  return {
    fan: run.params.fan,
    open: run.params.doorOpen,
    curtain: run.params.curtain,
    peak: t.max("T_mean"),
    back: t.settles("T_mean", { within: "0.5 K" }),
    warm: t.timeAbove("T_mean", "3 degC"),
    heat: t.integral("coil_duty").in("MJ"),
  };
});
const parameters: ("fan" | "open" | "curtain")[] = ["fan", "open", "curtain"];
emit.table("peaks", peaks.rank("peak"));
emit.table("governing", peaks.governing("peak"));
emit.table("effects on the peak", peaks.effects("peak", parameters));
emit.table("effects on the recovery", peaks.effects("back", parameters));
emit.table("sensitivity of the peak", peaks.sensitivities("peak", parameters));
emit.table("sensitivity of the recovery", peaks.sensitivities("back", parameters));
emit.table("one change at a time", peaks.pairs({ fan: 75, open: 80, curtain: "none" }, { columns: ["peak", "back"] }));
emit.table("correlations", peaks.correlations("fan", "open", "peak", "back", "heat"));
emit.table("odd ones", peaks.outliers("heat", { rule: "median" }).where({ "heat.outlier": ["high", "low"] }));

// The usual fan speeds, with and without a curtain.
const usual = peaks.where({ fan: [50, 75, 100] });
emit.table(
  "peak by door and fan",
  usual.where({ curtain: "none" }).pivot({ rows: ["open"], columns: "fan", values: "peak" }),
);
emit.table("by curtain", usual.groupBy("curtain", { columns: ["peak", "back"], show: ["mean", "std", "max"] }));
const law = fit.linear(usual.where({ curtain: "none" }), { y: "peak", x: ["open", "fan"] });
emit.table("peak by a plane", law);
emit.chart(
  "peak by door",
  chart.points(usual, {
    x: "open",
    y: "peak",
    title: "Peak of the hall's air by how long the door is open",
    xTitle: "Door open",
  }),
);
