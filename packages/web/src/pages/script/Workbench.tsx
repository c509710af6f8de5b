import { useEffect, useMemo, useRef, useState, type ReactElement, type RefObject } from "react";
import { Group, Panel, Separator } from "react-resizable-panels";
import { useStudiesQuery, useStudyQuery } from "../../api";
import type { Diagnostic, Preflight, StudySummary } from "@oxtrum/contract";
import { setScript, useAppDispatch } from "../../store";
import type { Draft, DraftState } from "../../drafts/draft";
import { Contents } from "./Contents";
import { Editor } from "./Editor";
import type { EditorActs } from "./editor-extensions";
import { Foot } from "./Foot";
import { Margin } from "./Margin";
import { marginItems } from "./margin-items";
import { PreflightPanel } from "./PreflightPanel";
import { useEditorView } from "./use-editor-view";
import { useWork } from "./use-work";

/** The studies a text names. */
const namedStudies = (text: string): string[] => [...text.matchAll(/\bstudy\(\s*(["'`])(.+?)\1/g)].map((m) => m[2]!);

/** The first study that a text names, of those that there are. */
function useNamedStudy(text: string): StudySummary | undefined {
  const studies = useStudiesQuery(undefined).data;
  const name = useMemo(() => namedStudies(text).find((n) => studies?.some((s) => s.name === n)), [text, studies]);
  return useStudyQuery(name ?? "", { skip: name === undefined }).data;
}

/** What something that outlives renders reads the newest of. */
function useNewest<T>(value: T): RefObject<T> {
  const newest = useRef(value);
  // oxlint-disable-next-line react/refs -- read by what is not rendered
  newest.current = value;
  return newest;
}

/** Which run a script is tried on: the chosen one, or the first without problems. */
function useTriedRun(study: StudySummary | undefined): [run: string, choose: (run: string) => void] {
  const [chosen, choose] = useState<string | undefined>();
  const usual = study?.runs.find((r) => r.problems.length === 0) ?? study?.runs[0];
  return [chosen ?? usual?.id ?? "", choose];
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
  const [selector, setSelector] = useState("");
  const study = useNamedStudy(text);
  const [run, setRun] = useTriedRun(study);
  const errors = found.filter((d) => d.severity === "error");
  const work = useWork({ name, draft, study, run, selector, sound: errors.length === 0 });
  const { tried, job, begin } = work;

  const actsRef = useNewest<EditorActs>({
    onTry: () => void begin("try"),
    onRun: () => void begin("run"),
    onSave: () => void draft.save(),
    onChecked: setFound,
    onView: (v, what) => {
      if (what.text) draft.edit(v.state.doc.toString());
      if (what.line) setCursor(v.state.doc.lineAt(v.state.selection.main.head).number);
      moved();
    },
  });
  const live = job?.live;
  const items = useMemo(
    () => marginItems(name, live, found, tried && (tried.text === text ? "this text" : "another text")),
    [live, found, name, tried, text],
  );
  const stale = tried ? tried.text !== text : text !== kept;
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
            actsRef={actsRef}
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
      <Foot
        {...{ name, draft, state, study, work, run, selector, errors }}
        onTried={setRun}
        onSelector={setSelector}
        onPreflight={setPreflight}
        onLine={goToLine}
      />
    </div>
  );
}
