import { useEffect, useMemo, useState } from "react";
import { useReduceQuery, useSampleQuery, type SurveyAsk } from "../../api";
import { inOneUnit, type RunAnswer } from "./answers";

/** As many runs as are looked at together. */
export const MOST_RUNS = 4;

/** One question asked of several runs. */
export function useRuns(
  kind: "sample" | "reduce",
  ask: Omit<SurveyAsk, "run"> | undefined,
  runs: readonly string[],
): readonly RunAnswer[] {
  const use = kind === "sample" ? useSampleQuery : useReduceQuery;
  const at = (k: number): SurveyAsk => ({
    ...(ask ?? { study: "", file: "", site: { kind: "none" }, fields: [] }),
    run: runs[k] ?? "",
  });
  const skip = (k: number): { skip: boolean } => ({ skip: ask === undefined || runs[k] === undefined });
  const a = use(at(0), skip(0));
  const b = use(at(1), skip(1));
  const c = use(at(2), skip(2));
  const d = use(at(3), skip(3));
  return useMemo(
    () =>
      inOneUnit(
        [a, b, c, d].slice(0, runs.length).map((r, k) => ({
          run: runs[k]!,
          data: ask === undefined || r.isError ? undefined : r.data,
          error: ask === undefined ? undefined : r.error,
          busy: r.isFetching,
        })),
      ),
    [a, b, c, d, ask, runs],
  );
}

/** A value that changes quickly, taken over only when the last one has been computed: no questions pile up. */
export function useSettled<T>(value: T, busy: boolean): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    if (busy || value === settled) return;
    const timer = setTimeout(() => setSettled(value), 30);
    return () => clearTimeout(timer);
  }, [value, settled, busy]);
  return settled;
}
