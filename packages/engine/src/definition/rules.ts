import type { StudyDefinition } from "./definition.js";

/** A rule for which runs count, as a script's graph holds it: what is read of a run, and how it is judged. */
export interface RuleRequest {
  readonly name: string;
  readonly op: "run.table" | "run.lines";
  /** Arguments of the reading, but for the study. */
  readonly read: Readonly<Record<string, unknown>>;
  readonly judge: Readonly<Record<string, unknown>>;
}

/** The rules of a study, in the order in which its definition has them. */
export function ruleRequests(definition: StudyDefinition): RuleRequest[] {
  return Object.entries(definition.accept).map(([name, r]) => {
    const { value, over, where, below, above, within } = r;
    const judge = { name, formula: value, over, where, below, above, within };
    return r.lines !== undefined
      ? { name, op: "run.lines", read: { file: r.lines, patterns: r.read ?? [] }, judge }
      : { name, op: "run.table", read: { file: r.table!, options: {} }, judge };
  });
}
