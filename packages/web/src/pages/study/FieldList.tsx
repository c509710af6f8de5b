import { useState, type ReactElement } from "react";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import { errorText, useReduceQuery } from "../../api";
import type { FieldHead, StudySummary } from "@oxtrum/contract";
import { count } from "../../parts/count";
import { Name } from "../../parts/Name";
import { rangeText } from "./range-text";

/** How many numbers a field has at a place, in a word. */
export const kindOf = (components: number): string =>
  components === 1
    ? ""
    : components === 3
      ? "vector"
      : components === 6 || components === 9
        ? "tensor"
        : `${components} parts`;

/** When a field is there: one state, or its times. */
export function timesOf(f: FieldHead): string {
  if (f.steps < 2) return "one state";
  const last = f.last === null ? "" : ` up to ${formatNumber(f.last)} ${displayUnit(f.axisUnit)}`.trimEnd();
  return count(f.steps, f.axis === "step" ? "step" : "time") + last;
}

/** Files of meshes: shown as fields, not one by one. */
export const isMeshFile = (file: string): boolean => /\.(?:pvd|vt[a-z]|pvt[a-z]|vtk|stl|ply|obj)$/i.test(file);

const AT_ONCE = 12;

/** One run's ranges of a field's quantities at the last time: read when they are shown. */
function RunRanges({
  study,
  file,
  run,
  names,
  units,
}: {
  study: string;
  file: string;
  run: string;
  names: readonly string[];
  /** Those that stand above the columns. */
  units: readonly (string | null)[];
}): ReactElement {
  const { data, error } = useReduceQuery({ study, file, run, site: { kind: "all" }, fields: [...names], when: "last" });
  const of = (name: string, unit: string | null): string => rangeText(data, name, unit);
  return (
    <tr>
      <td className="num">
        <Name text={run} most={24} />
      </td>
      {error ? (
        <td className="text-oxide" colSpan={names.length}>
          {errorText(error)}
        </td>
      ) : (
        names.map((n, k) => (
          <td key={n} className="n num whitespace-nowrap">
            {data ? of(n, units[k]!) : ""}
          </td>
        ))
      )}
    </tr>
  );
}

/** Ranges by run, a page at a time. */
function Ranges({ study, field }: { study: StudySummary; field: FieldHead }): ReactElement {
  const [page, setPage] = useState(0);
  const names = field.fields
    .flatMap((x) => (x.components === 1 ? [x.name] : x.components === 3 ? [`${x.name}.mag`] : []))
    .slice(0, 8);
  const units = names.map((n) => field.fields.find((x) => n === x.name || n.startsWith(`${x.name}.`))?.unit ?? null);
  const pages = Math.ceil(study.runs.length / AT_ONCE);
  const runs = study.runs.slice(page * AT_ONCE, (page + 1) * AT_ONCE);
  return (
    <div className="overflow-auto pt-2">
      <table className="ruled close">
        <thead>
          <tr>
            <th>run</th>
            {names.map((n, k) => (
              <th key={n} className="n">
                {n} <span className="dim font-normal">{displayUnit(units[k]!)}</span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {runs.map((r) => (
            <RunRanges key={r.id} study={study.name} file={field.file} run={r.id} names={names} units={units} />
          ))}
        </tbody>
      </table>
      {pages > 1 && (
        <p className="dim flex gap-3 pt-1 text-xs">
          <button className="link" disabled={page === 0} onClick={() => setPage(page - 1)}>
            before
          </button>
          <span className="num">
            {page + 1} of {pages}
          </span>
          <button className="link" disabled={page + 1 === pages} onClick={() => setPage(page + 1)}>
            after
          </button>
        </p>
      )}
    </div>
  );
}

/** The fields on meshes: what they hold, over which times, with which patches, and where runs differ. */
export function FieldList({ study }: { study: StudySummary }): ReactElement {
  const [ranges, setRanges] = useState<readonly string[]>([]);
  return (
    <>
      {study.fields.map((f) => (
        <div key={f.file} className="border-t border-soft py-2">
          <div className="flex items-baseline gap-2 pb-1">
            <h3 className="num font-medium">
              <Name text={f.file} most={44} />
            </h3>
            <span className="dim text-xs">
              field, {timesOf(f)}
              {f.runs < study.runs.length ? `, in ${f.runs} of ${count(study.runs.length, "run")}` : ""}
            </span>
            <button
              className="link ml-auto text-xs"
              aria-expanded={ranges.includes(f.file)}
              onClick={() =>
                setRanges(ranges.includes(f.file) ? ranges.filter((x) => x !== f.file) : [...ranges, f.file])
              }
            >
              Ranges by run
            </button>
          </div>
          <div className="grid grid-cols-[repeat(auto-fill,minmax(150px,1fr))] gap-x-5">
            {f.fields.map((x) => (
              <div
                key={x.name}
                className="flex items-baseline gap-2 border-b border-soft py-0.5"
                title={`${x.name}, in ${x.on}s`}
              >
                <span className="num truncate font-medium">{x.name}</span>
                <span className="dim text-xs">{displayUnit(x.unit) || (x.unit === "1" ? "" : "?")}</span>
                <span className="dim ml-auto text-xs">{kindOf(x.components)}</span>
              </div>
            ))}
          </div>
          {f.blocks.length > 0 && (
            <p className="dim pt-1 text-xs">
              Patches and blocks: <span className="num">{f.blocks.join(" · ")}</span>
            </p>
          )}
          {ranges.includes(f.file) && <Ranges study={study} field={f} />}
          {f.odd.slice(0, 6).map((o) => (
            <p key={o.run} className="pt-1 text-xs">
              <span className="num warn">{o.run}</span> <span className="dim">{o.text}</span>
            </p>
          ))}
          {f.odd.length > 6 && <p className="dim text-xs">and {f.odd.length - 6} more</p>}
        </div>
      ))}
    </>
  );
}
