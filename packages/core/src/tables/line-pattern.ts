/** A number in a line: where it stands, what it may be called, and its unit where one follows. */
export interface NumberInLine {
  readonly start: number;
  readonly end: number;
  readonly name: string;
  readonly unit: string | null;
}

/** A number in running text, not a part of a word or of another number. */
export const number = /(?<![\p{L}\d._])[+-]?(?:\d+\.?\d*|\.\d+)(?:[eEdD][+-]?\d+)?(?![\p{L}\d_]|\.\d)/gu;
/**
 * A pattern for lines like this one: its text, with fields where numbers were chosen and `…` for other numbers, up to
 * the last field and the word behind it.
 *
 * @param chosen numbers of the line with the names that they are to have
 * @example patternFor("t 30 s | it 6", [{ start: 2, end: 4, name: "time", unit: "s" }]) // "t {time:s} s"
 */
export function patternFor(line: string, chosen: readonly NumberInLine[]): string {
  const fields = [...chosen].sort((a, b) => a.start - b.start);
  const last = fields[fields.length - 1];
  if (!last) return "";
  const plain = (text: string): string => text.replace(number, "…").replace(/[{}]/g, "…").replace(/\s+/g, " ");
  let out = "";
  let at = 0;
  for (const f of fields) {
    out += `${plain(line.slice(at, f.start))}{${f.name}${f.unit === null ? "" : `:${f.unit}`}}`;
    at = f.end;
  }
  const behind = /^\s?[^\s\d]{0,12}/.exec(line.slice(last.end))?.[0] ?? "";
  const pattern = (out + plain(behind)).trim();
  return pattern.replace(/…(?:\s*…)+/g, "…").replace(/^…\s*/, "");
}
