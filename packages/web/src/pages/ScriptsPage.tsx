import { useEffect, useState, type ReactElement } from "react";
import { Link, useSearchParams } from "react-router";
import type { ScriptHead } from "@oxtrum/contract";
import { errorText, useJobsQuery, useRemoveScriptMutation, useScriptsQuery, useStudiesQuery } from "../api";
import { browserDrafts } from "../drafts/draft-store";
import { Empty, Loading, Trouble } from "../frame/Empty";
import { ago } from "../parts/ago";
import { AskedTwice } from "../parts/AskedTwice";
import { NewScript } from "./NewScript";

/** Names of scripts of which this browser keeps a text that is not saved; asked again when the list has changed. */
function useKeptDrafts(list: unknown): ReadonlySet<string> {
  const [names, setNames] = useState<ReadonlySet<string>>(new Set());
  useEffect(() => {
    browserDrafts.list().then(
      (kept) => setNames(new Set(kept.map((d) => d.script))),
      () => undefined,
    );
  }, [list]);
  return names;
}

/** All scripts, and what became of them last. */
export function ScriptsPage(): ReactElement {
  const { data, error, isLoading } = useScriptsQuery(undefined);
  const studies = useStudiesQuery(undefined).data ?? [];
  const [search, setSearch] = useSearchParams();
  const adding = search.has("new");
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5 py-5">
      <div className="mb-4 flex items-baseline gap-3">
        <h1 className="text-lg font-semibold">Scripts</h1>
        <span className="dim">questions asked of runs, again and again</span>
        {!adding && (
          <button className="btn ml-auto" onClick={() => setSearch({ new: "" })}>
            New script
          </button>
        )}
      </div>
      {adding && (
        <NewScript
          there={(data ?? []).map((x) => x.name)}
          study={studies[0]?.name ?? "my-study"}
          onCancel={() => setSearch({})}
        />
      )}
      {isLoading && <Loading what="Reading the list" />}
      {error && <Trouble text={errorText(error)} />}
      {data?.length === 0 && !adding && (
        <Empty
          title="No scripts yet"
          act={
            <button className="btn go" onClick={() => setSearch({ new: "" })}>
              New script
            </button>
          }
        >
          A script says which values you want of which runs, and what is to be made of them. Anyone can run it again.
        </Empty>
      )}
      {data && data.length > 0 && <ScriptTable scripts={data} />}
    </div>
  );
}

function ScriptTable({ scripts }: { scripts: readonly ScriptHead[] }): ReactElement {
  const jobs = useJobsQuery(undefined).data ?? [];
  const [remove] = useRemoveScriptMutation();
  const drafts = useKeptDrafts(scripts);
  return (
    <table className="ruled">
      <thead>
        <tr>
          <th>script</th>
          <th className="n">revision</th>
          <th>changed</th>
          <th>last run on all</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {scripts.map((s) => {
          const last = jobs.find((j) => j.script === s.name && j.mode === "run");
          return (
            <tr key={s.name}>
              <td>
                <Link className="num link font-medium" to={`/scripts/${encodeURIComponent(s.name)}`}>
                  {s.name}
                </Link>
              </td>
              <td className="n">{s.revision}</td>
              <td className="dim">
                {ago(s.updatedAt)}
                {drafts.has(s.name) && <span className="text-oxide"> · draft in this browser, not saved</span>}
              </td>
              <td>
                {last ? (
                  <Link className="link" to={`/jobs/${last.id}`}>
                    job {last.id}, {last.state}
                  </Link>
                ) : (
                  <span className="dim">–</span>
                )}
              </td>
              <td className="text-right">
                <AskedTwice act="Remove" question="Remove it and its jobs?" onYes={() => void remove(s.name)} />
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
