import { useCallback, useMemo, useState, type ReactElement } from "react";
import { Link } from "react-router";
import { Loading, Trouble } from "../../frame/Empty";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import { errorText, useOutlineQuery, usePictureQuery, useScriptQuery } from "../../api/api";
import type { Outline, StudySummary } from "@oxtrum/contract";
import { useDark } from "../../parts/theme";
import { setScript, useAppDispatch, useAppSelector } from "../../store";
import { Legend } from "./Legend";
import { usePutInScript } from "../script/use-put-in-script";
import { surveyScript, timeCode, type Shown } from "./put-in-script";
import { MOST_RUNS, numbersOf, useRuns, useSettled } from "./queries";
import { Select } from "./Select";
import { ScriptSites, useScriptSites } from "./ScriptSites";
import { SiteForm } from "./SiteForm";
import { SiteList } from "./SiteList";
import {
  firstSites,
  fromWire,
  isLine,
  kindWord,
  newSite,
  siteCode,
  wireSite,
  type SiteKind,
  type SurveySite,
  type Triple,
} from "./sites";
import { TimeBar } from "./TimeBar";
import { lineChart, Values } from "./Values";
import { View } from "./View";

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

const kinds: readonly SiteKind[] = ["line", "plane", "points", "grid", "column"];
const nowhere = { kind: "none" };

/** Whether a site gives a curve for each run: along itself, or over time. */
const comparable = (s: SurveySite): boolean => s.kind !== "points" && s.kind !== "grid";

/** The address at which the runs are compared at a site. */
const comparisonOf = (file: string, site: SurveySite, column: string, time: string): string =>
  new URLSearchParams({
    file,
    column,
    site: JSON.stringify(wireSite(site)),
    siteName: site.name,
    ...(time !== "" && { time }),
  }).toString();

