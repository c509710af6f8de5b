import { useId, type ReactElement, type ReactNode } from "react";
import { displayUnit } from "@oxtrum/core/tables/units";
import type { StudySummary } from "@oxtrum/contract";
import { chosenOf, laws, numbersOfCurve, type Comparison } from "./state";

const lawWords: Readonly<Record<(typeof laws)[number], string>> = {
  none: "no fit",
  linear: "straight line",
  polynomial: "parabola",
  power: "power law",
  exponential: "exponential",
};

/** A choice with its word before it. */
export function Choice({
  label,
  value,
  options,
  none,
  onChange,
}: {
  label: string;
  value: string;
  options: readonly (string | readonly [value: string, word: string])[];
  none?: string;
  onChange: (v: string) => void;
}): ReactElement {
  const id = useId();
  return (
    <div className="grid grid-cols-[78px_minmax(0,1fr)] items-center gap-2">
      <label htmlFor={id} className="dim text-xs">
        {label}
      </label>
      <select
        id={id}
        className="field tight num min-w-0 text-xs"
        value={value}
        onChange={(e) => onChange(e.target.value)}
      >
        {none !== undefined && <option value="">{none}</option>}
        {options.map((o) => {
          const [v, w] = typeof o === "string" ? [o, o] : o;
          return (
            <option key={v} value={v}>
              {w}
            </option>
          );
        })}
      </select>
    </div>
  );
}

/** A short text that is taken over when one leaves it or presses Enter. */
export function Entry({
  label,
  value,
  hint,
  onChange,
}: {
  label: string;
  value: string;
  hint: string;
  onChange: (v: string) => void;
}): ReactElement {
  const id = useId();
  return (
    <div className="grid grid-cols-[78px_minmax(0,1fr)] items-center gap-2">
      <label htmlFor={id} className="dim text-xs">
        {label}
      </label>
      <input
        id={id}
        key={value}
        className="field tight num min-w-0 text-xs"
        defaultValue={value}
        placeholder={hint}
        onBlur={(e) => e.target.value !== value && onChange(e.target.value)}
        onKeyDown={(e) => e.key === "Enter" && onChange(e.currentTarget.value)}
      />
    </div>
  );
}

const Part = ({ title, children }: { title: string; children: ReactNode }): ReactElement => (
  <fieldset className="flex flex-col gap-1.5 border-t border-soft pt-2 pb-1">
    <legend className="float-left pb-1 text-xs font-semibold">{title}</legend>
    {children}
  </fieldset>
);

/** The values of a parameter that are taken; none chosen means all. */
function Values({
  study,
  name,
  chosen,
  onChoose,
}: {
  study: StudySummary;
  name: string;
  chosen: readonly string[];
  onChoose: (v: readonly string[]) => void;
}): ReactElement {
  const p = study.parameters.find((q) => q.name === name)!;
  const all = [...new Set(study.runs.flatMap((r) => (r.params[name] === undefined ? [] : [r.params[name]])))]
    .sort((a, b) => (a < b ? -1 : 1))
    .map(String);
  return (
    <div className="grid grid-cols-[78px_minmax(0,1fr)] items-baseline gap-2">
      <span className="dim truncate text-xs" title={p.label ?? name}>
        {p.label ?? name} {displayUnit(p.unit)}
      </span>
      <div className="flex flex-wrap gap-1" role="group" aria-label={name}>
        {all.slice(0, 24).map((v) => {
          const on = chosen.includes(v);
          return (
            <button
              key={v}
              aria-pressed={on}
              className={`num border px-1.5 text-xs ${on ? "border-oxide bg-oxide-wash text-oxide" : "border-rule hover:border-ink"}`}
              style={{ borderRadius: 2 }}
              onClick={() => onChoose(on ? chosen.filter((c) => c !== v) : [...chosen, v])}
            >
              {v}
            </button>
          );
        })}
        {all.length > 24 && <span className="dim text-xs">{all.length - 24} more</span>}
      </div>
    </div>
  );
}

/** What a part of the choices shows and sets. */
interface PartProps {
  study: StudySummary;
  c: Comparison;
  runs: readonly string[];
  set: (part: Partial<Comparison>) => void;
}

function RunsPart({ study, c, runs, set }: PartProps): ReactElement {
  return (
    <Part title="Which runs">
      {study.parameters.map(({ name: p }) => (
        <Values
          key={p}
          study={study}
          name={p}
          chosen={chosenOf(c, p)}
          onChoose={(v) => set({ where: { ...c.where, [p]: v } })}
        />
      ))}
      {study.rules.length > 0 && (
        <label className="flex items-center gap-2 text-xs">
          <input
            type="checkbox"
            className="accent-oxide"
            checked={c.accepted}
            onChange={(e) => set({ accepted: e.target.checked })}
          />
          Accepted runs only
        </label>
      )}
      <span className="dim text-xs">
        {runs.length} of {study.runs.length} runs
      </span>
    </Part>
  );
}

/** The run that others are compared with. */
const Baseline = ({ c, runs, set }: Omit<PartProps, "study">): ReactElement => (
  <Choice label="baseline" value={c.base} none="choose a run" options={runs} onChange={(base) => set({ base })} />
);

