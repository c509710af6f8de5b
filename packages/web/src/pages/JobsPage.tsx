import { useMemo, useState, type ReactElement } from "react";
import { Link, useSearchParams } from "react-router";
import { jobStates, type JobHead } from "@oxtrum/contract";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { errorText, useJobsQuery, useRemoveJobMutation, useStopJobMutation } from "../api";
import { Empty, Loading, Trouble } from "../frame/Empty";
import { ago } from "../parts/ago";
import { AskedTwice } from "../parts/AskedTwice";
import { VerdictMark } from "../parts/marks";

/** The verdict of a whole job: of its checks, the worst. */
const verdictOf = ({ checks }: JobHead): "passed" | "failed" | "undecided" | undefined => {
  if (!checks) return undefined;
  if (checks.failed > 0) return "failed";
  if (checks.undecided > 0) return "undecided";
  return checks.passed > 0 ? "passed" : undefined;
};

const periods = { "": "any time", day: "last 24 h", week: "last 7 days", month: "last 30 days" } as const;
const HOUR = 3_600_000;
const lengths: Readonly<Record<string, number>> = { day: 24 * HOUR, week: 168 * HOUR, month: 720 * HOUR };

function Select({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: readonly (readonly [value: string, text: string])[];
  onChange: (v: string) => void;
}): ReactElement {
  return (
    <label className="flex items-center gap-2">
      <span className="dim text-xs">{label}</span>
      <select className="field max-w-52" value={value} onChange={(e) => onChange(e.target.value)}>
        {options.map(([v, text]) => (
          <option key={v} value={v}>
            {text}
          </option>
        ))}
      </select>
    </label>
  );
}

const any = (names: Iterable<string>): [string, string][] => [
  ["", "all"],
  ...[...new Set(names)].sort().map((n): [string, string] => [n, n]),
];

/** How long a job took, or has taken so far. */
function duration({ startedAt, endedAt }: JobHead): string {
  if (startedAt === null) return "–";
  const s = ((endedAt ?? Date.now()) - startedAt) / 1000;
  return s < 90 ? `${formatNumber(s, 2)} s` : `${formatNumber(s / 60, 2)} min`;
}

function Row({ job }: { job: JobHead }): ReactElement {
  const [stop] = useStopJobMutation();
  const [remove, removing] = useRemoveJobMutation();
  const active = job.state === "running" || job.state === "waiting";
  const verdict = verdictOf(job);
  return (
    <tr>
      <td className="n">
        <Link className="link font-medium" to={`/jobs/${job.id}`}>
          {job.id}
        </Link>
      </td>
      <td>
        <Link className="num link" to={`/scripts/${encodeURIComponent(job.script)}`}>
          {job.script}
        </Link>{" "}
        <span className="dim text-xs">
          revision {job.revision}
          {job.mode === "try" ? " · Try" : ""}
          {job.pinned ? " · reference" : ""}
        </span>
      </td>
      <td className="dim">{job.studies?.join(", ") ?? ""}</td>
      <td className={job.state === "failed" ? "text-oxide" : ""}>{job.state}</td>
      <td>
        {verdict && (
          <span className="flex items-center gap-1.5">
            <VerdictMark verdict={verdict} /> {verdict}
          </span>
        )}
      </td>
      <td className="n">{job.runs === undefined ? "" : job.runs}</td>
      <td className="n">{job.excluded === undefined ? "" : job.excluded}</td>
      <td className="n">{duration(job)}</td>
      <td className="dim whitespace-nowrap" title={new Date(job.createdAt).toISOString()}>
        {ago(job.createdAt)}
      </td>
      <td className="text-right whitespace-nowrap">
        {removing.error && (
          <span role="alert" className="text-oxide">
            {errorText(removing.error)}{" "}
          </span>
        )}
        {active ? (
          <button className="link" onClick={() => void stop(job.id)}>
            Stop
          </button>
        ) : (
          <AskedTwice
            act="Remove"
            yes="Remove job and outputs"
            label={`Remove job ${job.id}`}
            onYes={() => void remove(job.id)}
          />
        )}
      </td>
    </tr>
  );
}

