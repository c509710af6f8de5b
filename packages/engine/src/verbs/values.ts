import type { ChartDescription } from "@oxtrum/core/charts";
import type { PictureDescription } from "@oxtrum/core/pictures";
import type { Condition, Quantity, Table } from "@oxtrum/core/tables";

/** Where in which file something is wrong, and what may be done about it. */
export interface Fault {
  readonly file?: string;
  readonly line?: number;
  /** The byte, in files that are not text. */
  readonly offset?: number;
  readonly hint?: string;
}

/** A run that a result lacks, and why. */
export interface ExcludedRun extends Fault {
  readonly run: string;
  readonly reason: string;
}

/** What is known of a fault's place and cure, and nothing else. */
export const faultOf = ({ file, line, offset, hint }: Fault): Fault => ({
  ...(file !== undefined && { file }),
  ...(line !== undefined && { line }),
  ...(offset !== undefined && { offset }),
  ...(hint !== undefined && { hint }),
});

/**
 * A reason with its place and its cure, as people read it.
 *
 * @example
 *   reasonText({ reason: "the file is empty", file: "a.csv", hint: "Run again." });
 *   // "the file is empty (a.csv). Run again."
 */
export function reasonText({ reason, file, line, offset, hint }: Fault & { readonly reason: string }): string {
  const at = line !== undefined ? `:${line}` : offset !== undefined ? ` at byte ${offset}` : "";
  const place = file === undefined || (at === "" && reason.includes(file)) ? "" : ` (${file}${at})`;
  return `${reason}${place}${hint === undefined ? "" : `. ${hint}`}`;
}

export type Verdict = "passed" | "failed" | "undecided";

export interface CheckResult {
  readonly verdict: Verdict;
  readonly value: Quantity;
  /** The limits in words, e.g. `below 20 min`. */
  readonly limit: string;
  readonly reason?: string;
}

/** What an operation gives. `left` names the runs that are not in it. */
export type Value = (
  | { readonly kind: "table"; readonly table: Table }
  | { readonly kind: "quantity"; readonly quantity: Quantity }
  | { readonly kind: "chart"; readonly chart: ChartDescription }
  | { readonly kind: "picture"; readonly picture: PictureDescription }
  | { readonly kind: "check"; readonly check: CheckResult }
) & {
  readonly left?: readonly ExcludedRun[];
  /** Runs in it. */
  readonly runs?: readonly string[];
  /** What is known of its worth, from the files that it was made from. */
  readonly conditions?: readonly Condition[];
  /** Of charts and pictures: how the tables in them were made, by their notes. */
  readonly notes?: readonly string[];
};

/** A node that cannot be computed for a run. */
export interface Failure extends Fault {
  readonly kind: "failure";
  readonly reason: string;
  /** Not an error: the run was not asked for in this Try. */
  readonly notTried?: boolean;
}

export type Outcome = Value | Failure;

/** A mistake in what the script asks, as against a fault in the data. */
export class Mistake extends Error {
  override readonly name = "Mistake";
}

/** Joins the runs lacking in several values; the first reason for a run stands. */
export function mergeExcluded(...lists: (readonly ExcludedRun[] | undefined)[]): ExcludedRun[] {
  const seen = new Map<string, ExcludedRun>();
  for (const list of lists) for (const l of list ?? []) if (!seen.has(l.run)) seen.set(l.run, l);
  return [...seen.values()].sort((a, b) => (a.run < b.run ? -1 : a.run > b.run ? 1 : 0));
}

/** Why runs are excluded of a Try that only asks for another one. */
export const notTried = "not tried";

/** Of runs that rules decide on: not accepted, or at their end without being finished. */
const refusals = ["not accepted: ", "not finished: failed"];

/** Whether a run is excluded by a rule: that was decided, so nothing is undecided for it. */
export const isRefused = (l: ExcludedRun): boolean => refusals.some((r) => l.reason.startsWith(r));
