import { useMemo, useState, type ReactElement } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { ChartDescription } from "@oxtrum/core/charts";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import {
  errorText,
  useOutlineQuery,
  usePictureQuery,
  useSampleQuery,
  useSaveScriptMutation,
  useStudyQuery,
} from "../../api/api";
import type { StudySummary } from "../../api/schemas";
import { Empty, Loading, Trouble } from "../../frame/Empty";
import { ChartView } from "../../parts/ChartView";
import { useDark } from "../../parts/theme";
import { Legend } from "./Legend";
import { SiteForm } from "./SiteForm";
import { siteCode, siteScript, timeCode, wireSite, type SurveySite, type Triple } from "./sites";
import { View } from "./View";

/** A look at the domain of a run: sites placed, a field seen along them, and the script that gives the same. */
export function SurveyPage(): ReactElement {
  const name = useParams()["study"]!;
  const { data, error } = useStudyQuery(name);
  if (error) return <Trouble text={errorText(error)}><Link className="link" to="/">To the studies</Link></Trouble>; // prettier-ignore
  if (!data) return <Loading what="Opening the study" />;
  if (data.fields.length === 0) return <Empty title="No fields here">The runs of this study hold no mesh files. Tables are drawn on the <Link className="link" to={`/studies/${encodeURIComponent(name)}`}>study's page</Link>.</Empty>; // prettier-ignore
  return <Survey key={name} study={data} />;
}

const round = (x: number): number => Number(x.toPrecision(3));

