import type { EditorView } from "@codemirror/view";
import { useCallback, useEffect, useMemo, useRef, useState, type ReactElement } from "react";
import { Group, Panel, Separator } from "react-resizable-panels";
import { Link, useNavigate } from "react-router";
import {
  errorText,
  useJobQuery,
  useJobsQuery,
  usePreflightMutation,
  useStartJobMutation,
  useStopJobMutation,
  useStudiesQuery,
  useStudyQuery,
} from "../../api/api";
import type { Diagnostic, Preflight } from "@oxtrum/contract";
import { setScript, useAppDispatch } from "../../store";
import type { Draft, DraftState } from "../../drafts/draft";
import { tab } from "../../drafts/tab";
import { Contents } from "./Contents";
import { Editor } from "./Editor";
import { placeOf, type EditorActs } from "./editor-extensions";
import { Margin, type MarginItem } from "./Margin";
import { PreflightPanel } from "./PreflightPanel";
import { Revisions } from "./Revisions";
import { RunPicker } from "./RunPicker";

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
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  useEffect(() => void dispatch(setScript(name)), [dispatch, name]);
  const view = useRef<EditorView | null>(null);
  const [cursor, setCursor] = useState(1);
  const [scroll, setScroll] = useState(0);
  const [layout, setLayout] = useState(0);
  const [found, setFound] = useState<readonly Diagnostic[]>([]);
  const [preflight, setPreflight] = useState<Preflight | undefined>();
  const [triedRun, setTriedRun] = useState<string | undefined>();
  const [selector, setSelector] = useState("");
  const [tried, setTried] = useState<{ job: number; text: string } | undefined>();
  const [stop] = useStopJobMutation();
  const [start, starting] = useStartJobMutation();
  const [askPreflight, asking] = usePreflightMutation();
  const studies = useStudiesQuery(undefined).data;
  const studyName = useMemo(
    () => namedStudies(text).find((n) => studies?.some((s) => s.name === n)) ?? undefined,
    [text, studies],
  );
  const study = useStudyQuery(studyName ?? "", { skip: studyName === undefined }).data;
  const jobs = useJobsQuery(undefined).data;
  // While a study is followed, what the last whole evaluation gave stays until the next one is whole.
  const [follow, setFollow] = useState(false);
  const followed = useRef<number | undefined>(undefined);
  const [whole, setWhole] = useState<number | undefined>();
  const newest = tried?.job ?? jobs?.find((j) => j.script === name && j.mode === "run" && j.state !== "waiting")?.id;
  const newestJob = useJobQuery(newest ?? 0, { skip: newest === undefined }).data;
  const isUnderWay = newestJob?.state === "running" || newestJob?.state === "waiting";
  if (follow && tried && newestJob?.id === tried.job && !isUnderWay && whole !== tried.job) setWhole(tried.job);
  const lastJob = follow && isUnderWay ? (whole ?? newest) : newest;
  // Until another job is known, the one before is shown, with its own values.
  const job = useJobQuery(lastJob ?? 0, { skip: lastJob === undefined }).data;
  const run = triedRun ?? study?.runs.find((r) => r.problems.length === 0)?.id ?? study?.runs[0]?.id ?? "";
  const errors = found.filter((d) => d.severity === "error");

  const begin = async (mode: "run" | "try", all = false): Promise<void> => {
    await draft.save();
    const { base, conflict, problem } = draft.state;
    // What cannot be saved is not run: a job is of a revision.
    if (conflict || problem !== undefined) return;
    const r = await start({
      script: name,
      revision: base.revision,
      mode,
      lane: `${tab} ${name}`,
      ...(mode === "try" && study ? { tryRuns: { [study.name]: all ? "*" : run } } : {}),
      ...((mode === "run" || all) && selector.trim() !== "" ? { runs: selector } : {}),
    });
    if (!r.data) return;
    if (mode === "run") await navigate(`/jobs/${r.data.id}`);
    else setTried({ job: r.data.id, text: base.text });
  };
  const beginRef = useRef(begin);
  useEffect(() => void (beginRef.current = begin));
  const acts = useRef<EditorActs>(null!);
  // eslint-disable-next-line react-hooks/refs -- the editor outlives renders; it reads the newest acts from here
  acts.current = {
    onTry: () => void begin("try"),
    onRun: () => void begin("run"),
    onSave: () => void draft.save(),
    onChecked: setFound,
    onView: (v, what) => {
      if (what.text) draft.edit(v.state.doc.toString());
      if (what.line) setCursor(v.state.doc.lineAt(v.state.selection.main.head).number);
      setLayout((n) => n + 1);
    },
  };

  const lineTop = useCallback(
    (line: number): number => {
      void layout;
      const v = view.current;
      if (!v) return line * 20;
      return v.lineBlockAt(v.state.doc.line(Math.min(Math.max(1, line), v.state.doc.lines)).from).top + 12;
    },
    [layout],
  );
  const goToLine = useCallback((line: number): void => {
    const v = view.current;
    if (!v) return;
    const at = v.state.doc.line(Math.min(line, v.state.doc.lines)).from;
    v.dispatch({ selection: { anchor: at }, scrollIntoView: true });
    v.focus();
  }, []);
  const insert = (t: string): void => {
    const v = view.current;
    if (!v) return;
    v.dispatch(v.state.replaceSelection(t));
    v.focus();
  };
  const fix = (d: Diagnostic, replacement: string): void => {
    const v = view.current;
    if (!v) return;
    v.dispatch({ changes: { ...placeOf(d, v.state.doc), insert: replacement } });
    v.focus();
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
  const scan = study?.scannedAt;
  useEffect(() => {
    if (!follow || scan === undefined || starting.isLoading || isUnderWay || errors.length > 0) return;
    if (followed.current === scan) return;
    followed.current = scan;
    void beginRef.current("try", true);
  }, [follow, scan, starting.isLoading, isUnderWay, errors.length]);
  const stale = tried ? tried.text !== text : text !== kept;
  const busy = starting.isLoading || (tried !== undefined && isUnderWay);
  const failure = live?.messages.find((m) => m.level === "error")?.text;
  // A script with errors was not tried, however soon that was known.
  const refused = live?.diagnostics.filter((d) => d.severity === "error").length ?? 0;

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
        <span className="dim truncate" role="status">
          {busy ? (
            <span className="flex items-center gap-2">
              <span className="sweep h-1 w-12" />
              {follow ? "following" : "trying on"} <span className="num">{follow ? "" : run}</span>
            </span>
          ) : tried && job && refused > 0 ? (
            <span className="text-oxide">
              not tried: the script has {refused} error{refused === 1 ? "" : "s"}
            </span>
          ) : tried && job ? (
            <>
              {follow ? "following, evaluated on" : "tried on"}{" "}
              <span className="num">{follow ? (selector.trim() === "" ? "all runs" : selector) : run}</span>
              {live?.summary ? (
                <>
                  , <span className="num">{live.summary.seconds.toFixed(2)} s</span>
                </>
              ) : (
                ""
              )}
              {failure ? <span className="text-oxide"> · {failure}</span> : ""}
            </>
          ) : job ? (
            <>
              margin from{" "}
              <Link className="link" to={`/jobs/${job.id}`}>
                job {job.id}
              </Link>
            </>
          ) : (
            "not tried yet"
          )}
        </span>
        {(starting.error ?? state.problem) !== undefined && (
          <span role="alert" className="text-oxide">
            {starting.error ? errorText(starting.error) : state.problem}
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
          {busy && tried && (
            <button className="btn quiet" onClick={() => void stop(tried.job)}>
              Stop
            </button>
          )}
          <button
            className={`btn quiet ${follow ? "border-oxide text-oxide" : ""}`}
            aria-pressed={follow}
            disabled={!study}
            title="Evaluate all runs again whenever their files change"
            onClick={() => {
              setFollow(!follow);
              setWhole(undefined);
              followed.current = undefined;
            }}
          >
            Follow
          </button>
          <button className="btn" onClick={() => void begin("try")}>
            Try <kbd>Ctrl ↵</kbd>
          </button>
          <button className="btn go" disabled={starting.isLoading} onClick={() => void begin("run")}>
            Run on all <kbd>Ctrl ⇧ ↵</kbd>
          </button>
        </div>
      </footer>
    </div>
  );
}
