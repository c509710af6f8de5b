import { useMemo, useState } from "react";
import { convert } from "@oxtrum/core/tables/units";
import { usePictureQuery } from "../../api/api";
import { lineChart, numbersOf, unitOf } from "./answers";
import { useRuns, useSettled } from "./queries";
import { isLine, wireSite, type SurveySite, type Triple } from "./sites";
import type { SurveyedDomain } from "./use-domain";

const nowhere = { kind: "none" };

/** What a survey looks at. */
export interface Looked {
  readonly study: string;
  readonly file: string;
  readonly quantity: string;
  readonly runs: readonly string[];
  /** The run whose picture is seen. */
  readonly shown: string;
  readonly sites: readonly SurveySite[];
  readonly site: SurveySite | undefined;
  /** Colours are those of all compared runs. */
  readonly share: boolean;
  readonly typedRange: readonly [number, number] | undefined;
  /** A place along the chosen line. */
  readonly cursor: number | undefined;
}

/** What the chosen sites give: the picture and its range, samples along a line, numbers of each run. */
export function useMeasured(
  { study, file, quantity, runs, shown, sites, site, share, typedRange, cursor }: Looked,
  { domain, isFetching, error, when }: SurveyedDomain,
) {
  // Pictures are of the chosen plane or patch, else of the last one; a flat mesh is its own picture.
  const flat = domain !== undefined && domain.dimension < 3;
  const pictured =
    site?.kind === "patch" || (site?.kind === "plane" && !flat)
      ? site
      : flat
        ? undefined
        : [...sites].reverse().find((s) => s.kind === "plane");
  const [busy, setBusy] = useState(false);
  const wire = useMemo(() => (site ? wireSite(site) : undefined), [site]);
  const pictureWire = useMemo(
    () => (pictured ? wireSite(pictured) : flat && domain.dimension === 2 ? { kind: "all" } : undefined),
    [pictured, flat, domain],
  );
  const cloud = domain?.dimension === 0;
  const live = useMemo(
    () => ({
      file,
      domain,
      cloud,
      wire,
      pictureWire,
      quantity,
      when,
      line: site !== undefined && isLine(site),
      grid: site?.kind === "grid",
    }),
    [file, domain, cloud, wire, pictureWire, quantity, when, site],
  );
  const ask = useSettled(live, busy);
  const common = useMemo(
    () => ({
      study,
      file,
      fields: [ask.quantity],
      ...ask.when,
      ...(ask.cloud && { sampling: { method: { kind: "nearest" as const } } }),
    }),
    [study, file, ask],
  );
  const ready =
    domain !== undefined &&
    !isFetching &&
    ask.file === file &&
    ask.domain === domain &&
    ask.wire !== undefined &&
    quantity !== "";
  const picture = usePictureQuery(
    { ...common, run: shown, site: ask.pictureWire ?? nowhere },
    { skip: !ask.pictureWire || !ready },
  );
  const asked = useMemo(() => (ready ? { ...common, site: ask.wire! } : undefined), [ready, common, ask.wire]);
  const reduced = useRuns("reduce", asked, runs);
  const samples = useRuns("sample", ask.line || ask.grid ? asked : undefined, runs);
  const pictureAsk = useMemo(
    () => (share && ready && ask.pictureWire ? { ...common, site: ask.pictureWire } : undefined),
    [share, ready, common, ask.pictureWire],
  );
  const shared = useRuns("reduce", pictureAsk, runs);
  const waiting = picture.isFetching || [...reduced, ...samples].some((r) => r.busy);
  if (waiting !== busy) setBusy(waiting);

  // All numbers of a page are in the unit of the first run: those of the picture too.
  const unit = reduced.map((r) => unitOf(r.data, `mean ${ask.quantity}`)).find((u) => u !== undefined);
  const drawn = ask.pictureWire && !picture.isError ? (picture.currentData ?? picture.data) : undefined;
  const seen = useMemo(
    () =>
      drawn?.unit && typeof unit === "string" && drawn.unit !== unit
        ? { ...drawn, unit, values: drawn.values.map((v) => convert(v, drawn.unit!, unit)) }
        : drawn,
    [drawn, unit],
  );
  const range = useMemo((): readonly [number, number] => {
    if (typedRange) return typedRange;
    const ends = share
      ? shared.flatMap((r) => [
          numbersOf(r.data, `min ${ask.quantity}`)[0],
          numbersOf(r.data, `max ${ask.quantity}`)[0],
        ])
      : (seen?.values ?? []);
    let [low, high] = [Infinity, -Infinity];
    for (const v of ends) {
      if (v === undefined || v !== v) continue;
      if (v < low) low = v;
      if (v > high) high = v;
    }
    return low <= high ? [low, high] : [0, 1];
  }, [typedRange, seen, share, shared, ask.quantity]);
  const chart = useMemo(() => (ask.line ? lineChart(samples, ask.quantity) : undefined), [ask, samples]);
  const mark = useMemo((): Triple | undefined => {
    const t = samples[0]?.data;
    if (cursor === undefined || !site || !isLine(site) || !t) return undefined;
    const d = numbersOf(t, "distance");
    const [first, last] = [0, d.length - 1];
    const f = Math.min(1, Math.max(0, cursor / (d[last]! || 1)));
    return ["x", "y", "z"].map(
      (k) => (1 - f) * numbersOf(t, k)[first]! + f * numbersOf(t, k)[last]!,
    ) as unknown as Triple;
  }, [cursor, site, samples]);
  const trouble =
    error ??
    picture.error ??
    reduced.find((r) => r.error !== undefined)?.error ??
    samples.find((r) => r.error !== undefined)?.error;
  return { seen, range, pictured, unit, quantity: ask.quantity, samples, reduced, chart, mark, busy, cloud, trouble };
}
