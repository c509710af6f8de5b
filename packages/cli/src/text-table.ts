import { formatNumber } from "@oxtrum/core/tables";

/** Lines of a table for the terminal: columns aligned, numbers to the right. */
export function columnsOf(
  head: readonly string[],
  rows: readonly (readonly string[])[],
  right: readonly boolean[],
): string[] {
  const width = head.map((h, k) => Math.min(48, Math.max(h.length, ...rows.map((r) => (r[k] ?? "").length), 0)));
  const cut = (s: string, w: number): string =>
    s.length <= w ? s : s.slice(0, Math.ceil(w / 2) - 1) + "…" + s.slice(s.length - Math.floor(w / 2));
  const line = (cells: readonly string[]): string =>
    cells
      .map((c, k) => (right[k] ? cut(c, width[k]!).padStart(width[k]!) : cut(c, width[k]!).padEnd(width[k]!)))
      .join("  ")
      .trimEnd();
  return [line(head), ...rows.map(line)];
}

/** A number of things in words. @example counted(1, "run") // "1 run" */
export const counted = (n: number, thing: string): string => `${formatNumber(n)} ${thing}${n === 1 ? "" : "s"}`;
