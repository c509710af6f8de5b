import { useCallback, useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { Job, StudySummary } from "@oxtrum/contract";
import { errorText, useJobQuery, useJobsQuery, useStartJobMutation, useStopJobMutation } from "../../api";
import type { Draft } from "../../drafts/draft";
import { tab } from "../../drafts/tab";

/** The jobs of an open script: what was tried last, and what is begun, followed and stopped from here. */
export interface Work {
  /** The Try that this page began last, with the text that it was of. */
  readonly tried: { readonly job: number; readonly text: string } | undefined;
  /** The job whose values are shown. */
  readonly job: Job | undefined;
  readonly isStarting: boolean;
  readonly busy: boolean;
  readonly follow: boolean;
  readonly error: string | undefined;
  readonly begin: (mode: "run" | "try", all?: boolean) => Promise<void>;
  readonly stop: () => void;
  readonly toggleFollow: () => void;
}

interface WorkOf {
  readonly name: string;
  readonly draft: Draft;
  readonly study: StudySummary | undefined;
  /** The run that a Try is of. */
  readonly run: string;
  /** Which runs a run is of, and a following Try. */
  readonly selector: string;
  /** The script has no errors. */
  readonly sound: boolean;
}

/** The jobs of the script that is open. */
export function useWork({ name, draft, study, run, selector, sound }: WorkOf): Work {
  const navigate = useNavigate();
  const [tried, setTried] = useState<{ job: number; text: string } | undefined>();
  const [stopJob] = useStopJobMutation();
  const [start, starting] = useStartJobMutation();
  const jobs = useJobsQuery(undefined).data;
  // While a study is followed, what the last whole evaluation gave stays until the next one is whole.
  const [follow, setFollow] = useState(false);
  const [whole, setWhole] = useState<number | undefined>();
  const newest = tried?.job ?? jobs?.find((j) => j.script === name && j.mode === "run" && j.state !== "waiting")?.id;
  const newestJob = useJobQuery(newest ?? 0, { skip: newest === undefined }).data;
  const isUnderWay = newestJob?.state === "running" || newestJob?.state === "waiting";
  if (follow && tried && newestJob?.id === tried.job && !isUnderWay && whole !== tried.job) setWhole(tried.job);
  const lastJob = follow && isUnderWay ? (whole ?? newest) : newest;
  // Until another job is known, the one before is shown, with its own values.
  const job = useJobQuery(lastJob ?? 0, { skip: lastJob === undefined }).data;

  const begin = async (mode: "run" | "try", all = false): Promise<void> => {
    await draft.save();
    const { base, conflict, problem } = draft.state;
    // What cannot be saved is not run: a job is of a revision.
    if (conflict || problem !== undefined) return;
    const r = await start({
      script: name,
      revision: base.revision,
      mode,
      lane: `${tab} ${name}`,
      ...(mode === "try" && study ? { tryRuns: { [study.name]: all ? "*" : run } } : {}),
      ...((mode === "run" || all) && selector.trim() !== "" ? { runs: selector } : {}),
    });
    if (!r.data) return;
    if (mode === "run") await navigate(`/jobs/${r.data.id}`);
    else setTried({ job: r.data.id, text: base.text });
  };
  const isReady = follow && !starting.isLoading && !isUnderWay && sound;
  const forget = useEachScan(isReady ? study?.scannedAt : undefined, () => void begin("try", true));
  return {
    tried,
    job,
    isStarting: starting.isLoading,
    busy: starting.isLoading || (tried !== undefined && isUnderWay),
    follow,
    error: starting.error ? errorText(starting.error) : undefined,
    begin,
    stop: () => tried && void stopJob(tried.job),
    toggleFollow: useCallback(() => {
      setFollow((on) => !on);
      setWhole(undefined);
      forget();
    }, [forget]),
  };
}

/** Does something once for each scan of a study; none is named while it cannot be done. Forgets which on demand. */
function useEachScan(scan: number | undefined, act: () => void): () => void {
  const done = useRef<number | undefined>(undefined);
  const actRef = useRef(act);
  useEffect(() => void (actRef.current = act));
  useEffect(() => {
    if (scan === undefined || done.current === scan) return;
    done.current = scan;
    actRef.current();
  }, [scan]);
  return useCallback(() => void (done.current = undefined), []);
}
