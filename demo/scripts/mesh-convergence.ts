// Is the cooler's mesh fine enough? Observed order, extrapolated value and its uncertainty from three meshes.
import { study, emit } from "oxtrum";

const levels = (regime: "laminar" | "turbulent", Re: number, wall: "resolved" | "bridged") =>
  study("plate-cooler")
    .runs.where({ regime, Re, wall, glycol: 40 })
    .rows((run) => {
      const plate = run.table("plate.csv").sortBy("x").along("x").window("x", ["0.05 m", "0.55 m"]);
      return {
        mesh: run.params.mesh,
        h: run.field("fields/passage").blocks().first("cells").power(-0.5),
        heat: plate.mean("heat_flux"),
        shear: plate.mean("wall_shear"),
        bulk: run.table("plate.csv").sortBy("x").along("x").last("T_bulk"),
      };
    });

for (const [regime, Re, wall] of [
  ["laminar", 400, "resolved"],
  ["turbulent", 10000, "resolved"],
  ["turbulent", 10000, "bridged"],
] as const) {
  const l = levels(regime, Re, wall);
  emit.table(`${regime} ${wall} levels`, l);
  emit.table(`${regime} ${wall} heat`, l.converge("heat", { size: "h" }));
  emit.table(`${regime} ${wall} shear`, l.converge("shear", { size: "h" }));
}
const laminar = levels("laminar", 400, "resolved").converge("heat", { size: "h" });
emit.value("order of the laminar heat flux", laminar.first("order"));
emit.check("the fine laminar mesh is good to a percent", laminar.first("gci"), { below: 0.01 });
