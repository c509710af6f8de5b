// Is the flow next to the plates solved well? Profiles in wall units against the laws of the wall, all meshes and treatments.
import { study, chart, emit, law, q } from "oxtrum";

const runs = study("plate-cooler").runs.where({ regime: "turbulent", Re: 10000, glycol: 40 });
const gap = q("4 mm");

// The lower half of the profile at the end of the plain inlet stretch, in wall units.
const profiles = runs.map((run) => {
  const plate = run.table("plate.csv").sortBy("x").along("x");
  return run.table("profiles/x150mm.csv").along("y").window("y", ["0 mm", "2 mm"])
    .wallUnits({ y: "y", u: "u", shear: plate.at("wall_shear", "0.15 m"), nu: run.params.nu, rho: run.params.rho })
    .where("y > 0 m")
    .along("y.plus")
    .law("composite", "wall.composite", { "y.plus": "y.plus" });
});

const resolved = runs.where({ wall: "resolved" }).map((run) => profiles.get(run.id));
const bridged = runs.where({ wall: "bridged" }).map((run) => profiles.get(run.id));
const reach: [number, number] = [1, 400];
const laws = [
  chart.lines(
    law("wall.sublayer").curve({ "y.plus": [1, 5] }, { steps: "log", points: 30 }),
    { x: "y.plus", y: "u.plus", name: "sublayer" },
  ),
  chart.lines(
    law("wall.logarithmic").curve({ "y.plus": [30, 400] }, { steps: "log", points: 30 }),
    { x: "y.plus", y: "u.plus", name: "logarithmic law" },
  ),
  chart.lines(
    law("wall.composite").curve({ "y.plus": reach }, { steps: "log", points: 80 }),
    { x: "y.plus", y: "u.plus", name: "composite law" },
  ),
];
emit.chart("near the wall", chart.layers([...laws, chart.points(resolved, { x: "y.plus", y: "u.plus", color: "mesh" })],
  { title: "Down to the wall, by mesh", xScale: "log", xTitle: "y^{+}", yTitle: "u^{+}" }));
emit.chart("with a wall law", chart.layers([...laws, chart.points(bridged, { x: "y.plus", y: "u.plus", color: "mesh" })],
  { title: "Wall layer bridged, by mesh", xScale: "log", xTitle: "y^{+}", yTitle: "u^{+}" }));

const judged = profiles.rows((t, run) => {
  const off = t.where("y.plus > 1").against(t, { y: "u.plus", reference: "composite", on: "y.plus", within: { relative: "5 %" } });
  return { mesh: run.params.mesh, wall: run.params.wall, first: t.first("y.plus"), rms: off.rms(), bias: off.bias(), within: off.within() };
});
emit.table("against the composite law", judged.sortBy("rms"));
emit.check("the first cell lies in the sublayer", judged.where({ mesh: "fine", wall: "resolved" }).max("first"), { below: 1 });

// Laminar flow has a closed form to be compared with.
const laminar = study("plate-cooler").runs.where({ regime: "laminar", Re: 400, glycol: 40 });
emit.table("against the parabola", laminar.rows((run) => {
  const { Re, nu } = run.params;
  const t = run.table("profiles/x150mm.csv").along("y")
    .law("parabola", "profile.plates", { y: "y", gap, mean: Re.times(nu).over(gap).over(2) });
  return { mesh: run.params.mesh, rms: t.against(t, { y: "u", reference: "parabola" }).rms(), most: t.max("parabola") };
}));
