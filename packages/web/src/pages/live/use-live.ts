import { useEffect, useRef, useState } from "react";
import type { LiveRequest, LiveRun, LiveSeries, LiveStudy } from "@oxtrum/contract";
import { followingApi, errorText } from "../../api";
import { useAppDispatch } from "../../store";

/** What is held of a study that is followed. */
export interface Following {
  readonly live: LiveStudy | undefined;
  readonly error: string | undefined;
}

/** Puts an answer together with the series that are known already, which it names by their versions only. */
export function merged(answer: LiveStudy, held: Map<string, LiveSeries>): LiveStudy {
  const runs = answer.runs.map((r): LiveRun => ({
    ...r,
    series: r.series.map((s, k) => {
      const key = `${r.id}/${k}`;
      const known = held.get(key);
      if (s.x === undefined && s.error === undefined && known?.version === s.version) return known;
      held.set(key, s);
      return s;
    }),
  }));
  return { ...answer, runs };
}

/** Waits until the page can be seen, or at once. */
const seen = (): Promise<void> =>
  new Promise((done) => {
    if (!document.hidden) return done();
    const look = (): void => {
      if (document.hidden) return;
      document.removeEventListener("visibilitychange", look);
      done();
    };
    document.addEventListener("visibilitychange", look);
  });

/**
 * Asks again and again how far runs have come; only what changed travels. What is in hand stays when the server does
 * not answer.
 *
 * @param options.every pause between answer and question, ms; `skip` asks nothing
 */
export function useLive(
  study: string,
  asked: Omit<LiveRequest, "have">,
  options: { every?: number; skip?: boolean } = {},
): Following {
  const { every = 1000, skip = false } = options;
  const dispatch = useAppDispatch();
  const [state, setState] = useState<Following>({ live: undefined, error: undefined });
  const quantities = JSON.stringify(asked.quantities);
  const question = JSON.stringify(asked);
  const held = useRef(new Map<string, LiveSeries>());
  useEffect(() => void (held.current = new Map()), [quantities, study]);
  useEffect(() => {
    if (skip) return;
    let on = true;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const go = async (): Promise<void> => {
      await seen();
      if (!on) return;
      const have = Object.fromEntries([...held.current].map(([k, s]) => [k, s.version]));
      const r = await dispatch(
        followingApi.endpoints.live.initiate({ study, ...(JSON.parse(question) as typeof asked), have }),
      );
      if (!on) return;
      if ("data" in r && r.data) {
        const live = merged(r.data, held.current);
        setState({ live, error: undefined });
      } else setState((old) => ({ ...old, error: errorText(r.error) }));
      timer = setTimeout(() => void go(), every);
    };
    void go();
    return () => {
      on = false;
      clearTimeout(timer);
    };
  }, [dispatch, study, question, every, skip]);
  return state;
}
