import { Tabs } from "radix-ui";
import { useEffect, useMemo, useState, type ReactElement, type ReactNode } from "react";
import type { Preview } from "@oxtrum/contract";
import { errorText, useAdditionQuery, usePreviewQuery } from "../../api";
import { count } from "../../parts/count";
import { useQuietText } from "../../parts/quiet-text";
import { usePutInScript } from "../script/use-put-in-script";
import { ofAddedLines } from "./added";
import { columnOf, comparisonScript, EMITTED, type Ground } from "./script";
import { views, viewWords, type Comparison, type ViewName } from "./state";
import { RunMarks } from "./RunMarks";
import { ComparisonView } from "./views";
import { Working } from "../../parts/Working";

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

const givenOf = ({ script }: Ground): Record<string, string> => (script ? { [EMITTED]: script.expression } : {});

/** What a comparison's script gives, tried as it is chosen. */
function useLook(
  lines: string,
  ground: Ground,
  scriptName: string | undefined,
): { shown: Preview | undefined; busy: boolean; trouble: string | undefined } {
  // Lines about an output go below the script that made it.
  const below = useAdditionQuery(
    { name: scriptName ?? "", text: ground.script?.text ?? "", lines, given: givenOf(ground) },
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
  const whole = look.currentData ?? (look.isFetching ? look.data : undefined);
  // What the script itself puts out is made as well; it is not what was asked.
  const added = ground.script ? below.currentData : undefined;
  const shown = useMemo(
    () => (whole && added && scriptName !== undefined ? ofAddedLines(whole, added, scriptName) : whole),
    [whole, added, scriptName],
  );
  const unreachable = look.error ?? below.error;
  const trouble = unreachable
    ? errorText(unreachable)
    : (shown?.diagnostics.find((d) => d.severity === "error")?.message ??
      shown?.messages.find((m) => m.level === "error")?.text ??
      shown?.outputs.find((o) => o.failed !== undefined && o.kind === "chart")?.failed);
  return { shown, busy: look.isFetching, trouble };
}

/** What stands where a view cannot be shown yet, or not at all. */
function lackOf(view: ViewName, c: Comparison, runs: readonly string[]): string | undefined {
  if ((view === "difference" || c.align?.at === "baseline") && !runs.includes(c.base))
    return "Choose a run among these as the baseline.";
  return runs.length === 0 ? "No run fits what is chosen." : undefined;
}

/** The views by name. */
function ViewNames({ offered, view }: { offered: readonly ViewName[]; view: ViewName }): ReactElement {
  return (
    <Tabs.List aria-label="Views" className="flex">
      {offered.map((v) => (
        <Tabs.Trigger
          key={v}
          value={v}
          className={`px-2.5 pb-1.5 whitespace-nowrap ${v === view ? "border-b-2 border-oxide font-semibold" : "dim hover:text-ink"}`}
        >
          {viewWords[v]}
        </Tabs.Trigger>
      ))}
    </Tabs.List>
  );
}

/** The lines of the view, put in a script: a new one, or below the one that made the output. */
function PutInScript({
  name,
  lines,
  ground,
  scriptName,
  able,
}: {
  name: string;
  lines: string;
  ground: Ground;
  scriptName: string | undefined;
  able: boolean;
}): ReactElement {
  const put = usePutInScript();
  const go = (): void =>
    void (scriptName === undefined ? put.make(name, lines) : put.addTo(scriptName, lines, givenOf(ground)));
  return (
    <>
      {put.error !== undefined && <span className="warn truncate text-xs">{put.error}</span>}
      <button className="btn h-7" disabled={!able || put.busy} onClick={go}>
        Put in script
      </button>
    </>
  );
}

interface ComparedProps {
  readonly c: Comparison;
  readonly ground: Ground;
  readonly runs: readonly string[];
  readonly onChange: (c: Comparison) => void;
  readonly choices: ReactNode;
  readonly scriptName?: string | undefined;
}

/** A comparison at work: what was chosen at the left, one view of it at the right, the runs below. */
export function Compared({ c, ground, runs, onChange, choices, scriptName }: ComparedProps): ReactElement {
  const offered = viewsOf(ground);
  const view = offered.includes(c.view) ? c.view : offered[0]!;
  const lacks = lackOf(view, c, runs);
  const lines = lacks === undefined ? comparisonScript({ ...c, view }, ground, runs.length) : "";
  const look = useLook(lines, ground, scriptName);
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  const mark = (list: readonly string[]): void => setMarked((old) => toggled(old, list));
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(236px,260px)_minmax(0,1fr)]">
      <aside
        className="flex min-h-0 flex-col gap-1 overflow-auto border-r border-rule px-3.5 py-3"
        aria-label="What is compared"
      >
        {choices}
      </aside>
      <Tabs.Root
        className="flex min-h-0 flex-col px-4 pt-3 pb-3"
        aria-label="Comparison"
        role="region"
        value={view}
        onValueChange={(v) => onChange({ ...c, view: v as ViewName })}
      >
        <div className="flex flex-wrap items-center gap-1 border-b border-rule">
          <ViewNames offered={offered} view={view} />
          <span className="ml-auto flex items-center gap-3 pb-1">
            {look.busy && <Working className="h-1 w-16" what="Working" />}
            <PutInScript
              name={`compare-${columnOf(c)}-${view}`}
              lines={lines}
              ground={ground}
              scriptName={scriptName}
              able={lacks === undefined && look.trouble === undefined}
            />
          </span>
        </div>
        <Tabs.Content value={view} className={`min-h-0 flex-1 pt-3 ${look.busy && look.shown ? "opacity-60" : ""}`}>
          {lacks !== undefined ? (
            <p className="dim py-6">{lacks}</p>
          ) : look.trouble !== undefined ? (
            <p role="alert" className="border-l-2 border-oxide py-1 pl-3">
              {look.trouble}
            </p>
          ) : look.shown && !look.shown.overtaken ? (
            <ComparisonView view={view} look={look.shown} marking={{ marked, onMark: mark }} />
          ) : (
            <p className="dim py-6">Reading {count(runs.length, "run")}</p>
          )}
        </Tabs.Content>
        <RunMarks runs={runs} view={view} shown={look.shown} marked={marked} onMark={mark} />
      </Tabs.Root>
    </div>
  );
}
