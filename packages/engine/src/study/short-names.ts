/** Endings of files that are read as tables without being named. */
export const tableEnding = /\.(?:csv|tsv|txt|dat|out|asc|prn|tab|hist|xy)$/i;

/**
 * Names without their endings, as scripts may write them, and which files each can mean. A name that is a file, or stands in
 * the definition, means just that.
 *
 * @example shortNames(["monitors/hall.csv", "a.csv", "a.dat"]) // monitors/hall: [monitors/hall.csv], a: [a.csv, a.dat]
 */
export function shortNames(names: Iterable<string>): Map<string, string[]> {
  const whole = new Set(names);
  const out = new Map<string, string[]>();
  for (const file of [...whole].sort()) {
    const short = file.replace(tableEnding, "").replace(/\.log$/i, "");
    if (short === file || short === "" || short.endsWith("/") || whole.has(short)) continue;
    out.set(short, [...(out.get(short) ?? []), file]);
  }
  return out;
}
