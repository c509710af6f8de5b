import { Popover } from "radix-ui";
import { useMemo, useState, type ReactElement } from "react";
import { useParams, useSearchParams } from "react-router";
import type { LiveQuantity, LiveRun, LiveStudy, RunStateName, StudySummary } from "@oxtrum/contract";
import { errorText, useStudyQuery } from "../../api";
import { Empty, Loading, Trouble } from "../../frame/Empty";
import { count } from "../../parts/count";
import { usePutInScript } from "../script/use-put-in-script";
import { AddQuantity } from "./AddQuantity";
import { LiveChart } from "./LiveChart";
import { LiveRuns, span } from "./LiveRuns";
import { LogHelper } from "./LogHelper";
import { liveScript } from "./script";
import { firstQuantities, fromAddress, quantityName, toAddress, type LiveState, type ShownQuantity } from "./state";
import { useLive } from "./use-live";

const MAX_FIRST = 8;
/** Curves of more runs than these cannot be told apart, and take long to draw each second. */
const MAX_DRAWN = 200;
const UNDER_WAY: readonly RunStateName[] = ["running", "diverging", "stalled"];

/** The runs that are drawn when none were chosen: those under way, or the first ones. */
function usualRuns(runs: readonly LiveRun[]): string[] {
  const going = runs.filter((r) => UNDER_WAY.includes(r.state));
  return (going.length > 0 ? going : runs).slice(0, going.length > 0 ? MAX_FIRST : 4).map((r) => r.id);
}

/** A study's runs while they are computed. What is shown stands in the address. */
export function LivePage(): ReactElement {
  const name = useParams()["study"]!;
  const { currentData: study, error } = useStudyQuery(name);
  if (error && !study) return <Trouble text={errorText(error)} />;
  if (!study) return <Loading what="Opening the study" />;
  if (study.runs.length === 0) return <Empty title="No runs yet">Runs appear here as soon as their folders do.</Empty>;
  return <Live study={study} />;
}

/** What can be done with the quantities: more of them, another view, a script of them. */
function Bar({
  study,
  state,
  shown,
  onAdd,
  onLog,
  onChange,
}: {
  study: StudySummary;
  state: LiveState;
  shown: readonly ShownQuantity[];
  onAdd: (list: readonly LiveQuantity[]) => void;
  onLog: () => void;
  onChange: (part: Partial<LiveState>) => void;
}): ReactElement {
  const script = usePutInScript();
  const [adding, setAdding] = useState(false);
  const add = (quantity: LiveQuantity): void => {
    onAdd([quantity]);
    setAdding(false);
  };
  const put = (): void => {
    const names = shown.map((q) => quantityName(q.quantity)).slice(0, 2);
    void script.make(`live-${names.join("-")}`, liveScript(study, state.runs, shown));
  };
  return (
    <div className="flex items-center gap-2 pb-2">
      <Popover.Root open={adding} onOpenChange={setAdding}>
        <Popover.Trigger asChild>
          <button className="btn h-7">Add quantity</button>
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content className="z-20 border border-rule bg-sheet p-3 shadow-md" align="start" sideOffset={4}>
            <AddQuantity study={study} onAdd={add} />
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
      <button className="btn quiet h-7" onClick={onLog}>
        Values from a log
      </button>
      <label className="flex items-center gap-2 text-xs">
        <input
          type="checkbox"
          className="accent-oxide"
          checked={state.view === "each"}
          onChange={(e) => onChange({ view: e.target.checked ? "each" : "together" })}
        />
        a chart per run
      </label>
      {script.error !== undefined && <span className="warn truncate text-xs">{script.error}</span>}
      <button className="btn ml-auto h-7" disabled={shown.length === 0 || script.busy} onClick={put}>
        Put in script
      </button>
    </div>
  );
}

interface LiveChoice {
  readonly state: LiveState;
  readonly shown: readonly ShownQuantity[];
  change(part: Partial<LiveState>): void;
}

/** What is shown, as the address says; without a word in it what a study has first. */
function useChoice(study: StudySummary): LiveChoice {
  const [address, setAddress] = useSearchParams();
  const state = useMemo(() => fromAddress(address), [address]);
  const first = useMemo(() => firstQuantities(study), [study]);
  const shown = address.has("q") ? state.quantities : address.has("none") ? [] : first;
  const change = (part: Partial<LiveState>): void => {
    const next = { ...state, quantities: shown, ...part };
    const a = toAddress(next);
    if (next.quantities.length === 0) a.set("none", "");
    setAddress(a, { replace: true, flushSync: true });
  };
  return { state, shown, change };
}

const MOST_QUANTITIES = 12;
/** Quantities with some more; values of logs often span powers of ten. */
const withMore = (shown: readonly ShownQuantity[], list: readonly LiveQuantity[]): ShownQuantity[] =>
  [...shown, ...list.map((quantity) => ({ quantity, along: "axis" as const, log: quantity.kind === "lines" }))].slice(
    0,
    MOST_QUANTITIES,
  );

