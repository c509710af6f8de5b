import type { ReactElement, ReactNode } from "react";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import type { SeriesAnswer, StudySummary } from "@oxtrum/contract";
import { Name } from "../../parts/Name";
import { Sparkline } from "../../parts/Sparkline";
import { SeriesSwatch } from "./SeriesSwatch";

interface RunRowProps {
  readonly run: StudySummary["runs"][number];
  readonly name: string;
  readonly study: StudySummary;
  /** Which of the drawn runs it is; -1 for none. */
  readonly drawn: number;
  readonly of: number;
  readonly series: SeriesAnswer[number] | undefined;
  readonly state: ReactNode;
  readonly verdict: ReactNode;
  readonly onToggle: (run: string) => void;
}

/** A run in the table of runs; a click draws it, or does not any more. */
export function RunRow({
  run: r,
  name,
  study,
  drawn,
  of,
  series,
  state,
  verdict,
  onToggle,
}: RunRowProps): ReactElement {
  const isDrawn = drawn >= 0;
  return (
    <tr onClick={() => onToggle(r.id)} className={`cursor-pointer ${isDrawn ? "bg-oxide-wash/60" : "hover:bg-sheet"}`}>
      <td className="w-8">
        <button
          aria-label={`${isDrawn ? "Do not draw" : "Draw"} ${r.id}`}
          aria-pressed={isDrawn}
          onClick={(e) => {
            e.stopPropagation();
            onToggle(r.id);
          }}
          className="block h-4 w-5"
        >
          {isDrawn ? <SeriesSwatch index={drawn} total={of} /> : null}
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
      <CurveCells series={series} strong={isDrawn} />
      {verdict}
      <td>
        <Problems of={r.problems} />
      </td>
    </tr>
  );
}

/** The run's curve of the chosen quantity, and its largest value. */
function CurveCells({
  series: s,
  strong,
}: {
  series: SeriesAnswer[number] | undefined;
  strong: boolean;
}): ReactElement {
  const lacks = s && "error" in s ? <span title={s.error}>–</span> : null;
  return (
    <>
      <td>
        {s && "y" in s ? <Sparkline x={s.x} y={s.y} strong={strong} /> : lacks && <span className="dim">{lacks}</span>}
      </td>
      <td className="n">{s && "max" in s && s.max !== null ? formatNumber(s.max, 4) : lacks}</td>
    </>
  );
}

function Problems({ of }: { of: StudySummary["runs"][number]["problems"] }): ReactElement | null {
  const [first] = of;
  if (!first) return null;
  return (
    <span title={of.map((p) => p.text).join("\n")}>
      <span className="warn">{first.text}</span>
      {of.length > 1 && <span className="dim text-xs whitespace-nowrap"> and {of.length - 1} more</span>}
    </span>
  );
}
