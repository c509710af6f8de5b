import { useMemo, useState, type ReactElement } from "react";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import type { StudySummary } from "@oxtrum/contract";
import { errorText, useScriptQuery } from "../../api";
import { Loading, Trouble } from "../../frame/Empty";
import { useDark } from "../../parts/theme";
import { setScript, useAppDispatch, useAppSelector } from "../../store";
import { Legend } from "./Legend";
import { PutSite } from "./PutSite";
import { timeCode, type Shown } from "./put-in-script";
import { ScriptSites, useScriptSites } from "./ScriptSites";
import { SiteForm } from "./SiteForm";
import { SiteList } from "./SiteList";
import { fromWire, siteCode, type SiteKind } from "./sites";
import { TimeBar } from "./TimeBar";
import { useDomain, type SurveyedDomain } from "./use-domain";
import { useMeasured } from "./use-measured";
import { useSites } from "./use-sites";
import { Values } from "./Values";
import { View } from "./View";
import { What } from "./What";

const kinds: readonly SiteKind[] = ["line", "plane", "points", "grid", "column"];

/** The kinds of sites that a domain can have. */
function kindsFor({ domain, patches }: SurveyedDomain, cloud: boolean): readonly SiteKind[] {
  if (cloud) return ["line", "points", "grid"];
  if (patches.length > 0) return ["line", "plane", "points", "patch"];
  return kinds.filter((k) => k !== "column" || (domain !== undefined && domain.bounds[5]! > domain.bounds[4]!));
}

/** Which time is looked at, in words; empty where there is one state only. */
const timeText = ({ many, time, at, domain }: SurveyedDomain): string =>
  many ? `at ${formatNumber(time ?? at)}${domain?.axis === "time" ? ` ${displayUnit(domain.axisUnit)}` : ""}` : "";

/** The numbers that a field has at a point. */
const scalarsOf = (field: StudySummary["fields"][number]): string[] =>
  field.fields.flatMap((f) =>
    f.components === 3 ? ["mag", "x", "y", "z"].map((c) => `${f.name}.${c}`) : f.components === 1 ? [f.name] : [],
  );

/** What is looked at: a field's file, a number of it, and the runs. */
function useChoices(study: StudySummary): {
  readonly field: StudySummary["fields"][number];
  readonly names: readonly string[];
  readonly quantity: string;
  readonly runs: readonly string[];
  /** The run whose picture is drawn. */
  readonly shown: string;
  setFile(file: string): void;
  setQuantity(name: string): void;
  setRuns(runs: readonly string[]): void;
  setShown(run: string): void;
} {
  const [file, setFile] = useState((study.fields.find((f) => f.steps > 1) ?? study.fields[0]!).file);
  const field = study.fields.find((f) => f.file === file)!;
  const names = useMemo(() => scalarsOf(field), [field]);
  const [wantedQuantity, setQuantity] = useState<string | undefined>();
  const quantity = wantedQuantity !== undefined && names.includes(wantedQuantity) ? wantedQuantity : (names[0] ?? "");
  const [runs, setRuns] = useState<readonly string[]>(() => [
    (study.runs.find((r) => r.problems.length === 0) ?? study.runs[0]!).id,
  ]);
  const [wantedShown, setShown] = useState("");
  const shown = runs.includes(wantedShown) ? wantedShown : runs[0]!;
  return { field, names, quantity, runs, shown, setFile, setQuantity, setRuns, setShown };
}

type Choices = ReturnType<typeof useChoices>;
type Sites = ReturnType<typeof useSites>;
type Measured = ReturnType<typeof useMeasured>;

interface Parts {
  readonly study: StudySummary;
  readonly choices: Choices;
  readonly surveyed: SurveyedDomain;
  readonly placed: Sites;
  readonly drawn: ReturnType<typeof useScriptSites>;
  readonly measured: Measured;
  setRange(range: readonly [number, number] | undefined): void;
}

