import type { ReactElement } from "react";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import type { LiveRun, OutputValue, TableValue } from "@oxtrum/contract";
import { StateMark } from "../live/StateMark";

/** The state of a run, with what decided it on hover. */
export function StateCell({ run }: { run: LiveRun | undefined }): ReactElement {
  if (!run) return <td />;
  return (
    <td title={run.because}>
      <span className="flex items-center gap-1.5 whitespace-nowrap">
        <StateMark state={run.state} />
        {run.state === "finished" ? <span className="sr-only">finished</span> : run.state}
      </span>
    </td>
  );
}

export interface RunVerdict {
  readonly accepted: boolean;
  readonly because: string;
  /** The numbers that the rules looked at, in words. */
  readonly numbers: string;
}

/** What the rules of the study say of each run. */
export function verdictsOf(t: OutputValue | undefined): ReadonlyMap<string, RunVerdict> {
  if (t?.kind !== "table") return new Map();
  const table = t as TableValue;
  const of = (name: string, i: number): string => String(table.columns.find((c) => c.name === name)?.values[i] ?? "");
  const rules = table.columns.filter((c) => c.kind === "number");
  return new Map(
    Array.from({ length: table.rows }, (_, i) => {
      const numbers = rules.map((c) =>
        `${c.name}: ${typeof c.values[i] === "number" ? formatNumber(c.values[i], 4) : "–"} ${displayUnit(c.unit)}`.trim(),
      );
      return [
        of("run", i),
        { accepted: of("accepted", i) === "yes", because: of("because", i), numbers: numbers.join("\n") },
      ];
    }),
  );
}

/** The value that decided first, out of the whole reason. */
const decisive = (because: string): string =>
  because
    .split("; ")[0]!
    .replace(/^[^:]*: /, "")
    .replace(/, limit: .*/, "");

/** Whether a run counts, by the rules of the study; on hover the numbers that decided. */
export function Counts({
  verdict,
  trouble,
}: {
  verdict: RunVerdict | undefined;
  trouble: string | undefined;
}): ReactElement {
  if (!verdict)
    return (
      <td className="dim" title={trouble}>
        {trouble === undefined ? "" : "?"}
      </td>
    );
  return (
    <td title={[verdict.because, verdict.numbers].filter((t) => t !== "").join("\n")} className="max-w-26 text-xs">
      <span className="line-clamp-2">
        {verdict.accepted ? (
          <span className="dim">yes</span>
        ) : (
          <span className="warn">no: {decisive(verdict.because)}</span>
        )}
      </span>
    </td>
  );
}
