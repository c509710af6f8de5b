import type { ReactElement, ReactNode } from "react";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import type { SeriesAnswer, StudySummary } from "@oxtrum/contract";
import { Name } from "../../parts/Name";
import { Sparkline } from "../../parts/Sparkline";
import { SeriesSwatch } from "./SeriesSwatch";

/** A run in the table of runs; a click draws it, or does not any more. */
export function RunRow({
  run: r,
  name,
  study,
  drawn: at,
  of,
  series: s,
  state,
  verdict,
  onToggle,
}: {
  run: StudySummary["runs"][number];
  name: string;
  study: StudySummary;
  /** Which of the drawn runs it is; -1 for none. */
  drawn: number;
  of: number;
  series: SeriesAnswer[number] | undefined;
  state: ReactNode;
  verdict: ReactNode;
  onToggle: (run: string) => void;
}): ReactElement {
  return (
    <tr onClick={() => onToggle(r.id)} className={`cursor-pointer ${at >= 0 ? "bg-oxide-wash/60" : "hover:bg-sheet"}`}>
      <td className="w-8">
        <button
          aria-label={`${at >= 0 ? "Do not draw" : "Draw"} ${r.id}`}
          aria-pressed={at >= 0}
          onClick={(e) => {
            e.stopPropagation();
            onToggle(r.id);
          }}
          className="block h-4 w-5"
        >
          {at >= 0 ? <SeriesSwatch index={at} total={of} /> : null}
        </button>
      </td>
      <td className="num whitespace-nowrap" title={r.id}>
        <Name text={name} most={26} />
      </td>
      {study.parameters.map((p) => (
        <td key={p.name} className={p.type === "number" ? "n" : ""}>
          {typeof r.params[p.name] === "number" ? formatNumber(r.params[p.name] as number) : (r.params[p.name] ?? "–")}
        </td>
      ))}
      {state}
      <td>
        {s && "y" in s ? (
          <Sparkline x={s.x} y={s.y} strong={at >= 0} />
        ) : s ? (
          <span className="dim" title={s.error}>
            –
          </span>
        ) : null}
      </td>
      <td className="n">
        {s && "max" in s && s.max !== null ? (
          formatNumber(s.max, 4)
        ) : s && "error" in s ? (
          <span title={s.error}>–</span>
        ) : (
          ""
        )}
      </td>
      {verdict}
      <td>
        {r.problems[0] && (
          <span title={r.problems.map((p) => p.text).join("\n")}>
            <span className="warn">{r.problems[0].text}</span>
            {r.problems.length > 1 && (
              <span className="dim text-xs whitespace-nowrap"> and {r.problems.length - 1} more</span>
            )}
          </span>
        )}
      </td>
    </tr>
  );
}
