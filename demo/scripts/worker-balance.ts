// How evenly are the cells shared among the sixteen workers, and when is it worst?
import { study, chart, emit } from "oxtrum";

const load = study("coldstore-doors")
  .runs.where({ curtain: "none" })
  .map((run) => {
    const t = run.table("load/cells_per_worker.csv");
    return t
      .balance(t.columns({ match: "cells_*" }))
      .to("imbalance", "%")
      .label("imbalance", "Imbalance");
  });

emit.chart(
  "imbalance",
  chart.lines(load, {
    x: "time",
    y: "imbalance",
    color: "doorOpen",
    dash: "fan",
    title: "Most loaded worker against the mean",
    xTitle: "Time",
  }),
);

const worst = load.rows((t, run) => ({
  fan: run.params.fan,
  open: run.params.doorOpen,
  worst: t.max("imbalance"),
  at: t.max("imbalance").at,
  mean: t.mean("imbalance"),
}));
emit.table("imbalance by run", worst.sortBy("worst", "falling"));
emit.table(
  "when it is worst",
  load.get("075_080_none").governing("imbalance").pick("mean", "max", "imbalance", "maxColumn", "minColumn"),
);
emit.check("balanced enough", worst.max("worst"), { below: "60 %" });