function Live({ study }: { study: StudySummary }): ReactElement {
  const [address] = useSearchParams();
  const choice = useChoice(study);
  const { state, shown, change } = choice;
  const [usual, setUsual] = useState<readonly string[]>([]);
  const [helper, setHelper] = useState(address.has("log"));
  const chosen = state.runs ?? usual;
  const drawn = chosen.length > MAX_DRAWN ? chosen.slice(0, MAX_DRAWN) : chosen;
  const { live, error } = useLive(study.name, {
    runs: [...drawn],
    quantities: shown.map(({ quantity, along }) => ({ quantity, along })),
  });
  const wanted = live ? usualRuns(live.runs).join("\n") : "";
  if (live && wanted !== usual.join("\n")) setUsual(wanted.split("\n"));
  const add = (list: readonly LiveQuantity[]): void => {
    change({ quantities: withMore(shown, list) });
    setHelper(false);
  };
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(436px,33%)_minmax(0,1fr)]">
      <States live={live} error={error} drawn={drawn} chosen={chosen.length} onDraw={(runs) => change({ runs })} />
      {helper ? (
        <LogHelper
          study={study}
          run={drawn[0] ?? study.runs[0]!.id}
          first={address.get("log") ?? undefined}
          onAdd={add}
          onClose={() => setHelper(false)}
        />
      ) : (
        <Quantities study={study} choice={choice} live={live} drawn={drawn} onAdd={add} onLog={() => setHelper(true)} />
      )}
    </div>
  );
}

/** The states of the runs, at the left. */
function States({
  live,
  error,
  drawn,
  chosen,
  onDraw,
}: {
  live: LiveStudy | undefined;
  error: string | undefined;
  drawn: readonly string[];
  chosen: number;
  onDraw: (runs: readonly string[] | undefined) => void;
}): ReactElement {
  const [only, setOnly] = useState<RunStateName | undefined>();
  const read = live ? `${count(live.runs.length, "run")} · looked ${span(live.at - live.lookedAt)} ago` : "Reading";
  return (
    <aside className="flex min-h-0 flex-col border-r border-rule pt-4" aria-label="States of the runs">
      <div className="flex items-baseline gap-3 px-4 pb-2">
        <h1 className="text-lg font-semibold">Live</h1>
        <span className="dim truncate" role="status">
          {error ?? read}
        </span>
      </div>
      {live && <LiveRuns live={live} drawn={drawn} chosen={chosen} shown={only} onShown={setOnly} onDraw={onDraw} />}
    </aside>
  );
}

/** The quantities that are followed, at the right. */
function Quantities({
  study,
  choice: { state, shown, change },
  live,
  drawn,
  onAdd,
  onLog,
}: {
  study: StudySummary;
  choice: LiveChoice;
  live: LiveStudy | undefined;
  drawn: readonly string[];
  onAdd: (list: readonly LiveQuantity[]) => void;
  onLog: () => void;
}): ReactElement {
  return (
    <section className="flex min-h-0 flex-col px-5 pt-4" aria-label="Quantities">
      <Bar study={study} state={state} shown={shown} onAdd={onAdd} onLog={onLog} onChange={change} />
      <div className="min-h-0 flex-1 overflow-auto pb-4">
        {shown.length === 0 && (
          <p className="dim border-t border-rule py-4">Add a quantity, or take values from a log.</p>
        )}
        {live && (
          <Charts
            live={live}
            drawn={drawn}
            shown={shown}
            view={state.view}
            onChange={(quantities) => change({ quantities })}
          />
        )}
      </div>
    </section>
  );
}

/** A chart per quantity, or one for each run of each quantity. */
function Charts({
  live,
  drawn,
  shown,
  view,
  onChange,
}: {
  live: LiveStudy;
  drawn: readonly string[];
  shown: readonly ShownQuantity[];
  view: LiveState["view"];
  onChange: (q: readonly ShownQuantity[]) => void;
}): ReactElement {
  const byId = new Map(live.runs.map((r) => [r.id, r]));
  const height = shown.length === 1 && view === "together" ? "h-[min(60vh,520px)]" : "h-56";
  return (
    <>
      {shown.map((q, k) => {
        const members = drawn.flatMap((id, at) => {
          const run = byId.get(id);
          const series = run?.series[k];
          return run && series ? [{ run, series, at }] : [];
        });
        const set = (next: ShownQuantity): void => onChange(shown.map((x, i) => (i === k ? next : x)));
        const remove = (): void => onChange(shown.filter((_, i) => i !== k));
        const key = `${k} ${JSON.stringify(q.quantity)}`;
        const common = { q, total: drawn.length, height, onChange: set };
        if (view === "together") return <LiveChart key={key} {...common} members={members} onRemove={remove} />;
        return members.map((m) => (
          <LiveChart key={`${key} ${m.run.id}`} {...common} title={m.run.id} members={[m]} onRemove={remove} />
        ));
      })}
    </>
  );
}
