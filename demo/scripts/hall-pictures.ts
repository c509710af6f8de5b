// Where in the hall is it warm after the door was opened, and where does the air go?
import { study, at, picture, emit } from "oxtrum";

emit.naming({ each: "{output}-{frame}", folders: "output" });
const runs = study("coldstore-doors").runs.where({ curtain: "none", doorOpen: 80 });
const aisle = at.plane({ y: 6 });
const warmth = (time: "first" | "last") =>
  runs.map((run) => run.field("fields/hall").at(time).surface(aisle, { color: "temperature", vectors: "velocity" }).to("value", "degC"));

// All fans on one scale of colour, with the rake that is sampled elsewhere.
emit.picture(
  "aisle by fan",
  picture.panels(warmth("last"), {
    title: "Aisle at the last time, by fan",
    contours: 5,
    arrows: false,
    sites: { rake: at.line([12, 6, 0.1], [12, 6, 5.9]), "door sensor": at.point([2, 6, 2]) },
  }),
  { formats: ["png", "pdf"] },
);

// One run: which way the air goes, in arrows and as streamlines; and with colours in steps.
const one = warmth("last").get("075_080_none");
emit.picture("arrows", picture.panels(one, { title: "Air in the aisle, fan 75 %", arrows: true }));
emit.picture("streamlines", picture.panels(one, { title: "The same as streamlines", streamlines: true }));
emit.picture(
  "steps",
  picture.panels(one, { title: "In eight steps", steps: 8, mesh: true, arrows: false, range: ["1.4 degC", "1.7 degC"] }),
);

// Heat into the floor of every run, each on its own scale; the mesh's outline round it.
emit.picture(
  "floor",
  picture.panels(
    runs.map((run) => run.field("surfaces/*.vtp").at("last").surface(at.patch("floor"), { color: "heat_flux" })),
    { title: "Heat into the floor, by fan", range: "own", camera: "isometric" },
  ),
);
emit.picture(
  "whole hall",
  picture.panels(runs.map((run) => run.field("fields/hall").at("last").surface(at.all(), { color: "temperature" })).get("100_080_none"), {
    title: "The whole hall, fan 100 %",
    camera: { from: [-1, -2, 1.2] },
  }),
);

// Through time: numbered pictures, and one that moves.
const hall = runs.map((run) => run.field("fields/hall"));
const times: ("0 s" | "150 s" | "300 s" | "450 s" | "600 s")[] = ["0 s", "150 s", "300 s", "450 s", "600 s"];
emit.picture(
  "through time",
  picture.frames(
    times.map((time) =>
      runs
        .map((run) =>
          run.field("fields/hall").at({ time }, { pick: "nearest" }).surface(aisle, { color: "temperature" }).to("value", "degC"),
        )
        .get("050_080_none"),
    ),
    { titles: times, title: "Aisle after the door opens, fan 50 %" },
  ),
  { formats: ["png", "apng"], seconds: 0.8 },
);
emit.table("times", hall.get("050_080_none").times());
