import { Download } from "lucide-react";
import { useCallback, useState, type ReactElement } from "react";
import type { Job, Verification } from "@oxtrum/contract";
import { Filters } from "./Filters";
import { LargeOutput } from "./LargeOutput";
import { passes, rankOf, type Filter } from "./output-filter";
import { OutputList } from "./OutputList";
import { Piece } from "./Piece";

function Verified({ result }: { result: Verification }): ReactElement {
  const off = result.outputs.filter((o) => o.verdict !== "same bytes" && o.verdict !== "same values");
  return (
    <div role="status" className={`mb-3 border bg-sheet px-3 py-2 ${result.same ? "border-patina" : "border-oxide"}`}>
      {result.same
        ? `Verified: run again with an empty cache, all ${result.outputs.length} outputs have the same bytes.`
        : `${off.length} of ${result.outputs.length} outputs differ.`}
      {off.map((o) => (
        <div key={o.name}>
          <b className="num">{o.name}</b> {o.verdict}
          {o.detail ? `: ${o.detail}` : ""}
        </div>
      ))}
      {result.inputs.map((i) => (
        <div key={i.path} className="num">
          input {i.change}: {i.study}/{i.path}
        </div>
      ))}
      {result.notes.map((n) => (
        <div key={n} className="dim">
          {n}
        </div>
      ))}
    </div>
  );
}

/** What is done with all outputs of a job that is done. */
function Whole(given: { job: number; verifying: boolean; onVerify: () => void }): ReactElement {
  return (
    <div className="ml-auto flex items-center gap-4">
      <button className="link" disabled={given.verifying} onClick={given.onVerify}>
        {given.verifying ? "Verifying" : "Verify"}
      </button>
      <a
        className="link flex items-center gap-1"
        href={`/api/jobs/${given.job}/zip`}
        title="Script, study definitions, manifest and outputs; oxtrum run takes it as it is"
      >
        <Download size={13} /> Archive
      </a>
    </div>
  );
}

/** Why there is nothing to be seen. */
function Nothing({ job, onAll }: { job: Job; onAll: () => void }): ReactElement {
  if (job.live.outputs.length > 0)
    return (
      <p className="dim">
        No output is like this.{" "}
        <button className="link" onClick={onAll}>
          Show all
        </button>
      </p>
    );
  return (
    <p className="dim">
      {job.state === "running" || job.state === "waiting"
        ? "Outputs appear here as soon as their runs are in."
        : "This job made no outputs."}
    </p>
  );
}

const everything: Filter = { kinds: [], words: "", run: "" };

/** What the job has made, each with its files. */
export function Outputs({
  job,
  verification,
  verifying,
  trouble,
  onVerify,
}: {
  job: Job;
  verification: Verification | undefined;
  verifying: boolean;
  trouble: string | undefined;
  onVerify: () => void;
}): ReactElement {
  const [large, setLarge] = useState<string | undefined>();
  const [view, setView] = useState<"gallery" | "list">("gallery");
  const [filter, setFilter] = useState<Filter>(everything);
  const { outputs } = job.live;
  const shown = [...outputs].filter((o) => passes(o, filter)).sort((a, b) => rankOf(a.kind) - rankOf(b.kind));
  const open = large === undefined ? undefined : shown.find((o) => o.name === large);
  const step = useCallback(
    (by: number) => {
      const at = shown.findIndex((o) => o.name === large);
      if (at >= 0) setLarge(shown[(at + by + shown.length) % shown.length]!.name);
    },
    [large, shown],
  );
  return (
    <section className="h-full overflow-auto px-5 pt-4 pb-6" aria-label="Outputs">
      <div className="mb-2 flex items-baseline gap-3">
        <h2 className="text-md font-semibold">Outputs</h2>
        <span className="dim">
          {shown.length < outputs.length ? `${shown.length} of ${outputs.length}` : outputs.length}
          {job.state === "running" ? " so far" : ""}
        </span>
        {job.state === "done" && job.mode === "run" && <Whole job={job.id} verifying={verifying} onVerify={onVerify} />}
      </div>
      {outputs.length > 4 && (
        <Filters
          outputs={outputs}
          runs={job.live.runs.map((r) => r.id)}
          filter={filter}
          onFilter={setFilter}
          view={view}
          onView={setView}
        />
      )}
      {verification && <Verified result={verification} />}
      {trouble !== undefined && (
        <p role="alert" className="mb-3 text-oxide">
          {trouble}
        </p>
      )}
      {shown.length === 0 && <Nothing job={job} onAll={() => setFilter(everything)} />}
      {view === "gallery" ? (
        <div className="grid grid-cols-[repeat(auto-fill,minmax(min(100%,330px),1fr))] items-start gap-3">
          {shown.map((o) => (
            <Piece key={o.name} job={job.id} output={o} onOpen={() => setLarge(o.name)} />
          ))}
        </div>
      ) : (
        <OutputList job={job.id} outputs={shown} onOpen={setLarge} />
      )}
      {open && <LargeOutput job={job} output={open} onClose={() => setLarge(undefined)} onStep={step} />}
    </section>
  );
}
