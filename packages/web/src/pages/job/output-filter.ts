import type { Output } from "@oxtrum/contract";

/** Kinds of outputs in the order in which they are read; of equal ones in that of the script. */
const ranks: ReadonlyMap<string, number> = new Map([
  ["check", 0],
  ["value", 0],
  ["report", 0],
  ["chart", 1],
  ["picture", 1],
  ["table", 2],
]);
/** The place of a kind in that order. */
export const rankOf = (kind: string): number => ranks.get(kind) ?? 3;

/** Which outputs are shown. */
export interface Filter {
  readonly kinds: readonly Output["kind"][];
  readonly words: string;
  /** Only outputs that hold this run. */
  readonly run: string;
}

/** Whether an output is shown. */
export const passes = (o: Output, f: Filter): boolean =>
  (f.kinds.length === 0 || f.kinds.includes(o.kind)) &&
  (f.words === "" || o.name.toLowerCase().includes(f.words.toLowerCase())) &&
  (f.run === "" || (o.of ? o.of.includes(f.run) : o.runs > 0 && !o.left.some((l) => l.run === f.run)));
