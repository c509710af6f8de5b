import { expect, it } from "@jest/globals";
import { smallStudy } from "@oxtrum/engine/testing";
import { endure } from "./endure.js";

const script = `import { study, across, chart, emit } from "oxtrum";
const t = study("small").runs.map((run) => run.table("hall.csv").derive("d", "T * (2 + @round)"));
emit.table("peaks", t.rows((x, run) => ({ fan: run.params.fan, peak: x.max("d") })));
emit.chart("air", chart.lines(t, { x: "time", y: "d", color: "fan" }));
emit.table("band", across(t, { on: "time", columns: ["d"] }));
`;

// `npm run endure` does the same two hundred times.
it("stops and kills at random moments leave every state true and every output whole or absent", async () => {
  const s = smallStudy();
  try {
    const r = await endure({
      dataFolder: s.data,
      study: { name: "small", folder: s.folder },
      script,
      rounds: 6,
      seed: 11,
      longest: 700,
    });
    expect(r.broken).toEqual([]);
    expect(
      Object.values(r.ended)
        .flatMap((e) => Object.values(e))
        .reduce((a, b) => a + b, 0),
    ).toBe(6);
  } finally {
    s.remove();
  }
});
