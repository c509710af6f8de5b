// How do friction and wall transfer of the cooler's passage depend on the Reynolds and Prandtl numbers?
import { study, chart, emit, fit } from "oxtrum";

const runs = study("plate-cooler").runs.where({ mesh: "fine", wall: "resolved" });
const gap = "4 mm";

// At the end of the plain inlet stretch. Some files list the plate from its far end.
const laws = runs.rows((run) => {
  const { Re, Pr, nu, rho, k } = run.params;
  const plate = run.table("plate.csv").sortBy("x").along("x");
  const speed = Re.times(nu).over(gap).over(2);
  const shear = plate.at("wall_shear", "0.15 m", { pick: "linear" });
  const heat = plate.at("heat_flux", "0.15 m", { pick: "linear" });
  const warmer = plate.at("T_bulk", "0.15 m", { pick: "linear" }).minus("263.15 K");
  return {
    regime: run.params.regime,
    Re,
    Pr,
    f: shear
      .times(8)
      .over(rho.times(speed.power(2)))
      .in("1"),
    Nu: heat.over(warmer).times(gap).times(2).over(k).in("1"),
  };
});
emit.table("numbers", laws);

const laminar = laws.where({ regime: "laminar" });
const friction = fit.power(laminar, { y: "f", x: "Re" });
emit.value("laminar friction exponent", friction.exponent("Re"));
emit.value("laminar friction constant", friction.term("C"));
emit.chart(
  "laminar friction",
  chart.layers(
    [
      chart.points(laminar, { x: "Re", y: "f", name: "computed" }),
      chart.lines(friction.curve(), { x: "Re", y: "f.fit", name: "C Re^n" }),
    ],
    {
      title: "Friction factor, laminar",
      xScale: "log",
      yScale: "log",
      xTitle: "Reynolds number",
      yTitle: "Friction factor",
    },
  ),
);

const turbulent = laws.where({ regime: "turbulent" });
const transfer = fit.power(turbulent, { y: "Nu", x: ["Re", "Pr"] });
emit.table("turbulent law", transfer.terms());
emit.value("fit of turbulent transfer", transfer.rSquared());
emit.table("turbulent, fitted", transfer.applied());
emit.chart(
  "computed and fitted",
  chart.points(transfer.applied(), { x: "Nu", y: "Nu.fit", title: "Nusselt number: computed and fitted" }),
);
