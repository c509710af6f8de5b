import { useEffect } from "react";
import type { LiveRun } from "@oxtrum/contract";
import { useStudyQuery } from "../../api";
import { useLive } from "../live/use-live";

/** States of runs by `study/run`. */
export type StatesByRun = ReadonlyMap<string, LiveRun>;

const NOTHING = { runs: [], quantities: [] };

/** Follows the states of a study's runs, where its definition has rules for them; shows nothing itself. */
export function StudyStates({
  study,
  onStates,
}: {
  study: string;
  onStates: (change: (old: StatesByRun) => StatesByRun) => void;
}): null {
  const known = useStudyQuery(study).data;
  const { live } = useLive(study, NOTHING, { every: 5000, skip: !known?.states });
  useEffect(() => {
    if (live) onStates((old) => new Map([...old, ...live.runs.map((r) => [`${study}/${r.id}`, r] as const)]));
  }, [live, study, onStates]);
  return null;
}
