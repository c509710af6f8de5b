// Which anchor takes the hardest pull when the truck hits, and how thick must its bolt be?
import { study, across, calc, chart, emit, input, q, type Table } from "oxtrum";
import { anchors } from "./anchor-names.ts";

const allowable = input("allowable shear stress", q("140 MPa"));
const impacts = study("rack-impact").runs;

// Step 1 tightens the bolts; its loads are not part of the peaks.
const hits = impacts.map((run) =>
  anchors.reduce<Table>(
    (t, a) => t.resultant(`${a}.shear`, [`${a}.Fx`, `${a}.Fy`], { unit: "kN" }).label(`${a}.shear`, a),
    run.table("anchors").where({ step: 2 }).along("time"),
  ),
);

// At each time the anchor that has the most, and of those the hardest moment.
const loads = hits.map((t) => t.balance(anchors.map((a) => `${a}.shear`)));
const peaks = loads.rows((t, run) => {
  const peak = t.max("max");
  return {
    speed: run.params.speed,
    grade: run.params.grade,
    peak,
    at: peak.at,
    bolt: calc("sqrt(4 * F / (pi * tau))", { F: peak, tau: allowable }, { unit: "mm" }),
  };
});
const governing = loads.map((t) => t.governing("max").pick("maxColumn", "max")).stack();
emit.table("governing anchors", governing);
emit.table("peaks", peaks, { formats: ["csv", "json"] });
emit.value("bolt diameter", peaks.max("bolt"));
emit.table("governing run", peaks.governing("bolt"));
emit.chart(
  "bolt against speed",
  chart.points(peaks, {
    x: "speed",
    y: "bolt",
    title: "Smallest bolt by impact speed",
    xTitle: "Impact speed",
    yTitle: "Bolt diameter",
  }),
);

// The envelope over all runs, with the run that governs at each time.
const envelope = across(loads, { on: "time", columns: ["max"], governing: true });
emit.table("envelope", envelope);
const hardest = impacts.where({ speed: 2, grade: 355 }).map((run) => hits.get(run.id).head(400));
emit.chart(
  "anchor shear",
  chart.lines(hardest, {
    x: "time",
    y: ["A1.shear", "A3.shear", "A6.shear"],
    title: "Shear at three anchors, 2 m/s",
    yTitle: "Shear",
    xTitle: "Time",
  }),
);
