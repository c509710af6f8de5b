import { ChevronDown, ChevronRight } from "lucide-react";
import { useState, type ReactElement, type ReactNode } from "react";
import { Link } from "react-router";
import { shortNames } from "@oxtrum/core/charts";
import { displayUnit } from "@oxtrum/core/tables/units";
import { useCurvesQuery } from "../../api";
import type { Curves, StudySummary } from "@oxtrum/contract";
import { Name } from "../../parts/Name";
import { count } from "../../parts/count";
import { Sparkline } from "../../parts/Sparkline";
import { kindOf } from "../study/FieldList";

function Section({
  title,
  aside,
  children,
  open: first = true,
}: {
  title: ReactNode;
  aside?: ReactNode;
  children: ReactNode;
  open?: boolean;
}): ReactElement {
  const [open, setOpen] = useState(first);
  return (
    <section className="border-t border-soft py-1">
      <button
        className="flex w-full items-center gap-1 px-3 py-0.5 text-left text-xs font-medium"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        {open ? (
          <ChevronDown size={12} className="dim flex-none" />
        ) : (
          <ChevronRight size={12} className="dim flex-none" />
        )}
        <span className="truncate">{title}</span>
        <span className="dim ml-auto pl-2 font-normal whitespace-nowrap">{aside}</span>
      </button>
      {open && children}
    </section>
  );
}

function Column({
  name,
  unit,
  curve,
  onInsert,
}: {
  name: string;
  unit: string;
  curve: Curves[number] | undefined;
  onInsert: (text: string) => void;
}): ReactElement {
  return (
    <button
      className="flex h-5.5 w-full items-center gap-2 pr-3 pl-7 text-left text-xs hover:bg-sheet"
      title={`Put "${name}" in the script`}
      onClick={() => onInsert(JSON.stringify(name))}
    >
      <Name text={name} most={18} className="num font-medium whitespace-nowrap" />
      <span className="dim">{unit}</span>
      <span className="ml-auto">{curve && <Sparkline x={curve.x} y={curve.y} />}</span>
    </button>
  );
}

interface PartProps {
  study: StudySummary;
  /** Whether a name is asked for. */
  fits: (name: string) => boolean;
  onInsert: (text: string) => void;
}

function Parameters({ study, fits, onInsert }: PartProps): ReactElement {
  return (
    <Section title="Parameters" aside={study.parameters.length}>
      {study.parameters
        .filter((p) => fits(p.name))
        .map((p) => {
          const values = [
            ...new Set(study.runs.flatMap((r) => (r.params[p.name] === undefined ? [] : [r.params[p.name]!]))),
          ].sort((a, b) => (a < b ? -1 : 1));
          return (
            <button
              key={p.name}
              className="flex h-5.5 w-full items-center gap-2 pr-3 pl-7 text-left text-xs hover:bg-sheet"
              title={`Put run.params.${p.name} in the script`}
              onClick={() => onInsert(`run.params.${p.name}`)}
            >
              <span className="num font-medium">{p.name}</span>
              <span className="num dim ml-auto truncate text-[11px]" title={values.join(" · ")}>
                {values.join(" · ")} {displayUnit(p.unit)}
              </span>
            </button>
          );
        })}
    </Section>
  );
}

/** The columns of a table: what they are called, and what they look like in one run. */
function Columns({
  study,
  file,
  columns,
  run,
  onInsert,
}: {
  study: string;
  file: string;
  columns: readonly { name: string; unit: string | null }[];
  /** Whose values are shown; undefined for none. */
  run: string | undefined;
  onInsert: (text: string) => void;
}): ReactElement {
  const { data } = useCurvesQuery({ study, file, run: run ?? "" }, { skip: run === undefined });
  return (
    <>
      <button
        className="link dim block px-7 text-[11px]"
        onClick={() => onInsert(`run.table(${JSON.stringify(file)})`)}
      >
        put this table in the script
      </button>
      {columns.slice(0, 200).map((c) => (
        <Column
          key={c.name}
          name={c.name}
          unit={displayUnit(c.unit)}
          curve={data?.find((d) => d.column === c.name)}
          onInsert={onInsert}
        />
      ))}
    </>
  );
}

function Tables({ study, fits, onInsert, searching }: PartProps & { searching: boolean }): ReactElement {
  const first = study.runs.find((r) => r.problems.length === 0) ?? study.runs[0];
  return (
    <>
      {study.files
        .filter((f) => f.columns !== null)
        .map((f) => {
          const columns = f.columns!.filter((c) => fits(c.name) || fits(f.file));
          if (columns.length === 0) return null;
          const many = columns.length > 24;
          return (
            <Section
              key={f.file}
              title={<span className="num">{f.file}</span>}
              aside={f.runs < study.runs.length ? `${f.runs} of ${study.runs.length}` : columns.length}
              open={!many || searching}
            >
              <Columns
                study={study.name}
                file={f.file}
                columns={columns}
                run={many ? undefined : first?.id}
                onInsert={onInsert}
              />
            </Section>
          );
        })}
    </>
  );
}

