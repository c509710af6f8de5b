// 100 sections along the cooler's passage: does what the field carries agree with a balance along one dimension?
import { study, at, chart, emit } from "oxtrum";

const runs = study("plate-cooler").runs.where({ regime: "laminar", mesh: "fine", glycol: [30, 50] });
const sections = at.stations({ along: "x", from: 0.005, to: 0.595, count: 100 });

const along = runs.map((run) =>
  run
    .field("fields/passage")
    .reduce(sections, {
      gap: { size: true },
      speed: { mean: "velocity.x" },
      flow: { flux: "velocity" },
      pressure: { mean: "pressure" },
      bulk: { mean: "temperature", weights: { flow: "velocity" } },
      even: { uniformity: "velocity.x" },
    })
    .to("bulk", "degC"),
);
emit.table("sections", along);
emit.chart(
  "bulk temperature",
  chart.lines(along, {
    x: "x",
    y: "bulk",
    color: "Re",
    dash: "glycol",
    title: "Glycol along the passage",
    xTitle: "Distance from the inlet",
    yTitle: "Bulk temperature",
  }),
);

// What the glycol loses between two sections has to pass the two plates between them.
emit.table(
  "balance",
  along.rows((t, run) => {
    const { rho, cp, Re } = run.params;
    const heat = t
      .mean("flow")
      .times(rho)
      .times(cp)
      .times(t.at("bulk", 0.1, { pick: "linear" }).minus(t.at("bulk", 0.5, { pick: "linear" })));
    const walls = run.table("plate.csv").sortBy("x").along("x").window("x", [0.1, 0.5]).integral("heat_flux").times(2);
    return { Re, carried: heat, walls, share: heat.over(walls) };
  }),
);
