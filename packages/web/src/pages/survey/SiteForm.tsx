import type { ReactElement } from "react";
import type { Axis, SurveySite, Triple } from "./sites";

function Numbers({
  label,
  values,
  onChange,
}: {
  label: string;
  values: readonly number[];
  onChange: (v: number[]) => void;
}): ReactElement {
  return (
    <div className="grid grid-cols-[52px_1fr] items-center gap-2">
      <span className="dim text-xs">{label}</span>
      <span className="flex gap-1.5">
        {values.map((v, k) => <input key={k} type="number" step="any" className="field num w-full min-w-0 px-1.5 text-right text-xs" style={{ height: 24 }} aria-label={`${label} ${"xyz"[k] ?? ""}`} value={v} onChange={(e) => e.target.value !== "" && onChange(values.map((x, j) => (j === k ? Number(e.target.value) : x)))} />)}
      </span>
    </div>
  ); // prettier-ignore
}

/** A site's numbers, typed. */
export function SiteForm({ site, onChange }: { site: SurveySite; onChange: (s: SurveySite) => void }): ReactElement {
  return (
    <div className="flex flex-col gap-1.5">
      <div className="grid grid-cols-[52px_1fr] items-center gap-2">
        <span className="dim text-xs">name</span>
        <input className="field num min-w-0 text-xs" style={{ height: 24 }} aria-label="name of the site" value={site.name} onChange={(e) => onChange({ ...site, name: e.target.value })} />
      </div>
      {site.kind === "line" && (
        <>
          <Numbers label="from" values={site.from} onChange={(v) => onChange({ ...site, from: v as unknown as Triple })} />
          <Numbers label="to" values={site.to} onChange={(v) => onChange({ ...site, to: v as unknown as Triple })} />
          <Numbers label="places" values={[site.count]} onChange={([n]) => onChange({ ...site, count: Math.max(2, Math.min(5000, Math.round(n!))) })} />
        </>
      )}
      {site.kind === "points" && <Numbers label="place" values={site.place} onChange={(v) => onChange({ ...site, place: v as unknown as Triple })} />}
      {site.kind === "plane" && (
        <>
          <div className="grid grid-cols-[52px_1fr] items-center gap-2">
            <span className="dim text-xs">across</span>
            <select className="field num text-xs" style={{ height: 24 }} aria-label="axis of the plane" value={site.axis} onChange={(e) => onChange({ ...site, axis: e.target.value as Axis })}>
              <option>x</option><option>y</option><option>z</option>
            </select>
          </div>
          <Numbers label="at" values={[site.at]} onChange={([at]) => onChange({ ...site, at: at! })} />
        </>
      )}
    </div>
  ); // prettier-ignore
}
