import { useState, type ReactElement } from "react";
import { Group, Panel, Separator } from "react-resizable-panels";
import { Link, useParams } from "react-router";
import type { StudySummary } from "@oxtrum/contract";
import { errorText, useScanMutation, useStudyQuery } from "../../api";
import { Empty, Loading, Trouble } from "../../frame/Empty";
import { ago } from "../../parts/ago";
import { ColumnsPanel } from "./ColumnsPanel";
import { count } from "../../parts/count";
import { richest } from "./richest";
import { RunsTable } from "./RunsTable";

/** What of the folder could not be listed: the first of it in a line, all of it when opened. */
function FolderProblems({ list }: { list: readonly string[] }): ReactElement {
  return (
    <details className="mx-5 mb-3 border-l-2 border-oxide pl-3" aria-label="Not listed">
      <summary className="cursor-pointer">
        <span className="warn">{list[0]}</span>
        {list.length > 1 && <span className="dim"> and {list.length - 1} more not listed</span>}
      </summary>
      <ul className="max-h-40 overflow-auto pt-1">
        {list.slice(1).map((t) => (
          <li key={t}>{t}</li>
        ))}
      </ul>
    </details>
  );
}

interface Picked {
  readonly file: string;
  readonly column: string;
}

/** The first column with numbers of the table that holds the most. */
function firstColumn(study: StudySummary): Picked | undefined {
  const columnOf = (f: StudySummary["files"][number]): string | undefined =>
    f.columns?.find((c) => c.kind === "number" && c.name !== f.axis)?.name;
  const table = richest(study.files.filter((f) => columnOf(f) !== undefined));
  return table && { file: table.file, column: columnOf(table)! };
}

/** What was found in the folder, and where to go from here. */
function Head({ study, pick }: { study: StudySummary; pick: Picked | undefined }): ReactElement {
  const [scan, scanning] = useScanMutation();
  const troubled = study.runs.filter((r) => r.problems.length > 0).length;
  const listed = study.problems.length > 0 ? `${study.problems.length} not listed` : "no problems";
  const compared = pick && new URLSearchParams({ file: pick.file, column: pick.column }).toString();
  return (
    <div className="flex items-baseline gap-3 px-5 pb-3">
      <h1 className="text-lg font-semibold whitespace-nowrap">{count(study.runs.length, "run")}</h1>
      <span className="dim truncate" title={study.how}>
        {study.parameters.length} parameters · {troubled > 0 ? `${troubled} with problems` : listed} · scanned{" "}
        {ago(study.scannedAt)}
      </span>
      <Link className="link ml-auto" to={compared === undefined ? "compare" : `compare?${compared}`}>
        Compare
      </Link>
      <Link className="link" to="live">
        Live
      </Link>
      {study.fields.length > 0 && (
        <Link className="link" to="survey">
          Survey
        </Link>
      )}
      <button className="link" disabled={scanning.isLoading} onClick={() => void scan(study.name)}>
        {scanning.isLoading ? "Scanning" : "Scan again"}
      </button>
    </div>
  );
}

/** What a study holds: its runs at the left, what is in their files at the right. */
export function StudyPage(): ReactElement {
  const name = useParams()["study"]!;
  const { currentData: data, error } = useStudyQuery(name);
  const [drawn, setDrawn] = useState<readonly string[] | undefined>();
  const [chosen, setChosen] = useState<Picked | undefined>();
  if (!data && !error) return <Loading what="Scanning the folder" />;
  if (!data) return <Trouble text={errorText(error)} />;
  const pick = chosen ?? firstColumn(data);
  const runs = drawn ?? data.runs.slice(0, 4).map((r) => r.id);
  return (
    <Group orientation="horizontal" className="min-h-0 flex-1" id="study">
      <Panel defaultSize="56%" minSize="30%" id="runs">
        <section className="flex h-full flex-col pt-4" aria-label="Runs">
          <Head study={data} pick={pick} />
          {data.problems.length > 0 && <FolderProblems list={data.problems} />}
          {data.runs.length === 0 ? (
            <Empty title="No runs in this folder">
              Oxtrum looks for folders with a case file, for a table of runs, or for folders that hold the same files.
              Where it finds none, a study definition (oxtrum.study.json) says where they are.
            </Empty>
          ) : (
            <RunsTable study={data} drawn={runs} onDraw={setDrawn} pick={pick} />
          )}
        </section>
      </Panel>
      <Separator className="sep-x" />
      <Panel minSize="28%" id="contents">
        <ColumnsPanel study={data} pick={pick} onPick={setChosen} runs={runs} />
      </Panel>
    </Group>
  );
}
