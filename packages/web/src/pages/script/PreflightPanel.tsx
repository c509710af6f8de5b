import { X } from "lucide-react";
import { useMemo, type ReactElement } from "react";
import type { Preflight } from "@oxtrum/contract";
import { count } from "../../parts/count";
import { Name } from "../../parts/Name";

/** What each run is asked for: by file the reason why it is missing, if it is. */
interface Asked {
  readonly runs: readonly (readonly [run: string, files: ReadonlyMap<string, string | undefined>])[];
  readonly files: readonly string[];
  readonly gaps: number;
}

function askedOf(result: Preflight): Asked {
  const byRun = new Map<string, Map<string, string | undefined>>();
  const names = new Set<string>();
  let gaps = 0;
  for (const a of result.asked) {
    names.add(a.file);
    const row = byRun.get(a.run) ?? new Map<string, string | undefined>();
    byRun.set(a.run, row);
    if (a.missing !== undefined && row.get(a.file) === undefined) gaps++;
    row.set(a.file, a.missing);
  }
  return { runs: [...byRun], files: [...names], gaps };
}

type Diagnostics = Preflight["diagnostics"];

function Lines({ of }: { of: Diagnostics }): ReactElement {
  return (
    <>
      {of.map((d, i) => (
        <p key={i} className="px-4 pb-0.5 text-xs">
          <span className="num text-oxide">{d.line}</span> {d.message}
        </p>
      ))}
    </>
  );
}

/** What the script asks of which run, and what is missing, before anything is read. */
export function PreflightPanel({ result, onClose }: { result: Preflight; onClose: () => void }): ReactElement {
  const asked = useMemo(() => askedOf(result), [result]);
  const { runs, files, gaps } = asked;
  const errors = result.diagnostics.filter((d) => d.severity === "error");
  return (
    <section className="flex h-72 flex-none flex-col border-t border-ink bg-sheet" aria-label="Check inputs">
      <div className="flex items-baseline gap-3 px-4 py-2">
        <h2 className="text-md font-semibold">Check inputs</h2>
        {errors.length > 0 ? (
          <span className="warn text-oxide" role="alert">
            The script has {count(errors.length, "error")}: what it needs cannot be told before{" "}
            {errors.length === 1 ? "it is" : "they are"} mended.
          </span>
        ) : (
          <span className="dim">
            {count(runs.length, "run")}, {count(files.length, "file")} each at most,{" "}
            {gaps === 0 ? "nothing missing" : `${gaps} missing`}. Nothing has been read.
          </span>
        )}
        <button className="ml-auto p-1" aria-label="Close" onClick={onClose}>
          <X size={14} />
        </button>
      </div>
      <Lines of={errors} />
      {errors.length === 0 && !result.complete && (
        <p className="dim px-4 pb-1 text-xs">
          The script reads values before it ends; what it asks for after that is not known before the run.
        </p>
      )}
      <Lines of={result.diagnostics.filter((d) => d.severity === "warning")} />
      <div className="min-h-0 flex-1 overflow-auto px-4 pb-3">
        <AskedTable {...asked} />
      </div>
    </section>
  );
}

function AskedTable({ runs, files }: Asked): ReactElement {
  return (
    <table className="ruled [&_th]:bg-sheet">
      <thead>
        <tr>
          <th>run</th>
          {files.map((f) => (
            <th key={f}>
              <Name text={f} most={30} />
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {runs.map(([run, row]) => (
          <tr key={run}>
            <td className="num">
              <Name text={run} most={30} />
            </td>
            {files.map((f) => (
              <td key={f}>
                <Answer isAsked={row.has(f)} missing={row.get(f)} />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Answer({ isAsked, missing }: { isAsked: boolean; missing: string | undefined }): ReactElement {
  if (!isAsked) return <span className="dim">not asked</span>;
  if (missing === undefined) return <>reads</>;
  return (
    <span className="warn text-oxide" title={missing}>
      {missing}
    </span>
  );
}
