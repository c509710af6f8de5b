/**
 * What is known about a value's worth: its file is cut off, rows of it are damaged, a restart was joined. A reader
 * attaches it where it is first known; it travels with the value through every operation, into notes, terminal, report
 * and manifest.
 */
export interface Condition {
  readonly kind:
    | "cut off"
    | "unfinished line"
    | "damaged rows"
    | "missing cells"
    | "long lines"
    | "text skipped"
    | "restart"
    | "pattern without match"
    | "several matches"
    | "diverged"
    | "gap"
    | "missing values"
    | "coverage"
    | "not finished"
    | "not drawn";
  /** The file it was found in, by the name that the script uses; "" when it was found in values. */
  readonly file: string;
  readonly text: string;
  readonly study?: string;
  readonly run?: string;
}

/** A condition in a line: whose it is, where, and what. */
export const conditionText = (c: Condition): string =>
  `${c.run === undefined || c.run === "" ? "" : `${c.run}: `}${c.file === "" ? "" : `${c.file}: `}${c.text}`;

/** Conditions of several values together, each once, in the order of study, run and file. */
export function mergeConditions(...lists: (readonly Condition[] | undefined)[]): readonly Condition[] {
  const given = lists.filter((l): l is readonly Condition[] => l !== undefined && l.length > 0);
  if (given.length === 0) return [];
  if (given.length === 1) return given[0]!;
  const all = new Map<string, Condition>();
  for (const list of given)
    for (const c of list) all.set([c.study ?? "", c.run ?? "", c.file, c.kind, c.text].join("\0"), c);
  return [...all].sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0)).map(([, c]) => c);
}