function Survey({ study }: { study: StudySummary }): ReactElement {
  const dark = useDark();
  const navigate = useNavigate();
  const [save, saving] = useSaveScriptMutation();
  const [file, setFile] = useState((study.fields.find((f) => f.steps > 1) ?? study.fields[0]!).file);
  const field = study.fields.find((f) => f.file === file)!;
  const names = useMemo(
    () =>
      field.fields.flatMap((f) =>
        f.components === 3 ? ["mag", "x", "y", "z"].map((c) => `${f.name}.${c}`) : [f.name],
      ),
    [field],
  );
  const [wantedQuantity, setQuantity] = useState<string | undefined>();
  const quantity = wantedQuantity !== undefined && names.includes(wantedQuantity) ? wantedQuantity : names[0]!;
  const good = study.runs.filter((r) => r.problems.length === 0);
  const [run, setRun] = useState((good[0] ?? study.runs[0]!).id);
  const [second, setSecond] = useState("");
  const [step, setStep] = useState<number | undefined>();
  const outline = useOutlineQuery({ study: study.name, run, file });
  const domain = outline.data;
  const steps = domain?.steps ?? [];
  const at = Math.min(step ?? steps.length - 1, steps.length - 1);
  const time = steps[at];
  const when = steps.length > 1 && typeof time === "number" ? { when: { value: time, pick: "exact" as const } } : {};
  const [placed, setSites] = useState<readonly SurveySite[] | undefined>();
  const sites = useMemo(() => placed ?? (domain ? firstSites(domain.bounds) : []), [placed, domain]);
  const [chosen, setChosen] = useState<string | undefined>();
  const site = sites.find((s) => s.name === chosen) ?? sites[0];
  const [typedRange, setRange] = useState<readonly [number, number] | undefined>();
  const [cursor, setCursor] = useState<number | undefined>();

  const plane = site?.kind === "plane" ? site : sites.find((s) => s.kind === "plane");
  const asked = { study: study.name, file, fields: [quantity], ...when };
  const picture = usePictureQuery(
    { ...asked, run, site: plane ? wireSite(plane) : { kind: "none" } },
    { skip: !plane || !domain },
  );
  const along = site && site.kind !== "plane" ? wireSite(site) : undefined;
  const first = useSampleQuery({ ...asked, run, site: along ?? { kind: "none" } }, { skip: !along || !domain });
  const other = useSampleQuery(
    { ...asked, run: second, site: along ?? { kind: "none" } },
    { skip: !along || second === "" },
  );

  const values = useMemo(() => picture.data?.values.filter((v) => v !== null) ?? [], [picture.data]);
  const range = useMemo((): readonly [number, number] => {
    if (typedRange) return typedRange;
    let [low, high] = [Infinity, -Infinity];
    for (const v of values) {
      if (v < low) low = v;
      if (v > high) high = v;
    }
    return low <= high ? [low, high] : [0, 1];
  }, [typedRange, values]);
  const unit = picture.data?.unit ?? first.data?.columns.find((c) => c.name === quantity)?.unit ?? null;
  const chart = useMemo(
    () =>
      site?.kind === "line"
        ? lineChart(
            [
              [run, first.data],
              [second, other.data],
            ],
            quantity,
          )
        : undefined,
    [site, run, second, first.data, other.data, quantity],
  );
  const mark = site?.kind === "line" && cursor !== undefined ? placeAt(site.from, site.to, cursor) : undefined;

  const change = (s: SurveySite): void => {
    setSites(sites.map((x) => (x === site ? s : x)));
    setChosen(s.name);
  };
  const add = (kind: SurveySite["kind"]): void => {
    if (!domain) return;
    const model = firstSites(domain.bounds).find((s) => s.kind === kind)!;
    let n = 1;
    while (sites.some((s) => s.name === `${kind === "points" ? "place" : kind} ${n}`)) n++;
    const made = { ...model, name: `${kind === "points" ? "place" : kind} ${n}` };
    setSites([...sites, made]);
    setChosen(made.name);
  };
  const script =
    site &&
    siteScript({ study: study.name, file, site, time: steps.length > 1 ? timeCode(time, domain!.axis) : "", quantity });
  const put = async (): Promise<void> => {
    if (!site || !script) return;
    const to = `survey-${site.name.replace(/[^\p{L}\p{N}]+/gu, "-")}.ts`;
    const r = await save({ name: to, text: script });
    if (!("error" in r)) await navigate(`/scripts/${encodeURIComponent(to)}`);
  };
  const trouble = outline.error ?? picture.error ?? first.error;
  const select = (
    label: string,
    value: string,
    options: readonly string[],
    onChange: (v: string) => void,
    none?: string,
  ): ReactElement => (
    <label className="grid grid-cols-[52px_1fr] items-center gap-2">
      <span className="dim text-xs">{label}</span>
      <select
        className="field num min-w-0 text-xs"
        style={{ height: 24 }}
        value={value}
        onChange={(e) => onChange(e.target.value)}
      >
        {none !== undefined && <option value="">{none}</option>}
        {options.map((o) => (
          <option key={o}>{o}</option>
        ))}
      </select>
    </label>
  );
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[228px_1fr_340px]">
      <aside className="flex min-h-0 flex-col gap-2 overflow-auto border-r border-rule px-3.5 py-3" aria-label="Sites">
        {select("field", file, study.fields.map((f) => f.file), (v) => { setFile(v); setSites(undefined); setStep(undefined); setRange(undefined); })}
        {select("run", run, study.runs.map((r) => r.id), setRun)}
        {select("beside", second, study.runs.map((r) => r.id).filter((r) => r !== run), setSecond, "no other run")}
        {select("quantity", quantity, names, (v) => { setQuantity(v); setRange(undefined); })}
        <div className="mt-2 flex items-baseline gap-3 border-t border-rule pt-2"><h2 className="text-md font-semibold">Sites</h2><span className="ml-auto flex gap-2 text-xs"><button className="link" onClick={() => add("line")}>line</button><button className="link" onClick={() => add("plane")}>plane</button><button className="link" onClick={() => add("points")}>place</button></span></div>
        <ul className="-mx-3.5">
          {sites.map((s) => (
            <li key={s.name} className={`flex items-baseline gap-2 px-3.5 py-1 ${s === site ? "bg-oxide-wash" : ""}`}>
              <button className="num min-w-0 flex-1 truncate text-left text-xs font-medium" aria-pressed={s === site} onClick={() => setChosen(s.name)}>{s.name}</button>
              <span className="dim text-[11px]">{s.kind === "line" ? `${s.count} places` : s.kind === "plane" ? `${s.axis} ${formatNumber(s.at, 4)}` : "place"}</span>
              {sites.length > 1 && <button className="dim text-xs hover:text-oxide" aria-label={`Remove ${s.name}`} onClick={() => setSites(sites.filter((x) => x !== s))}>×</button>}
            </li>
          ))}
        </ul>
        {site && (
          <div className="flex flex-col gap-3 border-t border-rule pt-3">
            <SiteForm site={site} onChange={change} />
            <button className="btn go justify-center" disabled={saving.isLoading} onClick={() => void put()}>Put in script</button>
            {saving.error && <p role="alert" className="text-xs text-oxide">{errorText(saving.error)}</p>}
            <code className="num dim text-[11px] break-words">{siteCode(site)}</code>
          </div>
        )}
      </aside>
      <section className="relative min-h-0 overflow-hidden bg-sheet" aria-label="Domain">
        {domain && domain.bounds.length === 6 ? <View bounds={domain.bounds} edges={domain.edges} surface={domain.surface} picture={plane ? picture.data : undefined} range={range} sites={sites} selected={site?.name} mark={mark} dark={dark} /> : <Loading what="Reading the mesh" />}
        <div className="pointer-events-none absolute top-4 left-4.5">{plane && values.length > 0 && <Legend values={values} range={range} unit={unit} text={`${quantity} on ${plane.name}`} onRange={setRange} />}</div>
        {trouble && <div className="absolute right-4 bottom-16 left-4"><Trouble text={errorText(trouble)} /></div>}
        {steps.length > 1 && (
          <div className="absolute right-4.5 bottom-3.5 left-4.5 flex items-center gap-3 text-xs">
            <span className="num w-18">{formatNumber(time ?? at)}{domain?.axis === "time" ? " s" : ""}</span>
            <input type="range" className="flex-1 accent-oxide" min={0} max={steps.length - 1} value={at} aria-label={domain?.axis ?? "time"} onChange={(e) => setStep(Number(e.target.value))} />
            <span className="dim num">{formatNumber(steps[0] ?? 0)} … {formatNumber(steps[steps.length - 1] ?? 0)}, {steps.length} {domain?.axis === "step" ? "steps" : "times"}</span>
          </div>
        )}
      </section>
      <section className="min-h-0 overflow-auto border-l border-rule px-4 py-3" aria-label="Values">
        <h2 className="pb-2 text-md font-semibold">{site?.kind === "line" ? `${quantity} along ${site.name}` : site?.kind === "plane" ? `${quantity} on ${site.name}` : `${quantity} at ${site?.name ?? ""}`} <span className="dim text-xs font-normal">{displayUnit(unit)}</span></h2>
        {chart && <div className="h-80 border border-rule bg-sheet"><ChartView chart={chart} label={quantity} onRead={setCursor} /></div>}
        {site?.kind === "points" && <PointValues rows={[[run, first.data], [second, other.data]]} quantity={quantity} />}
        {site?.kind === "plane" && values.length > 0 && <p className="dim">{formatNumber(values.length / 3)} pieces, from <span className="num">{formatNumber(range[0], 5)}</span> to <span className="num">{formatNumber(range[1], 5)}</span> {displayUnit(unit)}. The script gives its mean, weighted by area.</p>}
        {first.data?.notes.map((n) => <p key={n} className="dim pt-2 text-xs">{n}</p>)}
      </section>
    </div>
  ); // prettier-ignore
}

