import { useState, type ReactElement } from "react";
import { Group, Panel, Separator } from "react-resizable-panels";
import { Link, useNavigate, useParams } from "react-router";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import {
  errorText,
  useJobQuery,
  useJobsQuery,
  usePinJobMutation,
  useStartJobMutation,
  useStopJobMutation,
  useVerifyJobMutation,
} from "../../api";
import type { Job } from "@oxtrum/contract";
import { Loading, Trouble } from "../../frame/Empty";
import { Outputs } from "./Outputs";
import { RunGrid, type Chosen } from "./RunGrid";
import { Diagnostics, Excluded, Messages } from "./told";

const titles: Readonly<Record<Job["state"], string>> = {
  waiting: "Waiting",
  running: "Running",
  done: "Done",
  stopped: "Stopped",
  interrupted: "Interrupted",
  failed: "Not run",
};

function Figure({ value, of, what }: { value: string; of?: string; what: string }): ReactElement {
  return (
    <div>
      <div className="num text-lg font-medium">
        {value} {of !== undefined && <span className="dim text-sm">/ {of}</span>}
      </div>
      <div className="dim text-xs">{what}</div>
    </div>
  );
}

/** The way to another job of the same script, and the pin that makes this one the reference. */
function Since({ job }: { job: Job }): ReactElement {
  const { data: jobs } = useJobsQuery(undefined);
  const [pin] = usePinJobMutation();
  const others = (jobs ?? []).filter(
    (j) => j.script === job.script && j.id !== job.id && j.mode === "run" && j.state === "done",
  );
  const before = others.find((j) => j.id === job.reference) ?? others.find((j) => j.id < job.id) ?? others[0];
  const pinned = job.reference === job.id;
  return (
    <>
      <button
        className="btn quiet"
        aria-pressed={pinned}
        title="The approved job of this script, against which later ones are held"
        onClick={() => void pin({ id: job.id, pinned: !pinned })}
      >
        {pinned ? "Reference" : "Make reference"}
      </button>
      {before && (
        <Link className="btn" to={`/jobs/${job.id}/since/${before.id}`}>
          Compare with job
        </Link>
      )}
    </>
  );
}

/** One execution of a script: the grid of runs and lines while it works, and what came out. */
export function JobPage(): ReactElement {
  const id = Number(useParams()["job"]);
  const { currentData: job, error } = useJobQuery(id);
  if (error && !job)
    return (
      <Trouble text={errorText(error)}>
        <Link className="link" to="/scripts">
          To the scripts
        </Link>
      </Trouble>
    );
  if (!job) return <Loading what="Opening the job" />;
  return <Opened job={job} />;
}

/** What the job is, and what can be done with it. */
function Head({ job, active }: { job: Job; active: boolean }): ReactElement {
  const { live } = job;
  const [stop, stopping] = useStopJobMutation();
  const [start] = useStartJobMutation();
  const navigate = useNavigate();
  const again = async (): Promise<void> => {
    const r = await start({
      script: job.script,
      revision: job.revision,
      mode: "run",
      ...(job.runsAsked !== null && { runs: job.runsAsked }),
    });
    if (r.data) await navigate(`/jobs/${r.data.id}`);
  };
  return (
    <div className="flex items-baseline gap-3">
      <h1 className="text-lg font-semibold">{titles[job.state]}</h1>
      <span className="dim truncate">
        revision {job.revision}
        {live.summary ? ` · ${formatNumber(live.summary.seconds, 3)} s` : active ? ` · ${live.stage}` : ""}
        {job.runsAsked ? ` · only ${job.runsAsked}` : ""}
      </span>
      <div className="ml-auto flex gap-2">
        {job.state === "done" && job.mode === "run" && <Since job={job} />}
        {active ? (
          <button className="btn" disabled={stopping.isLoading} onClick={() => void stop(job.id)}>
            Stop
          </button>
        ) : (
          <button className="btn" onClick={() => void again()}>
            Run again
          </button>
        )}
      </div>
    </div>
  );
}

/** What a state or an exit code means, where it is not plain. */
function Meaning({ job }: { job: Job }): ReactElement | null {
  if (job.state === "interrupted")
    return (
      <p className="border-l-2 border-oxide pl-3">
        The server ended while this job was under way. Run it again: finished results are in the cache.
      </p>
    );
  if (job.state !== "done" || job.exit === null || job.exit === 0) return null;
  return (
    <p className="dim">
      {job.exit === 3 ? "A check failed or is undecided." : "Some runs were excluded; other results are not affected."}
    </p>
  );
}

/** How far the job is, in figures. */
function Figures({ live }: { live: Job["live"] }): ReactElement {
  const rows = Object.values(live.cells);
  const through = rows.filter((r) => Object.values(r).every((c) => c.state !== "running")).length;
  const cells = rows.flatMap((r) => Object.values(r));
  const cached = cells.filter((c) => c.state === "cache").length;
  return (
    <div className="flex gap-8">
      <Figure value={String(through)} of={String(live.runs.length)} what="runs completed" />
      <Figure value={String(live.left.length)} what="excluded" />
      <Figure value={cells.length > 0 ? `${Math.round((100 * cached) / cells.length)} %` : "–"} what="from cache" />
    </div>
  );
}

function Opened({ job }: { job: Job }): ReactElement {
  const { live } = job;
  const [verify, verification] = useVerifyJobMutation();
  const [chosen, setChosen] = useState<Chosen | undefined>();
  const active = job.state === "running" || job.state === "waiting";
  return (
    <Group orientation="horizontal" className="min-h-0 flex-1" id="job">
      <Panel defaultSize="40%" minSize="25%" id="grid">
        <section className="flex h-full flex-col gap-3 overflow-auto px-5 pt-4 pb-6" aria-label="Progress">
          <Head job={job} active={active} />
          <Meaning job={job} />
          <Figures live={live} />
          <Diagnostics diagnostics={live.diagnostics} />
          {live.runs.length > 0 && <RunGrid live={live} chosen={chosen} onChoose={setChosen} script={job.script} />}
          <Messages messages={live.messages} />
          <Excluded left={live.left} />
        </section>
      </Panel>
      <Separator className="sep-x" />
      <Panel minSize="30%" id="outputs">
        <Outputs
          job={job}
          verification={verification.data}
          verifying={verification.isLoading}
          trouble={verification.error ? errorText(verification.error) : undefined}
          onVerify={() => void verify(job.id)}
        />
      </Panel>
    </Group>
  );
}
