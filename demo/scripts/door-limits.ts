// A check that fails on purpose: with the door open for 160 s no fan keeps the hall below 4 °C.
import { study, emit } from "oxtrum";

const peaks = study("coldstore-doors")
  .runs.where({ curtain: "none", doorOpen: 160 })
  .rows((run) => ({ fan: run.params.fan, peak: run.table("monitors/hall.csv").to("T_mean", "degC").max("T_mean") }));
emit.table("peaks with a long door", peaks);
emit.check("stays below 4 °C", peaks.max("peak"), { below: "4 degC" });
