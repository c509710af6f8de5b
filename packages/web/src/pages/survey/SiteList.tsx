import { Copy, X } from "lucide-react";
import type { ReactElement } from "react";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { Name } from "../../parts/Name";
import { kindWord, type SiteKind, type SurveySite } from "./sites";

const about = (s: SurveySite): string =>
  s.kind === "line" || s.kind === "column"
    ? `${s.count} points`
    : s.kind === "plane"
      ? `${s.axis} ${formatNumber(s.at, 4)}`
      : s.kind === "grid"
        ? s.count.join(" × ")
        : s.kind === "patch"
          ? s.match
          : "point";

/** The survey's sites: one is chosen; each can be doubled and removed. */
export function SiteList({
  sites,
  chosen,
  kinds,
  onChoose,
  onAdd,
  onDouble,
  onRemove,
}: {
  sites: readonly SurveySite[];
  chosen: SurveySite | undefined;
  kinds: readonly SiteKind[];
  onChoose: (name: string) => void;
  onAdd: (kind: SiteKind) => void;
  onDouble: (s: SurveySite) => void;
  onRemove: (s: SurveySite) => void;
}): ReactElement {
  return (
    <>
      <div className="mt-1.5 flex items-baseline gap-2 border-t border-rule pt-2">
        <h2 className="text-md font-semibold">Sites</h2>
        <span className="ml-auto flex gap-1.5 text-xs">
          {kinds.map((k) => (
            <button key={k} className="link" aria-label={`Add a ${kindWord[k]}`} onClick={() => onAdd(k)}>
              {kindWord[k]}
            </button>
          ))}
        </span>
      </div>
      <ul className="-mx-3.5">
        {sites.map((s) => (
          <li
            key={s.name}
            className={`group flex items-baseline gap-1.5 px-3.5 py-0.5 ${s === chosen ? "bg-oxide-wash" : ""}`}
          >
            <button
              className="num min-w-0 flex-1 truncate text-left text-xs font-medium"
              aria-pressed={s === chosen}
              onClick={() => onChoose(s.name)}
            >
              <Name text={s.name} most={20} />
            </button>
            <span className="dim truncate text-[11px]">{about(s)}</span>
            <button
              className="dim self-center hover:text-oxide"
              aria-label={`Duplicate ${s.name}`}
              title="Duplicate"
              onClick={() => onDouble(s)}
            >
              <Copy size={11} />
            </button>
            <button
              className="dim self-center hover:text-oxide disabled:opacity-30"
              aria-label={`Remove ${s.name}`}
              title="Remove"
              disabled={sites.length < 2}
              onClick={() => onRemove(s)}
            >
              <X size={12} />
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}
