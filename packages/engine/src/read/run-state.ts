import fs from "node:fs";
import { FormatError, openFile } from "@oxtrum/core/formats";
import { displayUnit, formatNumber, TableError, type Quantity, type Table } from "@oxtrum/core/tables";
import type { RunState, StateRule, StateRules } from "../definition/states.js";
import { judgedBy } from "../verbs/rule-verbs.js";

/** What rules for states read of a run: from its files at once, or as they grow. */
export interface RunFiles {
  /** @throws FormatError when it cannot be read */
  table(rule: { table?: string | undefined; lines?: string | undefined; read?: readonly string[] | undefined }): Table;
  /** The text at the end of a file, {@link END_BYTES} at most; undefined when it is not there. */
  end(file: string): string | undefined;
}

/** How much of a file's end is searched for a text. */
export const END_BYTES = 64 * 1024;

/** The text at the end of a file; undefined when it is not there. */
export function textAtEnd(path: string, name: string): string | undefined {
  if (!fs.existsSync(path)) return undefined;
  const source = openFile(path, name);
  try {
    const from = Math.max(0, source.size - END_BYTES);
    return new TextDecoder().decode(source.read(from, source.size - from));
  } finally {
    source.close();
  }
}

const say = (q: Quantity): string => `${formatNumber(q.value)} ${displayUnit(q.unit)}`.trim();

/** What a rule says when it holds; undefined when it does not, or cannot be judged yet. */
function holds(rule: StateRule, files: RunFiles, missingCounts: boolean): string | undefined {
  if ("text" in rule) {
    const line = files
      .end(rule.file)
      ?.split(/\r\n|\n|\r/)
      .find((l) => l.includes(rule.text));
    return line === undefined ? undefined : `${rule.file} says "${line.trim().slice(0, 100)}"`;
  }
  try {
    const table = files.table(rule);
    const lost = missingCounts ? lastNotNumber(rule.value, table) : undefined;
    if (lost !== undefined) return `${rule.table ?? rule.lines!}: the last "${lost}" is not a number`;
    const check = judgedBy(rule, table);
    return check.verdict === "passed" ? `${rule.value} is ${say(check.value)}, rule: ${check.limit}` : undefined;
  } catch (e) {
    // A file that is not there yet, or holds nothing yet, decides nothing.
    if (e instanceof FormatError || e instanceof TableError || (e as Error).name === "FormulaError") return undefined;
    throw e;
  }
}

/** A column of a formula whose last value is not a number. */
function lastNotNumber(formula: string, table: Table): string | undefined {
  const named = new Set(formula.match(/[\p{L}_][\p{L}\p{N}_.#@]*/gu));
  for (const c of table.columns)
    if (c.kind === "number" && named.has(c.name) && table.rows > 0 && Number.isNaN(c.values[table.rows - 1]))
      return c.name;
  return undefined;
}

/**
 * The state that a run's files say by the rules of its study: failed, finished or diverging, in this order; undefined
 * when none of them is so. The clock has no part in it: equal files give an equal state.
 */
export function stateByFiles(rules: StateRules, files: RunFiles): RunState | undefined {
  for (const state of ["failed", "finished", "diverging"] as const)
    for (const rule of rules[state] ?? []) {
      const because = holds(rule, files, state === "diverging");
      if (because !== undefined) return { state, because };
    }
  return undefined;
}
