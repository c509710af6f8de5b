/** What solvers write when a solution is worth nothing. */
export const divergedPhrases =
  /\bdiverged\b|\bdivergence (?:detected|occurred)|floating[- ]point (?:exception|error|overflow)|\bnan (?:detected|found|encountered)|segmentation fault|\bfatal error\b/i;
const denied = /\b(?:no|not|never|without|0|none)\b/i;

/**
 * Whether a line of a solver's output says that the solution diverged or the run failed.
 * @example saysDiverged("solution diverged at 12 s")
 */
export const saysDiverged = (line: string): boolean => divergedPhrases.test(line) && !denied.test(line);
