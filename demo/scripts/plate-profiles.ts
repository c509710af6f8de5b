// The profile across the passage and where it is hottest, in laminar and turbulent flow, from the fields themselves.
import { study, at, chart, emit } from "oxtrum";

const runs = study("plate-cooler").runs.where({ glycol: 40, mesh: "fine", wall: "resolved" });
const across = at.column([0.15, 0], { along: "y", count: 81 });

const profiles = runs.map((run) =>
  run
    .field("fields/passage")
    .sample(across, ["velocity.x", "temperature"])
    .derive("u", "velocity.x / Um", { with: { Um: "1 m/s" } }),
);
emit.chart(
  "profiles",
  chart.lines(profiles, {
    x: "y",
    y: "velocity.x",
    color: "Re",
    swapAxes: true,
    title: "Velocity across the passage, 150 mm from the inlet",
  }),
);

emit.table(
  "shape",
  runs.rows((run) => {
    const section = run
      .field("fields/passage")
      .reduce(at.plane({ x: 0.15 }), { mean: { mean: "velocity.x" }, max: { max: "velocity.x", place: true } });
    const wall = run
      .field("surfaces/*.vtp")
      .reduce(at.patch("lower"), { shear: { mean: "wall_shear" }, heat: { integral: "heat_flux" } });
    return {
      Re: run.params.Re,
      peak: section.first("max").over(section.first("mean")),
      height: section.first("max.y").in("mm"),
      shear: wall.first("shear"),
      heat: wall.first("heat"),
    };
  }),
);
