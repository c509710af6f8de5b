// How well does the floor give heat to the air: flux over the difference to the floor's temperature, patch by patch.
import { study, at, chart, emit } from "oxtrum";

const runs = study("coldstore-doors").runs.where({ curtain: "none" });

const floor = runs.map((run) =>
  run.field("surfaces/*.vtp").derive("h", "heat_flux / (Tfloor - temperature)", { unit: "W/(m^2 K)", with: { Tfloor: "278.15 K" } }),
);
emit.table(
  "floor",
  floor.rows((f, run) => {
    const r = f.reduce(at.patch("floor"), {
      h: { mean: "h" },
      low: { percentile: 5, of: "h" },
      high: { percentile: 95, of: "h" },
      hottest: { max: "heat_flux", place: true },
      heat: { integral: "heat_flux" },
      area: { size: true },
    });
    return {
      fan: run.params.fan,
      open: run.params.doorOpen,
      h: r.first("h"),
      low: r.first("low"),
      high: r.first("high"),
      heat: r.first("heat").in("kW"),
      x: r.first("hottest.x"),
      y: r.first("hottest.y"),
    };
  }),
);

// All surfaces of one run: how much heat comes through each.
const one = runs.map((run) => run.field("surfaces/*.vtp")).get("075_080_none");
const patches = ["floor", "ceiling", "south_wall", "north_wall", "door"] as const;
for (const p of patches)
  emit.value(
    `heat through ${p}`,
    one
      .reduce(at.patch(p), { q: { integral: "heat_flux" } })
      .first("q")
      .in("kW"),
  );
emit.table("patches", one.patches());

const upwards = runs.map((run) =>
  run
    .field("fields/hall")
    .at("last")
    .gradient("temperature")
    .sample(at.column([12, 6], { count: 40 }), ["temperature", "temperature.gradient.z"]),
);
emit.chart(
  "layering",
  chart.lines(upwards, {
    x: "z",
    y: "temperature.gradient.z",
    color: "fan",
    dash: "doorOpen",
    swapAxes: true,
    title: "Layering up the aisle",
    yTitle: "Temperature gradient",
  }),
);
