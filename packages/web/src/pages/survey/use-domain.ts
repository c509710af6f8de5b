import { useMemo, useState } from "react";
import type { Outline } from "@oxtrum/contract";
import { useOutlineQuery } from "../../api";

/** The named patches, the lowest first: what lies on top hides the rest. */
function patchesUpwards(d: Outline): string[] {
  const height = d.patches.map(() => -Infinity);
  d.owner.forEach((o, t) => {
    for (let k = 0; k < 3; k++) height[o] = Math.max(height[o]!, d.points[3 * d.triangles[3 * t + k]! + 2]!);
  });
  return d.patches
    .map((name, k) => ({ name, k }))
    .filter((p) => p.name !== "")
    .sort((a, b) => height[a.k]! - height[b.k]!)
    .map((p) => p.name);
}

/** The domain of a run's field, and which of its times is looked at. */
export interface SurveyedDomain {
  readonly domain: Outline | undefined;
  readonly isFetching: boolean;
  readonly error: unknown;
  readonly steps: readonly (number | null)[];
  /** Which time is looked at, by number; the last one at first. */
  readonly at: number;
  readonly time: number | null | undefined;
  /** There is more than one. */
  readonly many: boolean;
  readonly when: { readonly when?: { readonly value: number; readonly pick: "exact" } };
  readonly patches: readonly string[];
  readonly setStep: (step: number | undefined) => void;
}

export function useDomain(study: string, run: string, file: string): SurveyedDomain {
  const [step, setStep] = useState<number | undefined>();
  const outline = useOutlineQuery({ study, run, file });
  const domain = outline.data;
  const steps = useMemo(() => domain?.steps ?? [], [domain]);
  const at = Math.min(step ?? steps.length - 1, steps.length - 1);
  const time = steps[at];
  const many = steps.length > 1;
  const when = useMemo(
    () => (many && typeof time === "number" ? { when: { value: time, pick: "exact" as const } } : {}),
    [many, time],
  );
  const patches = useMemo(() => (domain ? patchesUpwards(domain) : []), [domain]);
  const { isFetching, error } = outline;
  return { domain, isFetching, error, steps, at, time, many, when, patches, setStep };
}