/** The domain of a run of a study: its sites, the field along them, and what goes into a script. */
export function Survey({ study }: { study: StudySummary }): ReactElement {
  const dark = useDark();
  const dispatch = useAppDispatch();
  const put = usePutInScript();
  const [file, setFile] = useState((study.fields.find((f) => f.steps > 1) ?? study.fields[0]!).file);
  const field = study.fields.find((f) => f.file === file)!;
  const names = useMemo(
    () =>
      field.fields.flatMap((f) =>
        f.components === 3 ? ["mag", "x", "y", "z"].map((c) => `${f.name}.${c}`) : f.components === 1 ? [f.name] : [],
      ),
    [field],
  );
  const [wantedQuantity, setQuantity] = useState<string | undefined>();
  const quantity = wantedQuantity !== undefined && names.includes(wantedQuantity) ? wantedQuantity : (names[0] ?? "");
  const [runs, setRuns] = useState<readonly string[]>(() => [
    (study.runs.find((r) => r.problems.length === 0) ?? study.runs[0]!).id,
  ]);
  const [wantedShown, setShown] = useState("");
  const shown = runs.includes(wantedShown) ? wantedShown : runs[0]!;
  const [step, setStep] = useState<number | undefined>();
  const outline = useOutlineQuery({ study: study.name, run: runs[0]!, file });
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
  const [placed, setSites] = useState<readonly SurveySite[] | undefined>();
  const sites = useMemo(
    () => placed ?? (domain && domain.bounds.length === 6 ? firstSites(domain.bounds, domain.dimension, patches) : []),
    [placed, domain, patches],
  );
  const [chosen, setChosen] = useState<string | undefined>();
  const site = sites.find((s) => s.name === chosen) ?? sites[0];
  const [typedRange, setRange] = useState<readonly [number, number] | undefined>();
  const [share, setShare] = useState(false);
  const [cursor, setCursor] = useState<number | undefined>();
  const openScript = useAppSelector((s) => s.view.script) ?? "";
  const open = useScriptQuery(openScript, { skip: openScript === "" }).data;
  const drawn = useScriptSites(openScript, { study: study.name, file, run: runs[0]! });

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
      study: study.name,
      file,
      fields: [ask.quantity],
      ...ask.when,
      ...(ask.cloud && { sampling: { method: { kind: "nearest" as const } } }),
    }),
    [study.name, file, ask],
  );
  const ready =
    domain !== undefined &&
    !outline.isFetching &&
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

  const seen = ask.pictureWire && !picture.isError ? (picture.currentData ?? picture.data) : undefined;
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
  const unit = field.fields.find((f) => f.name === quantity || quantity.startsWith(`${f.name}.`))?.unit ?? null;
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

  const replace = useCallback(
    (old: SurveySite, now: SurveySite): void => {
      setSites(sites.map((x) => (x === old ? now : x)));
      setChosen(now.name);
    },
    [sites],
  );
  const free = (wanted: string): string => {
    const stem = wanted.replace(/ \d+$/, "");
    let name = wanted;
    for (let n = 2; sites.some((s) => s.name === name); n++) name = `${stem} ${n}`;
    return name;
  };
  const place = (s: SurveySite): void => {
    setSites([...sites, s]);
    setChosen(s.name);
  };
  const add = (kind: SiteKind): void => domain && place(newSite(kind, free(kindWord[kind]), domain.bounds, patches));
  const code: Shown | undefined = site && {
    study: study.name,
    file,
    site,
    quantity,
    cloud,
    time: many ? timeCode(time, domain!.axis) : "",
  };
  const trouble =
    outline.error ??
    picture.error ??
    reduced.find((r) => r.error !== undefined)?.error ??
    samples.find((r) => r.error !== undefined)?.error;
  const others = study.runs.map((r) => r.id).filter((r) => !runs.includes(r));
  const said = many
    ? `at ${formatNumber(time ?? at)}${domain?.axis === "time" ? ` ${displayUnit(domain.axisUnit)}` : ""}`
    : "";
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[236px_minmax(0,1fr)_340px]">
      <aside
        className="flex min-h-0 flex-col gap-1.5 overflow-auto border-r border-rule px-3.5 py-3"
        aria-label="Sites"
      >
        <Select
          label="field"
          value={file}
          options={study.fields.map((f) => f.file)}
          onChange={(v) => {
            setFile(v);
            setSites(undefined);
            setStep(undefined);
            setRange(undefined);
            setChosen(undefined);
          }}
        />
        <Select
          label="run"
          value={runs[0]!}
          options={study.runs.map((r) => r.id)}
          onChange={(v) => setRuns([v, ...runs.slice(1).filter((r) => r !== v)])}
        />
        {runs.slice(1).map((r) => (
          <div key={r} className="flex items-center gap-2 pl-13.5 text-xs">
            <span className="num min-w-0 flex-1 truncate">{r}</span>
            <button
              className="dim hover:text-oxide"
              aria-label={`Leave out ${r}`}
              onClick={() => setRuns(runs.filter((x) => x !== r))}
            >
              ×
            </button>
          </div>
        ))}
        {runs.length < MOST_RUNS && others.length > 0 && (
          <Select
            label="compare with"
            value=""
            options={others}
            none={runs.length > 1 ? "add run" : "none"}
            onChange={(v) => v !== "" && setRuns([...runs, v])}
          />
        )}
        <Select
          label="quantity"
          value={quantity}
          options={names}
          onChange={(v) => {
            setQuantity(v);
            setRange(undefined);
          }}
        />
        <SiteList
          sites={sites}
          chosen={site}
          kinds={
            cloud
              ? ["line", "points", "grid"]
              : patches.length > 0
                ? ["line", "plane", "points", "patch"]
                : kinds.filter((k) => k !== "column" || (domain !== undefined && domain.bounds[5]! > domain.bounds[4]!))
          }
          onChoose={setChosen}
          onAdd={add}
          onDouble={(s) => place({ ...s, name: free(s.name) })}
          onRemove={(s) => setSites(sites.filter((x) => x !== s))}
        />
        {site && code && (
          <div className="flex flex-col gap-2 border-t border-rule pt-2">
            <SiteForm site={site} patches={patches} onChange={(s) => replace(site, s)} />
            <button
              className="btn go justify-center"
              disabled={put.busy || site.name.trim() === ""}
              onClick={() => void put.make(`survey-${site.name}`, surveyScript(code))}
            >
              Put in script
            </button>
            {open && (
              <button
                className="btn justify-center"
                disabled={put.busy}
                title={`Adds the lines at the end of ${open.name}`}
                onClick={() => void put.addTo(open.name, surveyScript(code))}
              >
                <span className="truncate">Add to {open.name}</span>
              </button>
            )}
            {comparable(site) && (
              <Link
                className="btn justify-center"
                to={`/studies/${encodeURIComponent(study.name)}/compare?${comparisonOf(file, site, quantity, site.kind === "plane" || site.kind === "patch" ? "" : code.time)}`}
              >
                Compare the runs here
              </Link>
            )}
            {put.error !== undefined && (
              <p role="alert" className="text-xs text-oxide">
                {put.error}
              </p>
            )}
            <code className="num dim text-[11px] break-words">{siteCode(site)}</code>
          </div>
        )}
        <ScriptSites
          script={openScript}
          sites={drawn.sites}
          busy={drawn.busy}
          error={drawn.error}
          onScript={(s) => dispatch(setScript(s))}
          onTake={(s) => {
            const own = fromWire(free(s.name), s.site);
            if (own) place(own);
          }}
        />
      </aside>
      <section className="relative min-h-0 overflow-hidden bg-sheet" aria-label="Domain">
        {domain && domain.bounds.length === 6 ? (
          <View
            outline={domain}
            picture={seen}
            range={range}
            sites={sites}
            selected={site?.name}
            drawings={drawn.drawings}
            mark={mark}
            dark={dark}
            quantity={quantity}
            onMove={replace}
            onChoose={setChosen}
            onPlace={(p) => place({ kind: "points", name: free("point"), place: p })}
          />
        ) : outline.error ? null : (
          <Loading what="Reading the mesh" />
        )}
        <div className="pointer-events-none absolute top-4 left-4.5">
          {seen && seen.values.length > 0 && (
            <Legend
              values={seen.values}
              range={range}
              unit={unit}
              text={`${ask.quantity}${pictured ? ` on ${pictured.name}` : ""}${runs.length > 1 ? `, ${shown}` : ""}`}
              onRange={setRange}
              shared={runs.length > 1 ? share : undefined}
              onShared={setShare}
            />
          )}
        </div>
        {trouble !== undefined && (
          <div className="absolute right-4 bottom-16 left-4">
            <Trouble text={errorText(trouble)} />
          </div>
        )}
        {many && (
          <TimeBar steps={steps} axis={domain!.axis} unit={domain!.axisUnit} at={at} busy={busy} onStep={setStep} />
        )}
      </section>
      <section className="min-h-0 overflow-auto border-l border-rule px-4 py-3" aria-label="Values">
        {site && (
          <Values
            site={site}
            quantity={quantity}
            unit={unit}
            when={said}
            chart={chart}
            samples={samples}
            reduced={reduced}
            cursor={cursor}
            shown={shown}
            onShow={setShown}
            onRead={setCursor}
          />
        )}
        <p className="dim pt-3 text-[11px]">
          Drag a site's dots to move it; drag elsewhere to turn the domain. A double click sets a point.
        </p>
      </section>
    </div>
  );
}
