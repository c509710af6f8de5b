import type { ReactElement } from "react";
import { Link } from "react-router";
import type { Work } from "./use-work";
import { Working } from "../../parts/Working";

/** What was tried or is being tried, in a line. */
export function Status({ work, run, selector }: { work: Work; run: string; selector: string }): ReactElement {
  const { busy, follow, tried, job } = work;
  const live = job?.live;
  const failure = live?.messages.find((m) => m.level === "error")?.text;
  // A script with errors was not tried, however soon that was known.
  const refused = live?.diagnostics.filter((d) => d.severity === "error").length ?? 0;
  return (
    <span className="dim truncate" role="status">
      {busy ? (
        <span className="flex items-center gap-2">
          <Working className="h-1 w-12" />
          {follow ? "following" : "trying on"} <span className="num">{follow ? "" : run}</span>
        </span>
      ) : tried && job && refused > 0 ? (
        <span className="text-oxide">
          not tried: the script has {refused} error{refused === 1 ? "" : "s"}
        </span>
      ) : tried && job ? (
        <>
          {follow ? "following, evaluated on" : "tried on"}{" "}
          <span className="num">{follow ? (selector.trim() === "" ? "all runs" : selector) : run}</span>
          {live?.summary ? (
            <>
              , <span className="num">{live.summary.seconds.toFixed(2)} s</span>
            </>
          ) : (
            ""
          )}
          {failure ? <span className="text-oxide"> · {failure}</span> : ""}
        </>
      ) : job ? (
        <>
          margin from{" "}
          <Link className="link" to={`/jobs/${job.id}`}>
            job {job.id}
          </Link>
        </>
      ) : (
        "not tried yet"
      )}
    </span>
  );
}

/** What can be done with a script: Try, Run, Follow, Stop. */
export function Acts({ work, study }: { work: Work; study: boolean }): ReactElement {
  const { busy, tried, follow, begin } = work;
  return (
    <>
      {busy && tried && (
        <button className="btn quiet" onClick={work.stop}>
          Stop
        </button>
      )}
      <button
        className={`btn quiet ${follow ? "border-oxide text-oxide" : ""}`}
        aria-pressed={follow}
        disabled={!study}
        title="Evaluate all runs again whenever their files change"
        onClick={work.toggleFollow}
      >
        Follow
      </button>
      <button className="btn" onClick={() => void begin("try")}>
        Try <kbd>Ctrl ↵</kbd>
      </button>
      <button className="btn go" disabled={work.isStarting} onClick={() => void begin("run")}>
        Run on all <kbd>Ctrl ⇧ ↵</kbd>
      </button>
    </>
  );
}