/** A line up the middle, a plane across it and a place, for a start. */
function firstSites(b: readonly number[]): SurveySite[] {
  const mid = (k: number): number => round((b[2 * k]! + b[2 * k + 1]!) / 2);
  const inset = (k: number, share: number): number => round(b[2 * k]! + share * (b[2 * k + 1]! - b[2 * k]!));
  const upright = b[5]! > b[4]!;
  const line: SurveySite = upright
    ? {
        kind: "line",
        name: "rake",
        from: [mid(0), mid(1), inset(2, 0.01)],
        to: [mid(0), mid(1), inset(2, 0.99)],
        count: 100,
      }
    : {
        kind: "line",
        name: "rake",
        from: [inset(0, 0.01), mid(1), mid(2)],
        to: [inset(0, 0.99), mid(1), mid(2)],
        count: 100,
      };
  return [
    line,
    { kind: "plane", name: "aisle", axis: "y", at: mid(1) },
    { kind: "points", name: "middle", place: [mid(0), mid(1), mid(2)] },
  ];
}

type Sampled =
  | { columns: readonly { name: string; unit: string | null; values: readonly (number | string | null)[] }[] }
  | undefined;
const numbersOf = (t: Sampled, name: string): Float64Array => Float64Array.from(t?.columns.find((c) => c.name === name)?.values ?? [], (v) => (typeof v === "number" ? v : Number.NaN)); // prettier-ignore

function lineChart(runs: readonly (readonly [string, Sampled])[], quantity: string): ChartDescription | undefined {
  const there = runs.filter(([id, t]) => id !== "" && t !== undefined);
  if (there.length === 0) return undefined;
  const head = there[0]![1]!.columns;
  return {
    x: { title: "distance", unit: head.find((c) => c.name === "distance")?.unit ?? null, scale: "linear" },
    y: { title: quantity, unit: head.find((c) => c.name === quantity)?.unit ?? null, scale: "linear" },
    series: there.map(([id, t], k) => ({
      kind: "lines",
      name: id,
      x: numbersOf(t, "distance"),
      y: numbersOf(t, quantity),
      color: { palette: k },
      dash: k,
    })),
  };
}

function PointValues({
  rows,
  quantity,
}: {
  rows: readonly (readonly [string, Sampled])[];
  quantity: string;
}): ReactElement {
  return (
    <table className="ruled"><thead><tr><th>run</th><th className="n">{quantity}</th></tr></thead>
      <tbody>{rows.filter(([id]) => id !== "").map(([id, t]) => <tr key={id}><td className="num">{id}</td><td className="n">{t ? formatNumber(numbersOf(t, quantity)[0] ?? Number.NaN, 6) : ""}</td></tr>)}</tbody>
    </table>
  ); // prettier-ignore
}

function placeAt(from: Triple, to: Triple, distance: number): Triple {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]) || 1;
  const t = Math.min(1, Math.max(0, distance / length));
  return from.map((v, k) => v + t * (to[k]! - v)) as unknown as Triple;
}