function Fields({ study, fits, onInsert }: PartProps): ReactElement {
  return (
    <>
      {study.fields.map((f) => {
        const shown = f.fields.filter((x) => fits(x.name) || fits(f.file));
        const patches = f.blocks.filter((b) => fits(b) || fits(f.file));
        if (shown.length + patches.length === 0) return null;
        return (
          <Section
            key={f.file}
            title={<span className="num">{f.file}</span>}
            aside={f.steps > 1 ? count(f.steps, "time") : "field"}
          >
            <button
              className="link dim block px-7 text-left text-[11px]"
              onClick={() => onInsert(`run.field(${JSON.stringify(f.file)})`)}
            >
              put this field in the script
            </button>
            {shown.map((x) => (
              <button
                key={x.name}
                className="flex h-5.5 w-full items-center gap-2 pr-3 pl-7 text-left text-xs hover:bg-sheet"
                title={`Put "${x.name}" in the script`}
                onClick={() => onInsert(JSON.stringify(x.name))}
              >
                <Name text={x.name} most={18} className="num font-medium whitespace-nowrap" />
                <span className="dim">{displayUnit(x.unit)}</span>
                <span className="dim ml-auto">{kindOf(x.components)}</span>
              </button>
            ))}
            {patches.map((b) => (
              <button
                key={b}
                className="flex h-5.5 w-full items-center gap-2 pr-3 pl-7 text-left text-xs hover:bg-sheet"
                title={`Put the patch ${b} in the script`}
                onClick={() => onInsert(`at.patch(${JSON.stringify(b)})`)}
              >
                <Name text={b} most={20} className="num whitespace-nowrap" />
                <span className="dim ml-auto">patch</span>
              </button>
            ))}
          </Section>
        );
      })}
    </>
  );
}

/** What the runs hold: names to read off and to put into the script. */
export function Contents({
  study,
  onInsert,
}: {
  study: StudySummary | undefined;
  onInsert: (text: string) => void;
}): ReactElement {
  const [filter, setFilter] = useState("");
  if (!study) return <div className="dim p-4">The script names no study yet.</div>;
  const fits = (s: string): boolean => s.toLowerCase().includes(filter.toLowerCase());
  const props: PartProps = { study, fits, onInsert };
  const names = shortNames(study.runs.map((r) => r.id));
  const odd = study.runs.filter((r) => r.problems.length > 0);
  return (
    <aside className="flex h-full flex-col overflow-auto bg-paper" aria-label="Data of the study">
      <div className="flex items-baseline gap-2 px-3 pt-3 pb-2">
        <h2 className="text-md font-semibold">Data</h2>
        <Link className="link dim truncate text-xs" to={`/studies/${encodeURIComponent(study.name)}`}>
          {study.name}
        </Link>
      </div>
      <input
        className="field mx-3 mb-2 flex-none text-xs"
        style={{ height: 26 }}
        placeholder="Filter"
        aria-label="Filter the contents"
        value={filter}
        onChange={(e) => setFilter(e.target.value)}
      />
      <Parameters {...props} />
      <Tables {...props} searching={filter !== ""} />
      <Fields {...props} />
      {study.beside.length > 0 && (
        <Section title="Files beside the runs" aside={study.beside.length}>
          {study.beside
            .filter((f) => f.columns !== null && fits(f.file))
            .map((f) => (
              <button
                key={f.file}
                className="num block w-full truncate py-0.5 pr-3 pl-7 text-left text-xs hover:bg-sheet"
                onClick={() => onInsert(JSON.stringify(f.file))}
              >
                {f.file}
              </button>
            ))}
        </Section>
      )}
      <Section title="Problems" aside={odd.length === 0 ? "none" : count(odd.length, "run")}>
        {odd.map((r) => (
          <div key={r.id} className="px-7 py-0.5 text-xs">
            <button
              className="num warn font-medium"
              title={`Put "${r.id}" in the script`}
              onClick={() => onInsert(JSON.stringify(r.id))}
            >
              <Name text={names.get(r.id)!} most={24} />
            </button>{" "}
            <span className="dim">{r.problems.map((p) => p.text).join("; ")}</span>
          </div>
        ))}
      </Section>
    </aside>
  );
}
