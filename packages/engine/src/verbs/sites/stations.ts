import { number } from "../parameters/kinds.js";
import { along, bounds, count, placesAlong, stationLine } from "./site-parameters.js";
import { siteWord } from "./site-word.js";

export const stationsWord = siteWord({
  name: "stations",
  doc:
    "Planes across an axis or a path, evenly spaced: 100 sections in one line. With `line`, lines " +
    "instead, each moved so that its middle lies at the station.",
  examples: ['hall.reduce(at.stations({ along: "x", from: 1, to: 23, count: 12 }), { T: { mean: "temperature" } })'],
  parameters: {
    along: along().option(),
    from: number().option(),
    to: number().option(),
    count: count().option().otherwise(100),
    bounds: bounds().option().optional(),
    line: stationLine().option().optional(),
  },
  site: ({ line, bounds, ...given }) => ({
    kind: "stations",
    ...given,
    ...(bounds && { bounds }),
    ...(line && {
      line: {
        from: line.from,
        to: line.to,
        count: placesAlong("at.stations, line", line, [line.from, line.to]),
      },
    }),
  }),
});
