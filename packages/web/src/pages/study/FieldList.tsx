import type { ReactElement } from "react";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import type { FieldHead, StudySummary } from "../../api/schemas";
import { count } from "../../parts/count";
import { Name } from "../../parts/Name";

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
export function timesOf(f: FieldHead, unit: string): string {
  if (f.steps < 2) return "one state";
  return `${count(f.steps, f.axis === "step" ? "step" : "time")}${f.last === null ? "" : ` up to ${formatNumber(f.last)}${unit}`}`;
}

/** Files of meshes: shown as fields, not one by one. */
export const isMeshFile = (file: string): boolean => /\.(?:pvd|vt[a-z]|pvt[a-z]|vtk|stl|ply|obj)$/i.test(file);

/** The fields on meshes: what they hold, over which times, with which patches, and where runs differ. */
export function FieldList({ study }: { study: StudySummary }): ReactElement {
  return (
    <>
      {study.fields.map((f) => (
        <div key={f.file} className="border-t border-soft py-2">
          <div className="flex items-baseline gap-2 pb-1">
            <h3 className="num font-medium"><Name text={f.file} most={44} /></h3>
            <span className="dim text-xs">field, {timesOf(f, f.axis === "time" ? " s" : "")}{f.runs < study.runs.length ? `, in ${f.runs} of ${count(study.runs.length, "run")}` : ""}</span>
          </div>
          <div className="grid grid-cols-[repeat(auto-fill,minmax(150px,1fr))] gap-x-5">
            {f.fields.map((x) => (
              <div key={x.name} className="flex items-baseline gap-2 border-b border-soft py-0.5" title={`${x.name}, in ${x.on}s`}>
                <span className="num truncate font-medium">{x.name}</span>
                <span className="dim text-xs">{displayUnit(x.unit) || (x.unit === "1" ? "" : "?")}</span>
                <span className="dim ml-auto text-xs">{kindOf(x.components)}</span>
              </div>
            ))}
          </div>
          {f.blocks.length > 0 && <p className="dim pt-1 text-xs">Patches and blocks: <span className="num">{f.blocks.join(" · ")}</span></p>}
          {f.odd.slice(0, 6).map((o) => <p key={o.run} className="pt-1 text-xs"><span className="num warn">{o.run}</span> <span className="dim">{o.text}</span></p>)}
          {f.odd.length > 6 && <p className="dim text-xs">and {f.odd.length - 6} more</p>}
        </div>
      ))}
    </>
  ); // prettier-ignore
}
