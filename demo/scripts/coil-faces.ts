// What flows through each coil face at the end, how warm is it there, and how much heat does the floor give?
import { study, at, emit } from "oxtrum";

const runs = study("coldstore-doors").runs.where({ curtain: "strip" });
const coils = ["coil_1", "coil_2", "coil_3", "coil_4"] as const;

for (const coil of coils) {
  const face = runs.map((run) =>
    run
      .field("surfaces/*.vtp")
      .reduce(at.patch(coil), {
        flow: { flux: "velocity" },
        coldest: { min: "temperature" },
        mean: { mean: "temperature" },
        warmest: { max: "temperature" },
        area: { size: true },
      }),
  );
  emit.table(
    `face of ${coil}`,
    face.rows((t, run) => ({
      fan: run.params.fan,
      open: run.params.doorOpen,
      flow: t.first("flow"),
      coldest: t.first("coldest").in("degC"),
      mean: t.first("mean").in("degC"),
      warmest: t.first("warmest").in("degC"),
    })),
  );
}
emit.table(
  "heat from the floor",
  runs.rows((run) => ({
    fan: run.params.fan,
    open: run.params.doorOpen,
    heat: run
      .field("surfaces/*.vtp")
      .reduce(at.patch("floor"), { heat: { integral: "heat_flux" } })
      .first("heat")
      .in("kW"),
  })),
);
