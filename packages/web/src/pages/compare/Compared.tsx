import { useEffect, useMemo, useState, type ReactElement, type ReactNode } from "react";
import { darkTheme, lightTheme, shortNames } from "@oxtrum/core/charts";
import { errorText, useAdditionQuery, usePreviewQuery } from "../../api/api";
import { count } from "../../parts/count";
import { Name } from "../../parts/Name";
import { useQuietText } from "../../parts/quiet-text";
import { useDark } from "../../parts/theme";
import { usePutInScript } from "../script/use-put-in-script";
import { columnOf, comparisonScript, type Ground } from "./script";
import { views, viewWords, type Comparison, type ViewName } from "./state";
import { ComparisonView, curveColors } from "./views";

/** Which views an output can have: a table with a row per run has no curves. */
function viewsOf(g: Ground): readonly ViewName[] {
  if (!g.script)
    return g.study.parameters.length > 0 ? views : views.filter((v) => v !== "multiples" && v !== "parameter");
  return g.script.rows ? ["parameter", "correlation", "ranking"] : ["overlay", "band"];
}

/** Marks with these runs marked too, or not any more when all of them are. */
function toggled(marked: ReadonlySet<string>, runs: readonly string[]): ReadonlySet<string> {
  if (runs.length === 0) return new Set();
  const all = runs.every((r) => marked.has(r));
  return new Set(all ? [...marked].filter((r) => !runs.includes(r)) : [...marked, ...runs]);
}

/** A comparison at work: what was chosen at the left, one view of it at the right, the runs below. */
export function Compared({
  c,
  ground,
  runs,
  onChange,
  choices,
  scriptName,
}: {
  c: Comparison;
  ground: Ground;
  runs: readonly string[];
  onChange: (c: Comparison) => void;
  choices: ReactNode;
  scriptName?: string | undefined;
}): ReactElement {
  const put = usePutInScript();
  const offered = viewsOf(ground);
  const view = offered.includes(c.view) ? c.view : offered[0]!;
  const asked = { ...c, view };
  const lacks =
    (view === "difference" || c.align?.at === "baseline") && !runs.includes(c.base)
      ? "Choose a run among these as the baseline."
      : runs.length === 0
        ? "No run fits what is chosen."
        : undefined;
  const lines = lacks === undefined ? comparisonScript(asked, ground, runs.length) : "";
  // Lines about an output go below the script that made it.
  const below = useAdditionQuery(
    { name: scriptName ?? "", text: ground.script?.text ?? "", lines },
    { skip: !ground.script || lines === "" },
  );
  const text = ground.script ? (below.currentData?.text ?? "") : lines;
  // The lane is this page's own: a newer look ends one that is still under way.
  const [lane] = useState(() => `compare ${Math.random().toString(36).slice(2)}`);
  const late = useQuietText(text);
  const look = usePreviewQuery(
    { text: late, lane, ...(scriptName !== undefined && { script: scriptName }) },
    { skip: late === "" },
  );
  // One that was overtaken and is wanted again was never finished.
  useEffect(() => {
    if (look.data?.overtaken && !look.isFetching) void look.refetch();
  }, [look]);
  const shown = look.currentData ?? (look.isFetching ? look.data : undefined);
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  const marking = { marked, onMark: (list: readonly string[]): void => setMarked((old) => toggled(old, list)) };
  const theme = useDark() ? darkTheme : lightTheme;
  const colors = useMemo(() => curveColors(shown, theme), [shown, theme]);
  const names = useMemo(() => shortNames([...runs]), [runs]);
  const unreachable = look.error ?? below.error;
  const trouble = unreachable
    ? errorText(unreachable)
    : (shown?.diagnostics.find((d) => d.severity === "error")?.message ??
      shown?.messages.find((m) => m.level === "error")?.text ??
      shown?.outputs.find((o) => o.failed !== undefined && o.kind === "chart")?.failed);
  const left = shown?.outputs[0]?.left ?? [];
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(236px,260px)_minmax(0,1fr)]">
      <aside
        className="flex min-h-0 flex-col gap-1 overflow-auto border-r border-rule px-3.5 py-3"
        aria-label="What is compared"
      >
        {choices}
      </aside>
      <section className="flex min-h-0 flex-col px-4 pt-3 pb-3" aria-label="Comparison">
        <div className="flex flex-wrap items-center gap-1 border-b border-rule">
          <div role="tablist" aria-label="Views" className="flex">
            {offered.map((v) => (
              <button
                key={v}
                role="tab"
                aria-selected={v === view}
                className={`px-2.5 pb-1.5 whitespace-nowrap ${v === view ? "border-b-2 border-oxide font-semibold" : "dim hover:text-ink"}`}
                onClick={() => onChange({ ...c, view: v })}
              >
                {viewWords[v]}
              </button>
            ))}
          </div>
          <span className="ml-auto flex items-center gap-3 pb-1">
            {put.error !== undefined && <span className="warn truncate text-xs">{put.error}</span>}
            {look.isFetching && <span className="sweep h-1 w-16" role="progressbar" aria-label="Working" />}
            <button
              className="btn h-7"
              disabled={lacks !== undefined || put.busy || trouble !== undefined}
              onClick={() =>
                void (scriptName === undefined
                  ? put.make(`compare-${columnOf(c)}-${view}`, lines)
                  : put.addTo(scriptName, lines))
              }
            >
              Put in script
            </button>
          </span>
        </div>
        <div className={`min-h-0 flex-1 pt-3 ${look.isFetching && shown ? "opacity-60" : ""}`}>
          {lacks !== undefined ? (
            <p className="dim py-6">{lacks}</p>
          ) : trouble !== undefined ? (
            <p role="alert" className="border-l-2 border-oxide py-1 pl-3">
              {trouble}
            </p>
          ) : shown && !shown.overtaken ? (
            <ComparisonView view={view} look={shown} marking={marking} />
          ) : (
            <p className="dim py-6">Reading {count(runs.length, "run")}</p>
          )}
        </div>
        <footer role="group" className="flex max-h-28 flex-none flex-col gap-1 overflow-auto pt-2" aria-label="Runs">
          <div className="dim flex flex-wrap gap-x-4 text-xs">
            <span>
              {marked.size > 0 ? (
                <>
                  {count(marked.size, "run")} marked ·{" "}
                  <button className="link" onClick={() => setMarked(new Set())}>
                    none
                  </button>
                </>
              ) : view === "correlation" ? (
                ""
              ) : view === "ranking" ? (
                "click a row to mark its run, in all views"
              ) : (
                "drag over curves or points to mark their runs, in all views; the wheel zooms"
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
            {runs.slice(0, 80).map((r) => (
              <button
                key={r}
                aria-pressed={marked.has(r)}
                title={r}
                onClick={() => marking.onMark([r])}
                className={
                  "num border px-1 text-[11px] " +
                  `${marked.has(r) ? "border-oxide bg-oxide-wash text-oxide" : "border-soft text-pencil hover:border-ink"}`
                }
                style={{ borderRadius: 2, ...(colors.has(r) && { borderLeft: `4px solid ${colors.get(r)!}` }) }}
              >
                <Name text={names.get(r) ?? r} most={18} />
              </button>
            ))}
            {runs.length > 80 && <span className="dim text-xs">and {runs.length - 80} more</span>}
          </div>
        </footer>
      </section>
    </div>
  );
}