/** Whether a job is one of those that are asked for. */
const fits = (j: JobHead, asked: (name: string) => string, now: number): boolean =>
  (asked("script") === "" || j.script === asked("script")) &&
  (asked("study") === "" || j.studies?.includes(asked("study")) === true) &&
  (asked("state") === "" || j.state === asked("state")) &&
  (asked("verdict") === "" || verdictOf(j) === asked("verdict")) &&
  (asked("time") === "" || j.createdAt > now - (lengths[asked("time")] ?? Infinity));

interface FilterProps {
  readonly jobs: readonly JobHead[];
  readonly asked: (name: string) => string;
  readonly onAsk: (name: string, value: string) => void;
}

function Filter({ jobs, asked, onAsk }: FilterProps): ReactElement {
  const choices: readonly (readonly [label: string, name: string, options: [string, string][]])[] = [
    ["Script", "script", any(jobs.map((j) => j.script))],
    ["Study", "study", any(jobs.flatMap((j) => j.studies ?? []))],
    ["State", "state", any(jobStates)],
    ["Verdict", "verdict", any(["passed", "failed", "undecided"])],
    ["Started", "time", Object.entries(periods)],
  ];
  return (
    <div className="mb-4 flex flex-wrap items-center gap-x-5 gap-y-2" role="group" aria-label="Filter">
      {choices.map(([label, name, options]) => (
        <Select key={name} label={label} value={asked(name)} options={options} onChange={(v) => onAsk(name, v)} />
      ))}
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={asked("tries") === "true"}
          onChange={(e) => onAsk("tries", e.target.checked ? "true" : "")}
        />
        Tries as well
      </label>
    </div>
  );
}

const heads: readonly (readonly [text: string, className?: string])[] = [
  ["job", "n"],
  ["script"],
  ["study"],
  ["state"],
  ["checks"],
  ["runs", "n"],
  ["excluded", "n"],
  ["duration", "n"],
  ["started"],
  [""],
];

function JobTable({ jobs }: { jobs: readonly JobHead[] }): ReactElement {
  return (
    <table className="ruled">
      <thead>
        <tr>
          {heads.map(([text, className]) => (
            <th key={text} className={className}>
              {text}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {jobs.map((j) => (
          <Row key={j.id} job={j} />
        ))}
      </tbody>
    </table>
  );
}

/** All jobs, by script, study, state, verdict and time. What is chosen stands in the address. */
export function JobsPage(): ReactElement {
  const [search, setSearch] = useSearchParams();
  const tries = search.get("tries") === "true";
  const { data, error } = useJobsQuery(tries ? { tries } : undefined);
  const asked = (name: string): string => search.get(name) ?? "";
  const ask = (name: string, v: string): void =>
    setSearch(
      (s) => {
        if (v === "") s.delete(name);
        else s.set(name, v);
        return s;
      },
      { replace: true },
    );
  const [now] = useState(() => Date.now());
  const shown = useMemo(
    () => (data ?? []).filter((j) => fits(j, (n) => search.get(n) ?? "", now)),
    [data, search, now],
  );
  if (!data) return error ? <Trouble text={errorText(error)} /> : <Loading what="Reading the jobs" />;
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5 py-5">
      <div className="mb-4 flex items-baseline gap-3">
        <h1 className="text-lg font-semibold">Jobs</h1>
        <span className="dim num">
          {shown.length === data.length ? data.length : `${shown.length} of ${data.length}`}
        </span>
      </div>
      <Filter jobs={data} asked={asked} onAsk={ask} />
      {shown.length === 0 ? (
        <Empty title={data.length === 0 ? "No jobs yet" : "No job fits these choices"}>
          {data.length === 0 ? "A job is one run of a script on all runs of its studies." : undefined}
        </Empty>
      ) : (
        <JobTable jobs={shown} />
      )}
    </div>
  );
}
