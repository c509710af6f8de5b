/** Endings of text tables, as they are usual: for finding them among a run's files, never for knowing what they are. */
export const tableEndings: readonly string[] = [
  ".csv",
  ".tsv",
  ".txt",
  ".dat",
  ".out",
  ".asc",
  ".prn",
  ".tab",
  ".hist",
  ".xy",
];

/** The ending of a text table in a name, whatever its case. @example "a.CSV".replace(tableEnding, "") // "a" */
export const tableEnding = new RegExp(`(?:${tableEndings.map((e) => e.replace(".", "\\.")).join("|")})$`, "i");
