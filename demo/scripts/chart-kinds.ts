// Every kind of chart once, drawn from the cold store's runs.
import { study, across, chart, emit } from "oxtrum";

const hall = study("coldstore-doors");
const air = hall.runs.where({ curtain: "none", fan: [50, 75, 100] }).map((run) =>
  run.table("monitors/hall.csv").window("time", ["0 s", "30 min"]).to(["T_mean", "T_max"], "degC")
    .label("T_mean", "T_{mean}").label("T_max", "T_{max}"));
const one = air.get("075_080_none");
const peaks = air.rows((t, run) => ({
  fan: run.params.fan, open: run.params.doorOpen,
  peak: t.max("T_mean"), hottest: t.max("T_max"), lowest: t.min("T_mean"), coil: t.integral("coil_duty").in("MJ"), fans: t.integral("fan_power").in("MJ"),
})).sortBy("open");
const logs = hall.runs.where({ fan: 75, curtain: "none" }).map((run) =>
  run.lines("solver.log").read("t {time:s} s | it 1 |", "| it {iterations} | dT {dT} | dU {dU}", { several: "last" }));
const sensors = hall.runs.where({ fan: 75, curtain: "none" }).map((run) => run.table("monitors/sensors.dat").to("S4_high", "degC"));
const files: { formats: ("svg" | "png" | "pdf" | "csv")[] } = { formats: ["svg", "png", "pdf", "csv"] };

emit.chart("lines with ends", chart.lines(air, {
  y: "T_mean", color: "fan", dash: "doorOpen", legend: "right",
  title: "Hall air T_{mean} after the door opens", subtitle: "fan in %, door open in s", xTitle: "Time", yTitle: "Hall air",
  marks: [{ y: "5 degC", text: "goods must stay below" }, { x: ["0 s", "80 s"], text: "door open 80 s" }],
}), files);
emit.chart("names at the ends", chart.lines(hall.runs.where({ curtain: "none", doorOpen: 80 }).map((run) => run.table("monitors/hall.csv").to("T_mean", "degC")), {
  y: "T_mean", color: "fan", legend: "ends", extremes: "max", title: "A door open for 80 s, by fan", yTitle: "Hall air", xTitle: "Time",
}), files);
emit.chart("points", chart.points(peaks, { x: "open", y: "peak", color: "fan", marker: "fan", legend: "inside", title: "Peak by how long the door is open", xTitle: "Door open", yTitle: "Peak of the hall's air" }), files);
emit.chart("points and lines", chart.linePoints(peaks, { x: "open", y: "peak", color: "fan", dash: "fan", title: "Peak by door and fan", xTitle: "Door open", yTitle: "Peak of the hall's air" }), files);
emit.chart("steps", chart.steps(one.resample("time", { step: "120 s" }), { y: "T_max", title: "Hottest air, every two minutes", xTitle: "Time" }), files);
emit.chart("bars grouped", chart.bars(peaks, { x: "run", y: ["peak", "hottest"], title: "Peak of the mean and of the hottest air" }), files);
emit.chart("bars stacked", chart.bars(peaks, { x: "run", y: ["coil", "fans"], stacked: true, title: "Heat and work of half an hour", yTitle: "Energy" }), files);
emit.chart("band", chart.layers([
  chart.lines(air, { y: "T_mean", faint: true }),
  chart.band(across(air, { on: "time", columns: ["T_mean"], percentiles: [5, 95] }), { y: "T_mean", show: ["mean", "p5", "p95"] }),
], { title: "All runs: mean, 5 to 95 %", xTitle: "Time", yTitle: "Hall air" }), files);
emit.chart("error bars", chart.errorBars(peaks, { x: "open", y: "peak", lower: "lowest", upper: "hottest", color: "fan", title: "Peak of the mean, from the lowest to the hottest air", xTitle: "Door open", yTitle: "Hall air" }), files);
emit.chart("boxes", chart.box(air, { x: "fan", y: "T_mean", title: "How the hall's air spreads over half an hour", xTitle: "Fan (%)", yTitle: "Hall air" }), files);
emit.chart("histogram", chart.histogram(air, { x: "T_mean", color: "fan", width: "0.25 K", title: "How long which temperature lasts", xTitle: "Hall air", yTitle: "Values" }), files);
emit.chart("heat map", chart.heat(peaks.groupBy(["fan", "open"], { columns: ["peak"], show: ["mean"] }), { x: "fan", y: "open", z: "peak.mean", title: "Peak by fan and door" }), files);
emit.chart("parity", chart.parity(peaks, { x: "peak", y: "hottest", color: "fan", within: "2 K", title: "Hottest air over the mean's peak" }), files);
emit.chart("panels by fan", chart.lines(air, { y: ["T_mean", "T_max"], dash: "doorOpen", color: "doorOpen", panels: "fan", columns: 3, title: "Mean and hottest air by fan", xTitle: "Time", yTitle: "Hall air" }), files);
emit.chart("panels by quantity", chart.lines(one, { y: ["T_mean", "coil_duty", "humidity", "frost_mass"], panels: "quantities", columns: 2, title: "Four quantities of one run", xTitle: "Time" }), files);
emit.chart("two axes", chart.lines(one, { y: ["T_mean", "T_max", "coil_duty"], title: "Air and coil of one run", xTitle: "Time", yTitle: "Hall air" }), files);
emit.chart("logarithmic", chart.lines(one.window("time", ["10 s", "30 min"]), { y: "coil_duty", xScale: "log", yScale: "log", title: "Coil duty, both axes logarithmic", xTitle: "Time" }), files);
emit.chart("reversed", chart.lines(one, { y: "T_mean", yReversed: true, title: "Colder is higher", xTitle: "Time", yTitle: "Hall air" }), files);
emit.chart("residuals", chart.residuals(logs.get("075_080_none"), { y: ["dT", "dU"], title: "Residuals of one run", xTitle: "Time" }), files);
emit.chart("measured", chart.layers([
  chart.lines(sensors.get("075_080_none"), { y: "S4_high", name: "simulated" }),
  chart.points(hall.table("measured/loggers.csv").resample("time", { step: "60 s" }), { x: "time", y: "L4", name: "logger L4, every minute" }),
], { title: "Simulation and logger under the roof", legend: "inside", xTitle: "Time", yTitle: "Air" }), files);
emit.chart("for print", chart.lines(one, { y: "T_mean", theme: "print", size: ["85 mm", "60 mm"], resolution: 300, title: "For a column of print", xTitle: "Time", yTitle: "Hall air" }), files);

emit.value("warmest", peaks.max("peak"));
emit.check("goods stay cold", peaks.max("peak"), { below: "8 degC" });
emit.table("peaks", peaks, { formats: ["csv", "tsv", "semicolon", "json", "xlsx", "parquet", "md", "tex", "html"], digits: 9, charts: ["points and lines", "heat map"] });

emit.report("gallery", {
  title: "Every kind of chart", subtitle: "drawn from the cold store's runs",
  notes: `
    ## What this shows
    One chart of each kind, with its file and the line of the script that made it. The warmest hall air of all runs is
    **{{warmest}}**; the goods are asked to stay below 8 °C: {{goods stay cold}}.

    {{peaks}}

  `,
});
