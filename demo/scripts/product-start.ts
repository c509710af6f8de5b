// Air temperatures at the products' places, written back as points that a simulation of the products can start from.
// Most products stand in the racks, which the mesh leaves out: their air is that of a plane fitted to the nearest points.
import { study, at, emit } from "oxtrum";

const hall = study("coldstore-doors");
const places = at.points(hall.table("points/product.csv"));
const nearby = { method: "fitted-plane", nearest: 12 } as const;
const runs = hall.runs.where({ curtain: "none", doorOpen: 80 });

const start = runs.map((run) =>
  run.field("fields/hall").at("last").sample(places, ["temperature", "humidity", "velocity"], nearby),
);
emit.table("products", start);
for (const id of start.ids) emit.table(`products ${id}`, start.get(id), { formats: ["csv", "vtp"] });

// How warm did each get while the door stood open, and when?
const worst = runs.map((run) =>
  run
    .field("fields/hall")
    .overTime(places, "temperature", { ...nearby, show: ["mean", "max", "timeOfMax"] })
    .to(["temperature.mean", "temperature.max"], "degC"),
);
emit.table("worst", worst);
emit.table(
  "warmest product",
  worst.rows((t, run) => ({
    fan: run.params.fan,
    warmest: t.max("temperature.max"),
    spread: t.max("temperature.max").minus(t.min("temperature.max")),
  })),
);
