import { useMemo, useState } from "react";
import { convert } from "@oxtrum/core/tables/units";
import { usePictureQuery } from "../../api";
import { lineChart, numbersOf, unitOf, type RunAnswer } from "./answers";
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

/** Pictures are of the chosen plane or patch, else of the last plane; a flat mesh is its own picture. */
function picturedOf(sites: readonly SurveySite[], site: SurveySite | undefined, flat: boolean): SurveySite | undefined {
  if (site?.kind === "patch" || (site?.kind === "plane" && !flat)) return site;
  return flat ? undefined : [...sites].reverse().find((s) => s.kind === "plane");
}

/** What is asked of the server, once what is chosen has settled; nothing of it before the domain is there. */
function useAsked(
  { study, file, quantity, site }: Looked,
  { domain, isFetching, when }: SurveyedDomain,
  pictured: SurveySite | undefined,
  busy: boolean,
) {
  const wire = useMemo(() => (site ? wireSite(site) : undefined), [site]);
  const pictureWire = useMemo(
    () => (pictured ? wireSite(pictured) : domain?.dimension === 2 ? { kind: "all" } : undefined),
    [pictured, domain],
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
  const ofSite = useMemo(() => (ready ? { ...common, site: ask.wire! } : undefined), [ready, common, ask.wire]);
  const ofPicture = useMemo(
    () => (ready && ask.pictureWire ? { ...common, site: ask.pictureWire } : undefined),
    [ready, common, ask.pictureWire],
  );
  return { ask, common, ofSite, ofPicture, cloud };
}

/** From the least to the greatest of some numbers; from 0 to 1 where there is none. */
function endsOf(values: Iterable<number | undefined>): readonly [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (const v of values) {
    if (v === undefined || v !== v) continue;
    if (v < low) low = v;
    if (v > high) high = v;
  }
  return low <= high ? [low, high] : [0, 1];
}

/** The place on a line that the chart's cursor points at. */
function markOf(cursor: number | undefined, site: SurveySite | undefined, t: RunAnswer["data"]): Triple | undefined {
  if (cursor === undefined || !site || !isLine(site) || !t) return undefined;
  const d = numbersOf(t, "distance");
  const last = d.length - 1;
  const f = Math.min(1, Math.max(0, cursor / (d[last]! || 1)));
  return ["x", "y", "z"].map((k) => (1 - f) * numbersOf(t, k)[0]! + f * numbersOf(t, k)[last]!) as unknown as Triple;
}

/** What the chosen sites give: the picture and its range, samples along a line, numbers of each run. */
export function useMeasured(look: Looked, surveyed: SurveyedDomain) {
  const { runs, shown, sites, site, share, typedRange, cursor } = look;
  const { domain, error } = surveyed;
  const pictured = picturedOf(sites, site, domain !== undefined && domain.dimension < 3);
  const [busy, setBusy] = useState(false);
  const { ask, common, ofSite, ofPicture, cloud } = useAsked(look, surveyed, pictured, busy);
  const picture = usePictureQuery(
    { ...common, run: shown, site: ofPicture?.site ?? nowhere },
    { skip: ofPicture === undefined },
  );
  const reduced = useRuns("reduce", ofSite, runs);
  const samples = useRuns("sample", ask.line || ask.grid ? ofSite : undefined, runs);
  const shared = useRuns("reduce", share ? ofPicture : undefined, runs);
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
    const end = (which: "min" | "max") => shared.map((r) => numbersOf(r.data, `${which} ${ask.quantity}`)[0]);
    return endsOf(share ? [...end("min"), ...end("max")] : (seen?.values ?? []));
  }, [typedRange, seen, share, shared, ask.quantity]);
  const chart = useMemo(() => (ask.line ? lineChart(samples, ask.quantity) : undefined), [ask, samples]);
  const mark = useMemo(() => markOf(cursor, site, samples[0]?.data), [cursor, site, samples]);
  const trouble =
    error ??
    picture.error ??
    reduced.find((r) => r.error !== undefined)?.error ??
    samples.find((r) => r.error !== undefined)?.error;
  return { seen, range, pictured, unit, quantity: ask.quantity, samples, reduced, chart, mark, busy, cloud, trouble };
}
