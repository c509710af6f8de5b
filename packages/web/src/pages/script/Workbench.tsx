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

/** Side by side: what the runs hold, the text, and what its lines gave. */
function Panels(p: {
  name: string;
  state: DraftState;
  study: StudySummary | undefined;
  work: ReturnType<typeof useWork>;
  found: readonly Diagnostic[];
  cursor: number;
  editing: ReturnType<typeof useEditorView>;
  actsRef: RefObject<EditorActs>;
}): ReactElement {
  const { name, found, study, cursor, actsRef } = p;
  const { text, base, replaced } = p.state;
  const { tried, job } = p.work;
  const { view, lineTop, goToLine, insert, fix } = p.editing;
  const [scroll, setScroll] = useState(0);
  const live = job?.live;
  const items = useMemo(
    () => marginItems(name, live, found, tried && (tried.text === text ? "this text" : "another text")),
    [live, found, name, tried, text],
  );
  const stale = text !== (tried ?? base).text;
  return (
    <Group orientation="horizontal" className="min-h-0 flex-1" id="script">
      <Panel defaultSize="19%" minSize="10%" collapsible id="contents">
        <Contents study={study} onInsert={insert} />
      </Panel>
      <Separator className="sep-x" />
      <Panel minSize="30%" id="text">
        <Editor script={name} actsRef={actsRef} viewRef={view} onScroll={setScroll} {...{ text, replaced }} />
      </Panel>
      <Separator className="sep-x bare" />
      <Panel defaultSize="29%" minSize="18%" id="margin">
        <Margin job={job?.id} onLine={goToLine} onFix={fix} {...{ items, cursor, lineTop, scroll, stale }} />
      </Panel>
    </Group>
  );
}

/** The home of the work: what the runs hold, the script, and what its lines give. */
export function Workbench({ name, draft, state }: { name: string; draft: Draft; state: DraftState }): ReactElement {
  const dispatch = useAppDispatch();
  useEffect(() => void dispatch(setScript(name)), [dispatch, name]);
  const [cursor, setCursor] = useState(1);
  const editing = useEditorView();
  const [found, setFound] = useState<readonly Diagnostic[]>([]);
  const [preflight, setPreflight] = useState<Preflight | undefined>();
  const [selector, setSelector] = useState("");
  const study = useNamedStudy(state.text);
  const [run, setRun] = useTriedRun(study);
  const errors = found.filter((d) => d.severity === "error");
  const work = useWork({ name, draft, study, run, selector, sound: errors.length === 0 });

  const actsRef = useNewest<EditorActs>({
    onTry: () => void work.begin("try"),
    onRun: () => void work.begin("run"),
    onSave: () => void draft.save(),
    onChecked: setFound,
    onView: (v, what) => {
      if (what.text) draft.edit(v.state.doc.toString());
      if (what.line) setCursor(v.state.doc.lineAt(v.state.selection.main.head).number);
      editing.moved();
    },
  });
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <Panels {...{ name, state, study, work, found, cursor, editing, actsRef }} />
      {preflight && <PreflightPanel result={preflight} onClose={() => setPreflight(undefined)} />}
      <Foot
        {...{ name, draft, state, study, work, run, selector, errors }}
        onTried={setRun}
        onSelector={setSelector}
        onPreflight={setPreflight}
        onLine={editing.goToLine}
      />
    </div>
  );
}
