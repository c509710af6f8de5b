// Which anchor takes the hardest pull when the truck hits, and how thick must its bolt be?
import { study, chart, emit, input, q, type Table } from "oxtrum";
import { anchors, shear } from "./anchor-names.ts";

const allowable = input("allowable shear stress", q("140 MPa"));
const impacts = study("rack-impact").runs;

// Step 1 tightens the bolts; its loads are no part of the peaks.
const hits = impacts.map((run) => anchors.reduce<Table>(
  (t, a) => t.derive(`${a}.shear`, shear(a), { unit: "kN" }).label(`${a}.shear`, a),
  run.table("anchors").where({ step: 2 }).along("time"),
));

const peaks = hits.rows((t, run) => {
  const loads = anchors.map((a) => ({ a, peak: t.max(`${a}.shear`) }));
  const governing = loads.reduce((x, y) => (y.peak.value > x.peak.value ? y : x));
  return {
    speed: run.params.speed,
    grade: run.params.grade,
    anchor: governing.a,
    peak: governing.peak,
    at: governing.peak.at,
    bolt: governing.peak.over(allowable).times(4 / Math.PI).root().in("mm"),
  };
});
emit.table("governing anchors", peaks, { formats: ["csv", "json"] });
emit.value("bolt diameter", peaks.max("bolt"));
emit.chart("bolt against speed", chart.points(peaks, { x: "speed", y: "bolt", title: "Smallest bolt by impact speed", xTitle: "Impact speed", yTitle: "Bolt diameter" }));

const hardest = impacts.where({ speed: 2, grade: 355 }).map((run) => hits.get(run.id).head(400));
emit.chart("anchor shear", chart.lines(hardest, { x: "time", y: ["A1.shear", "A3.shear", "A6.shear"], title: "Shear at three anchors, 2 m/s", yTitle: "Shear", xTitle: "Time" }));