function AlignPart({ c, runs, set }: PartProps): ReactElement {
  return (
    <Part title="Align">
      <Choice
        label="by"
        value={c.align?.at ?? ""}
        none="none"
        options={[
          ["max", "the maximum"],
          ["min", "the minimum"],
          ["rising", "rising through"],
          ["falling", "falling through"],
          ["baseline", "best agreement with the baseline"],
        ]}
        onChange={(v) => set({ align: v === "" ? undefined : { at: v as "max", level: c.align?.level ?? "" } })}
      />
      {(c.align?.at === "rising" || c.align?.at === "falling") && (
        <Entry
          label="level"
          value={c.align.level}
          hint="2 degC"
          onChange={(level) => set({ align: { ...c.align!, level } })}
        />
      )}
      {c.align?.at === "baseline" && <Baseline c={c} runs={runs} set={set} />}
    </Part>
  );
}

function DisplayPart({ study, c, runs, set }: PartProps): ReactElement {
  const params = study.parameters.map((p) => p.name);
  const ofOutput = c.source?.kind === "output";
  const curves = isOfCurves(c);
  return (
    <Part title="Display">
      {!ofOutput && curves && (
        <Choice
          label="colour"
          value={c.color}
          none={runs.length > 8 ? "automatic" : "run"}
          options={params}
          onChange={(color) => set({ color })}
        />
      )}
      {c.view === "multiples" && (
        <Choice label="one each" value={c.parameter} options={params} onChange={(parameter) => set({ parameter })} />
      )}
      {c.view === "difference" && (
        <>
          {c.align?.at !== "baseline" && <Baseline c={c} runs={runs} set={set} />}
          <label className="flex items-center gap-2 text-xs">
            <input
              type="checkbox"
              className="accent-oxide"
              checked={c.percent}
              onChange={(e) => set({ percent: e.target.checked })}
            />
            in percent of the baseline
          </label>
        </>
      )}
      {!curves && !ofOutput && (
        <Choice
          label="statistic"
          value={c.number}
          options={numbersOfCurve}
          onChange={(v) => set({ number: v as Comparison["number"] })}
        />
      )}
      {c.view === "parameter" && (
        <>
          <Choice label="x axis" value={c.parameter} options={params} onChange={(parameter) => set({ parameter })} />
          <Choice
            label="fit"
            value={c.law}
            options={laws.map((l) => [l, lawWords[l]] as const)}
            onChange={(v) => set({ law: v as Comparison["law"] })}
          />
        </>
      )}
    </Part>
  );
}

function ReferencePart({ study, c, set }: PartProps): ReactElement {
  const tables = tablesBeside(study);
  return (
    <Part title="Reference data">
      <Choice
        label="file"
        value={c.reference?.file ?? ""}
        none="none"
        options={tables.map((t) => t.file)}
        onChange={(file) =>
          set({
            reference:
              file === "" ? undefined : { file, column: firstNumber(tables.find((t) => t.file === file)!), shift: "" },
          })
        }
      />
      {c.reference && (
        <>
          <Choice
            label="column"
            value={c.reference.column}
            options={(tables.find((t) => t.file === c.reference!.file)?.columns ?? []).flatMap((h) =>
              h.kind === "number" ? [h.name] : [],
            )}
            onChange={(column) => set({ reference: { ...c.reference!, column } })}
          />
          <Entry
            label="offset"
            value={c.reference.shift}
            hint="42 s"
            onChange={(shift) => set({ reference: { ...c.reference!, shift } })}
          />
        </>
      )}
    </Part>
  );
}

/** Tables beside the runs that hold numbers: measured data. */
const tablesBeside = (study: StudySummary): StudySummary["beside"] =>
  study.beside.filter((b) => b.columns?.some((h) => h.kind === "number"));

const isOfCurves = (c: Comparison): boolean =>
  c.view !== "parameter" && c.view !== "correlation" && c.view !== "ranking";

/** Everything that is chosen for a comparison, in the order in which one thinks of it. */
export function Choices({
  study,
  c,
  runs,
  onChange,
  head,
}: {
  study: StudySummary;
  c: Comparison;
  runs: readonly string[];
  onChange: (c: Comparison) => void;
  head: ReactNode;
}): ReactElement {
  const ofOutput = c.source?.kind === "output";
  const props: PartProps = { study, c, runs, set: (part) => onChange({ ...c, ...part }) };
  return (
    <>
      {head}
      {!ofOutput && <RunsPart {...props} />}
      {!ofOutput && <AlignPart {...props} />}
      {c.view !== "band" && !(ofOutput && isOfCurves(c)) && <DisplayPart {...props} />}
      {c.view === "overlay" && tablesBeside(study).length > 0 && <ReferencePart {...props} />}
    </>
  );
}

/** The column to begin with: the second number, as the first is mostly the axis. */
const firstNumber = (t: StudySummary["beside"][number]): string => {
  const numbers = (t.columns ?? []).filter((h) => h.kind === "number");
  return (numbers[1] ?? numbers[0])?.name ?? "";
};
