import { useMemo, type ReactElement } from "react";
import { darkTheme, lightTheme, shortNames } from "@oxtrum/core/charts";
import type { Preview } from "@oxtrum/contract";
import { count } from "../../parts/count";
import { Name } from "../../parts/Name";
import { useDark } from "../../parts/theme";
import type { ViewName } from "./state";
import { curveColors } from "./views";

/** Buttons of runs that fit below a view. */
const MOST = 80;

const hintOf = (view: ViewName): string =>
  view === "correlation"
    ? ""
    : view === "ranking"
      ? "click a row to mark its run, in all views"
      : "drag over curves or points to mark their runs, in all views; the wheel zooms";

/** The compared runs, in the colours of their curves; marked ones stand out in every view. */
export function RunMarks({
  runs,
  view,
  shown,
  marked,
  onMark,
}: {
  runs: readonly string[];
  view: ViewName;
  shown: Preview | undefined;
  marked: ReadonlySet<string>;
  onMark: (runs: readonly string[]) => void;
}): ReactElement {
  const theme = useDark() ? darkTheme : lightTheme;
  const colors = useMemo(() => curveColors(shown, theme), [shown, theme]);
  const names = useMemo(() => shortNames([...runs]), [runs]);
  const left = shown?.outputs[0]?.left ?? [];
  return (
    <footer role="group" className="flex max-h-28 flex-none flex-col gap-1 overflow-auto pt-2" aria-label="Runs">
      <div className="dim flex flex-wrap gap-x-4 text-xs">
        <span>
          {marked.size > 0 ? (
            <>
              {count(marked.size, "run")} marked ·{" "}
              <button className="link" onClick={() => onMark([])}>
                none
              </button>
            </>
          ) : (
            hintOf(view)
          )}
        </span>
        {left.length > 0 && (
          <span className="warn" title={left.map((l) => `${l.run}: ${l.reason}`).join("\n")}>
            {left[0]!.run} excluded: {left[0]!.reason}
            {left.length > 1 ? `, and ${left.length - 1} more` : ""}
          </span>
        )}
      </div>
      <div className="flex flex-wrap gap-1">
        {runs.slice(0, MOST).map((r) => (
          <button
            key={r}
            aria-pressed={marked.has(r)}
            title={r}
            onClick={() => onMark([r])}
            className={
              "num border px-1 text-[11px] " +
              `${marked.has(r) ? "border-oxide bg-oxide-wash text-oxide" : "border-soft text-pencil hover:border-ink"}`
            }
            style={{ borderRadius: 2, ...(colors.has(r) && { borderLeft: `4px solid ${colors.get(r)!}` }) }}
          >
            <Name text={names.get(r) ?? r} most={18} />
          </button>
        ))}
        {runs.length > MOST && <span className="dim text-xs">and {runs.length - MOST} more</span>}
      </div>
    </footer>
  );
}
