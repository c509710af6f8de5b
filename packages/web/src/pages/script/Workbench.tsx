import { useEffect, useMemo, useRef, useState, type ReactElement } from "react";
import { Group, Panel, Separator } from "react-resizable-panels";
import { usePreflightMutation, useStudiesQuery, useStudyQuery } from "../../api/api";
import type { Diagnostic, Preflight } from "@oxtrum/contract";
import { setScript, useAppDispatch } from "../../store";
import type { Draft, DraftState } from "../../drafts/draft";
import { Contents } from "./Contents";
import { Editor } from "./Editor";
import type { EditorActs } from "./editor-extensions";
import { Margin, type MarginItem } from "./Margin";
import { PreflightPanel } from "./PreflightPanel";
import { Revisions } from "./Revisions";
import { RunPicker } from "./RunPicker";
import { useEditorView } from "./use-editor-view";
import { useWork } from "./use-work";
import { Acts, Status } from "./work-status";

/** The studies a text names. */
const namedStudies = (text: string): string[] => [...text.matchAll(/\bstudy\(\s*(["'`])(.+?)\1/g)].map((m) => m[2]!);

/** What of the text is saved where, in a word or two. */
function savedText({ text, base, saving, problem, restored }: DraftState): string {
  if (problem !== undefined) return "draft, kept in this browser";
  if (saving) return "saving";
  if (text === base.text) return "saved";
  return restored ? "draft from before" : "draft";
}

/** The home of the work: what the runs hold, the script, and what its lines give. */
export function Workbench({ name, draft, state }: { name: string; draft: Draft; state: DraftState }): ReactElement {
  const { text } = state;
  const kept = state.base.text;
  const dispatch = useAppDispatch();
  useEffect(() => void dispatch(setScript(name)), [dispatch, name]);
  const [cursor, setCursor] = useState(1);
  const [scroll, setScroll] = useState(0);
  const { view, lineTop, goToLine, insert, fix, moved } = useEditorView();
  const [found, setFound] = useState<readonly Diagnostic[]>([]);
  const [preflight, setPreflight] = useState<Preflight | undefined>();
  const [triedRun, setTriedRun] = useState<string | undefined>();
  const [selector, setSelector] = useState("");
  const [askPreflight, asking] = usePreflightMutation();
  const studies = useStudiesQuery(undefined).data;
  const studyName = useMemo(
    () => namedStudies(text).find((n) => studies?.some((s) => s.name === n)) ?? undefined,
    [text, studies],
  );
  const study = useStudyQuery(studyName ?? "", { skip: studyName === undefined }).data;
  const run = triedRun ?? study?.runs.find((r) => r.problems.length === 0)?.id ?? study?.runs[0]?.id ?? "";
  const errors = found.filter((d) => d.severity === "error");
  const work = useWork({ name, draft, study, run, selector, sound: errors.length === 0 });
  const { tried, job, begin } = work;

  const acts = useRef<EditorActs>(null!);
  // oxlint-disable-next-line react/refs -- the editor outlives renders; it reads the newest acts from here
  acts.current = {
    onTry: () => void begin("try"),
    onRun: () => void begin("run"),
    onSave: () => void draft.save(),
    onChecked: setFound,
    onView: (v, what) => {
      if (what.text) draft.edit(v.state.doc.toString());
      if (what.line) setCursor(v.state.doc.lineAt(v.state.selection.main.head).number);
      moved();
    },
  };

  const live = job?.live;
  const items = useMemo((): MarginItem[] => {
    const own = (live?.outputs ?? [])
      .filter((o) => o.file === name)
      .map((output) => ({ key: `o-${output.name}`, line: output.line, output }));
    const running = (live?.diagnostics ?? []).filter(
      (d) => d.file === name && !found.some((f) => f.line === d.line && f.message === d.message),
    );
    const marked = [
      ...found.filter((d) => d.file === name),
      ...(tried?.text === text || !tried ? (tried ? running : []) : []),
    ];
    return [
      ...own,
      ...marked
        .slice(0, 30)
        .map((diagnostic, k) => ({ key: `d-${k}-${diagnostic.line}`, line: diagnostic.line, diagnostic })),
    ];
  }, [live, found, name, tried, text]);
  const stale = tried ? tried.text !== text : text !== kept;
  const doPreflight = async (): Promise<void> => {
    const r = await askPreflight({ name, text });
    if (r.data) setPreflight(r.data);
  };
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <Group orientation="horizontal" className="min-h-0 flex-1" id="script">
        <Panel defaultSize="19%" minSize="10%" collapsible id="contents">
          <Contents study={study} onInsert={insert} />
        </Panel>
        <Separator className="sep-x" />
        <Panel minSize="30%" id="text">
          <Editor
            script={name}
            text={text}
            replaced={state.replaced}
            actsRef={acts}
            viewRef={view}
            onScroll={setScroll}
          />
        </Panel>
        <Separator className="sep-x bare" />
        <Panel defaultSize="29%" minSize="18%" id="margin">
          <Margin
            items={items}
            job={job?.id}
            cursor={cursor}
            lineTop={lineTop}
            scroll={scroll}
            stale={stale}
            onLine={goToLine}
            onFix={fix}
          />
        </Panel>
      </Group>
      {preflight && <PreflightPanel result={preflight} onClose={() => setPreflight(undefined)} />}
      <footer className="flex h-11.5 flex-none items-center gap-3.5 border-t border-rule px-4">
        {study ? (
          <RunPicker study={study} tried={run} onTried={setTriedRun} selector={selector} onSelector={setSelector} />
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
            <button className="text-xs text-oxide" onClick={() => goToLine(errors[0]!.line)}>
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
    </div>
  );
}
