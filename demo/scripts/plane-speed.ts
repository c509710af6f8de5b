// How fast does the air move through the middle of the hall, over time, and how does the mean temperature change along it?
import { study, at, chart, emit } from "oxtrum";

const runs = study("coldstore-doors").runs.where({ curtain: "none", doorOpen: 80 });
const middle = at.plane({ x: 12 });

const speed = runs.map((run) =>
  run
    .field("fields/hall")
    .history(middle, {
      speed: { mean: "velocity.mag" },
      flow: { flux: "velocity" },
      temperature: { mean: "temperature" },
    }),
);
emit.chart(
  "speed in the middle",
  chart.lines(speed, { x: "time", y: "speed", color: "fan", title: "Mean speed through x = 12 m", yTitle: "Speed" }),
);
emit.table("speed over time", speed);

// 23 sections along the hall.
const along = runs.map((run) =>
  run
    .field("fields/hall")
    .at({ time: "300 s" })
    .reduce(at.stations({ along: "x", from: 1, to: 23, count: 23 }), {
      temperature: { mean: "temperature" },
      hottest: { max: "temperature" },
    })
    .to(["temperature", "hottest"], "degC"),
);
emit.chart(
  "along the hall",
  chart.lines(along, {
    x: "x",
    y: "temperature",
    color: "fan",
    title: "Mean temperature of 23 sections",
    xTitle: "Distance from the coils",
  }),
);
emit.table("sections", along);
