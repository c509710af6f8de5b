import type { ReactElement } from "react";
import type { Diagnostic, Preflight, StudySummary } from "@oxtrum/contract";
import { usePreflightMutation } from "../../api";
import type { Draft, DraftState } from "../../drafts/draft";
import { Revisions } from "./Revisions";
import { RunPicker } from "./RunPicker";
import type { Work } from "./use-work";
import { Acts, Status } from "./work-status";

/** What of the text is saved where, in a word or two. */
function savedText({ text, base, saving, problem, restored }: DraftState): string {
  if (problem !== undefined) return "draft, kept in this browser";
  if (saving) return "saving";
  if (text === base.text) return "saved";
  return restored ? "draft from before" : "draft";
}

/** The line below a script: the run it is tried on, what is being done, and what can be done. */
export function Foot(given: {
  name: string;
  draft: Draft;
  state: DraftState;
  study: StudySummary | undefined;
  work: Work;
  run: string;
  selector: string;
  errors: readonly Diagnostic[];
  onTried: (run: string) => void;
  onSelector: (selector: string) => void;
  onPreflight: (found: Preflight) => void;
  onLine: (line: number) => void;
}): ReactElement {
  const { name, draft, state, study, work, run, selector, errors } = given;
  const { text } = state;
  const [askPreflight, asking] = usePreflightMutation();
  const doPreflight = async (): Promise<void> => {
    const r = await askPreflight({ name, text });
    if (r.data) given.onPreflight(r.data);
  };
  return (
    <footer className="flex h-11.5 flex-none items-center gap-3.5 border-t border-rule px-4">
      {study ? (
        <RunPicker
          study={study}
          tried={run}
          onTried={given.onTried}
          selector={selector}
          onSelector={given.onSelector}
        />
      ) : (
        <span className="dim">no study</span>
      )}
      <span className="dim">|</span>
      <Status work={work} run={run} selector={selector} />
      {(work.error ?? state.problem) !== undefined && (
        <span role="alert" className="text-oxide">
          {work.error ?? state.problem}
        </span>
      )}
      <div className="ml-auto flex items-center gap-3">
        {errors[0] ? (
          <button className="text-xs text-oxide" onClick={() => given.onLine(errors[0]!.line)}>
            {errors.length} error{errors.length === 1 ? "" : "s"}, line {errors[0].line}
          </button>
        ) : null}
        <Revisions
          name={name}
          revision={state.base.revision}
          saved={savedText(state)}
          current={text}
          onTake={(t) => draft.replace(t)}
        />
        <button className="btn quiet" disabled={asking.isLoading} onClick={() => void doPreflight()}>
          {asking.isLoading ? "Checking" : "Check inputs"}
        </button>
        <Acts work={work} study={study !== undefined} />
      </div>
    </footer>
  );
}
