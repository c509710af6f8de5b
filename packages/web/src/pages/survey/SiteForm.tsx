import type { ReactElement, ReactNode } from "react";
import type { Axis, SurveySite, Triple } from "./sites";

const Row = ({ label, children }: { label: string; children: ReactNode }): ReactElement => (
  <div className="grid grid-cols-[46px_1fr] items-center gap-2">
    <span className="dim text-xs">{label}</span>
    {children}
  </div>
);

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
    <Row label={label}>
      <span className="flex gap-1">
        {values.map((v, k) => (
          <input
            key={k}
            type="number"
            step="any"
            className="field tight num w-full min-w-0 text-right text-xs"
            aria-label={`${label} ${values.length > 1 ? ("xyz"[k] ?? "") : ""}`.trim()}
            value={v}
            onChange={(e) =>
              e.target.value !== "" &&
              Number.isFinite(Number(e.target.value)) &&
              onChange(values.map((x, j) => (j === k ? Number(e.target.value) : x)))
            }
          />
        ))}
      </span>
    </Row>
  );
}

const whole = (n: number, least: number, most: number): number => Math.max(least, Math.min(most, Math.round(n)));

type Of<K extends SurveySite["kind"]> = Extract<SurveySite, { kind: K }>;
type Fields<K extends SurveySite["kind"]> = (given: {
  site: Of<K>;
  patches: readonly string[];
  onChange: (s: SurveySite) => void;
}) => ReactElement;

/** The rows of each kind of site. */
const fields: { [K in SurveySite["kind"]]: Fields<K> } = {
  line: ({ site, onChange }) => (
    <>
      <Numbers label="from" values={site.from} onChange={(v) => onChange({ ...site, from: v as unknown as Triple })} />
      <Numbers label="to" values={site.to} onChange={(v) => onChange({ ...site, to: v as unknown as Triple })} />
      <Numbers
        label="points"
        values={[site.count]}
        onChange={([n]) => onChange({ ...site, count: whole(n!, 2, 5000) })}
      />
    </>
  ),
  points: ({ site, onChange }) => (
    <Numbers label="point" values={site.place} onChange={(v) => onChange({ ...site, place: v as unknown as Triple })} />
  ),
  grid: ({ site, onChange }) => (
    <>
      <Numbers
        label="origin"
        values={site.origin}
        onChange={(v) => onChange({ ...site, origin: v as unknown as Triple })}
      />
      <Numbers label="step" values={site.step} onChange={(v) => onChange({ ...site, step: v as unknown as Triple })} />
      <Numbers
        label="count"
        values={site.count}
        onChange={(v) => onChange({ ...site, count: v.map((n) => whole(n, 1, 100)) as unknown as Triple })}
      />
    </>
  ),
  column: ({ site, onChange }) => (
    <>
      <Numbers label="x" values={[site.x]} onChange={([x]) => onChange({ ...site, x: x! })} />
      <Numbers label="y" values={[site.y]} onChange={([y]) => onChange({ ...site, y: y! })} />
      <Numbers
        label="points"
        values={[site.count]}
        onChange={([n]) => onChange({ ...site, count: whole(n!, 2, 5000) })}
      />
    </>
  ),
  patch: ({ site, patches, onChange }) => (
    <Row label="patch">
      <input
        className="field tight num min-w-0 text-xs"
        aria-label="patch"
        list="patches"
        value={site.match}
        onChange={(e) => onChange({ ...site, match: e.target.value })}
      />
      <datalist id="patches">
        {patches.map((p) => (
          <option key={p}>{p}</option>
        ))}
      </datalist>
    </Row>
  ),
  plane: ({ site, onChange }) => (
    <>
      <Row label="across">
        <select
          className="field tight num text-xs"
          aria-label="axis of the plane"
          value={site.axis}
          onChange={(e) => onChange({ ...site, axis: e.target.value as Axis })}
        >
          <option>x</option>
          <option>y</option>
          <option>z</option>
        </select>
      </Row>
      <Numbers label="at" values={[site.at]} onChange={([at]) => onChange({ ...site, at: at! })} />
    </>
  ),
};

/** A site's name and numbers, typed. */
export function SiteForm(given: {
  site: SurveySite;
  patches: readonly string[];
  onChange: (s: SurveySite) => void;
}): ReactElement {
  const { site, onChange } = given;
  const Own = fields[site.kind] as (given: object) => ReactElement;
  return (
    <div className="flex flex-col gap-1.5">
      <Row label="name">
        <input
          className="field tight num min-w-0 text-xs"
          aria-label="name of the site"
          value={site.name}
          onChange={(e) => onChange({ ...site, name: e.target.value })}
        />
      </Row>
      <Own {...given} />
    </div>
  );
}