/** At the left: what is looked at, the sites, and what of them goes into a script. */
function Left({ study, choices, surveyed, placed, drawn, measured, setRange }: Parts): ReactElement {
  const dispatch = useAppDispatch();
  const openScript = useAppSelector((s) => s.view.script) ?? "";
  const open = useScriptQuery(openScript, { skip: openScript === "" }).data;
  const { sites, site, choose, replace, free, place, add, remove, reset } = placed;
  const { field, quantity } = choices;
  const code: Shown | undefined = site && {
    study: study.name,
    file: field.file,
    site,
    quantity,
    cloud: measured.cloud,
    time: surveyed.many ? timeCode(surveyed.time, surveyed.domain!.axis) : "",
  };
  return (
    <aside className="flex min-h-0 flex-col gap-1.5 overflow-auto border-r border-rule px-3.5 py-3" aria-label="Sites">
      <What
        study={study}
        file={field.file}
        onFile={(v) => {
          choices.setFile(v);
          reset();
          surveyed.setStep(undefined);
          setRange(undefined);
        }}
        runs={choices.runs}
        onRuns={choices.setRuns}
        quantity={quantity}
        names={choices.names}
        onQuantity={(v) => {
          choices.setQuantity(v);
          setRange(undefined);
        }}
      />
      <SiteList
        sites={sites}
        chosen={site}
        kinds={kindsFor(surveyed, measured.cloud)}
        onChoose={choose}
        onAdd={add}
        onDouble={(s) => place({ ...s, name: free(s.name) })}
        onRemove={remove}
      />
      {site && code && (
        <div className="flex flex-col gap-2 border-t border-rule pt-2">
          <SiteForm site={site} patches={surveyed.patches} onChange={(s) => replace(site, s)} />
          <PutSite code={code} open={open} />
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
  );
}

/** In the middle: the domain with the field and the sites, its colours and its times. */
function Middle({
  choices,
  surveyed,
  placed,
  drawn,
  measured,
  setRange,
  unit,
  share,
  setShare,
}: Parts & { unit: string | null; share: boolean; setShare: (share: boolean) => void }): ReactElement {
  const dark = useDark();
  const { domain } = surveyed;
  const { seen, range, pictured } = measured;
  const { runs, shown, quantity } = choices;
  return (
    <section className="relative min-h-0 overflow-hidden bg-sheet" aria-label="Domain">
      {domain && domain.bounds.length === 6 ? (
        <View
          outline={domain}
          picture={seen}
          range={range}
          sites={placed.sites}
          selected={placed.site?.name}
          drawings={drawn.drawings}
          mark={measured.mark}
          dark={dark}
          quantity={quantity}
          onMove={placed.replace}
          onChoose={placed.choose}
          onPlace={(p) => placed.place({ kind: "points", name: placed.free("point"), place: p })}
        />
      ) : surveyed.error ? null : (
        <Loading what="Reading the mesh" />
      )}
      <div className="pointer-events-none absolute top-4 left-4.5">
        {seen && seen.values.length > 0 && (
          <Legend
            values={seen.values}
            range={range}
            unit={unit}
            text={`${measured.quantity}${pictured ? ` on ${pictured.name}` : ""}${runs.length > 1 ? `, ${shown}` : ""}`}
            onRange={setRange}
            shared={runs.length > 1 ? share : undefined}
            onShared={setShare}
          />
        )}
      </div>
      {measured.trouble !== undefined && (
        <div className="absolute right-4 bottom-16 left-4">
          <Trouble text={errorText(measured.trouble)} />
        </div>
      )}
      {surveyed.many && (
        <TimeBar
          steps={surveyed.steps}
          axis={domain!.axis}
          unit={domain!.axisUnit}
          at={surveyed.at}
          busy={measured.busy}
          onStep={surveyed.setStep}
        />
      )}
    </section>
  );
}

/** The domain of a run of a study: its sites, the field along them, and what goes into a script. */
export function Survey({ study }: { study: StudySummary }): ReactElement {
  const choices = useChoices(study);
  const { field, quantity, runs, shown } = choices;
  const { file } = field;
  const surveyed = useDomain(study.name, runs[0]!, file);
  const placed = useSites(surveyed.domain, surveyed.patches);
  const { sites, site } = placed;
  const [typedRange, setRange] = useState<readonly [number, number] | undefined>();
  const [share, setShare] = useState(false);
  const [cursor, setCursor] = useState<number | undefined>();
  const openScript = useAppSelector((s) => s.view.script) ?? "";
  const drawn = useScriptSites(openScript, { study: study.name, file, run: runs[0]! });
  const measured = useMeasured(
    { study: study.name, file, quantity, runs, shown, sites, site, share, typedRange, cursor },
    surveyed,
  );
  const unit =
    measured.unit ?? field.fields.find((f) => f.name === quantity || quantity.startsWith(`${f.name}.`))?.unit ?? null;
  const parts: Parts = { study, choices, surveyed, placed, drawn, measured, setRange };
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[236px_minmax(0,1fr)_340px]">
      <Left {...parts} />
      <Middle {...parts} unit={unit} share={share} setShare={setShare} />
      <section className="min-h-0 overflow-auto border-l border-rule px-4 py-3" aria-label="Values">
        {site && (
          <Values
            site={site}
            quantity={quantity}
            unit={unit}
            when={timeText(surveyed)}
            chart={measured.chart}
            samples={measured.samples}
            reduced={measured.reduced}
            cursor={cursor}
            shown={shown}
            onShow={choices.setShown}
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
