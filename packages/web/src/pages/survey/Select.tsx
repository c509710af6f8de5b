import type { ReactElement } from "react";

/** One of several names, with what it is. */
export function Select({
  label,
  value,
  options,
  none,
  onChange,
}: {
  label: string;
  value: string;
  options: readonly string[];
  none?: string;
  onChange: (v: string) => void;
}): ReactElement {
  return (
    <label className="grid grid-cols-[46px_1fr] items-center gap-2">
      <span className="dim text-xs">{label}</span>
      <select className="field tight num min-w-0 text-xs" value={value} onChange={(e) => onChange(e.target.value)}>
        {none !== undefined && <option value="">{none}</option>}
        {options.map((o) => (
          <option key={o}>{o}</option>
        ))}
      </select>
    </label>
  );
}
