import type { ReactElement } from "react";
import type { StudySummary } from "@oxtrum/contract";
import { MOST_RUNS } from "./queries";
import { Select } from "./Select";

/** What is surveyed: a field, of one run or of a few that are compared, and one of its quantities. */
export function What({
  study,
  file,
  onFile,
  runs,
  onRuns,
  quantity,
  names,
  onQuantity,
}: {
  study: StudySummary;
  file: string;
  onFile: (file: string) => void;
  runs: readonly string[];
  onRuns: (runs: readonly string[]) => void;
  quantity: string;
  names: readonly string[];
  onQuantity: (name: string) => void;
}): ReactElement {
  const others = study.runs.map((r) => r.id).filter((r) => !runs.includes(r));
  return (
    <>
      <Select label="field" value={file} options={study.fields.map((f) => f.file)} onChange={onFile} />
      <Select
        label="run"
        value={runs[0]!}
        options={study.runs.map((r) => r.id)}
        onChange={(v) => onRuns([v, ...runs.slice(1).filter((r) => r !== v)])}
      />
      {runs.slice(1).map((r) => (
        <div key={r} className="flex items-center gap-2 pl-13.5 text-xs">
          <span className="num min-w-0 flex-1 truncate">{r}</span>
          <button
            className="dim hover:text-oxide"
            aria-label={`Leave out ${r}`}
            onClick={() => onRuns(runs.filter((x) => x !== r))}
          >
            ×
          </button>
        </div>
      ))}
      {runs.length < MOST_RUNS && others.length > 0 && (
        <Select
          label="compare with"
          value=""
          options={others}
          none={runs.length > 1 ? "add run" : "none"}
          onChange={(v) => v !== "" && onRuns([...runs, v])}
        />
      )}
      <Select label="quantity" value={quantity} options={names} onChange={onQuantity} />
    </>
  );
}
