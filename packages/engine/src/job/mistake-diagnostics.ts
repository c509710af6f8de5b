import type { ScriptDiagnostic } from "../check/messages.js";
import type { Foreseeable } from "../scheduler/infer.js";

/** Mistakes that were foreseen, at their lines: errors where no run can do it, warnings where some are excluded. */
export const mistakeDiagnostics = (
  mistakes: readonly Foreseeable[],
  moduleOf: (line: number) => string,
): ScriptDiagnostic[] =>
  mistakes.map((m) => {
    const line = m.line % 1_000_000;
    const who =
      m.runs.length > 3 ? `${m.runs.slice(0, 3).join(", ")} and ${m.runs.length - 3} more` : m.runs.join(", ");
    return {
      file: moduleOf(m.line),
      line,
      column: 1,
      endLine: line,
      endColumn: 1000,
      severity: m.all ? "error" : "warning",
      message: m.all ? m.reason : `excluded here: ${who} (${m.reason})`,
      fixes: [],
    };
  });
