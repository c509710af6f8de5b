import { emitWord } from "./emit-word.js";

export const tableWord = emitWord({
  name: "table",
  doc:
    "A table, or the tables of runs stacked, wide, or each by itself. As `xlsx` with units under the " +
    "names, a sheet that says where it came from, and words that stay words. As `vtp` or `vtu` its " +
    "rows are points with values at `x`, `y`, `z`, for another program to start from. A fit or an " +
    "agreement is a block of numbers with what was done, as CSV and JSON unless said otherwise.",
  examples: [
    'emit.table("peaks", peaks, { formats: ["csv", "json"] })',
    'emit.table("start", hall.sample(at.point([12, 4, 1]), ["temperature", "velocity"]), { formats: ["vtp"] })',
    'emit.table("hall by run", air.map((t) => t.pick("T_mean").head(20)), { formats: ["xlsx"], layout: "each", digits: 5 })',
    'emit.table("law", fit.power(peaks, { y: "peak", x: "open" }))',
    'emit.table("short", peaks, { formats: ["md"], columns: ["run", "peak"] })',
  ],
  signature:
    "(name: string, data: Table<any> | RunMap<any, any> | Fit | Agreement, options?: TableFileOptions & { column?: string }): void",
  takes: "table",
});
