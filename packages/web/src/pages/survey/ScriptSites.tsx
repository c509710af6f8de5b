import { useEffect, useMemo, useState, type ReactElement } from "react";
import { errorText, useDrawingQuery, usePreflightMutation, useScriptQuery, useScriptsQuery } from "../../api";
import type { Drawing, Preflight } from "@oxtrum/contract";
import { Name } from "../../parts/Name";

export interface ScriptSite {
  readonly name: string;
  readonly line: number;
  readonly site: { readonly kind: string } & Record<string, unknown>;
}

const none: readonly { name: string; drawing: Drawing }[] = [];

/** The sites at which a script samples this field, and how they look. */
export function useScriptSites(
  script: string,
  where: { study: string; file: string; run: string },
): {
  sites: readonly ScriptSite[];
  drawings: readonly { name: string; drawing: Drawing }[];
  busy: boolean;
  error: unknown;
} {
  const text = useScriptQuery(script, { skip: script === "" }).data?.text;
  const [ask, asking] = usePreflightMutation();
  const [told, setTold] = useState<{ script: string; result: Preflight } | undefined>();
  useEffect(() => {
    if (script === "" || text === undefined) return;
    let current = true;
    void ask({ name: script, text }).then((r) => {
      if (current && r.data) setTold({ script, result: r.data });
    });
    return () => {
      current = false;
    };
  }, [script, text, ask]);
  const sites = useMemo(
    () =>
      told?.script === script ? told.result.sites.filter((s) => s.study === where.study && s.file === where.file) : [],
    [told, script, where.study, where.file],
  );
  const body = useMemo(() => sites.map((s) => s.site), [sites]);
  const drawn = useDrawingQuery({ ...where, sites: body }, { skip: sites.length === 0 || where.run === "" });
  const drawings = useMemo(
    () =>
      sites.length > 0 && drawn.data
        ? sites.map((s, k) => ({ name: s.name, drawing: drawn.data![k]! })).filter((d) => d.drawing !== undefined)
        : none,
    [sites, drawn.data],
  );
  return { sites, drawings, busy: asking.isLoading, error: drawn.error ?? asking.error };
}

/** Which script's sites are drawn, and their names. */
export function ScriptSites({
  script,
  sites,
  busy,
  error,
  onScript,
  onTake,
}: {
  script: string;
  sites: readonly ScriptSite[];
  busy: boolean;
  error: unknown;
  onScript: (name: string) => void;
  onTake: (s: ScriptSite) => void;
}): ReactElement {
  const scripts = useScriptsQuery(undefined).data ?? [];
  return (
    <div className="border-t border-rule pt-2">
      <label className="grid grid-cols-[46px_1fr] items-center gap-2">
        <span className="dim text-xs">script</span>
        <select className="field tight num min-w-0 text-xs" value={script} onChange={(e) => onScript(e.target.value)}>
          <option value="">no script</option>
          {scripts.map((s) => (
            <option key={s.name}>{s.name}</option>
          ))}
        </select>
      </label>
      {script !== "" && (
        <ul className="-mx-3.5 pt-1" aria-label="Sites of the script">
          {sites.map((s) => (
            <li
              key={`${s.name} ${s.line} ${JSON.stringify(s.site)}`}
              className="flex items-baseline gap-2 px-3.5 py-0.5"
            >
              <button
                className="num min-w-0 flex-1 truncate text-left text-xs text-patina"
                title="Take it among the survey's sites"
                onClick={() => onTake(s)}
              >
                <Name text={s.name} most={22} />
              </button>
              <span className="dim text-[11px]">line {s.line}</span>
            </li>
          ))}
          {sites.length === 0 && (
            <li className="dim px-3.5 py-0.5 text-[11px]">
              {busy ? "Looking through the script" : error ? errorText(error) : "It samples nothing of this field."}
            </li>
          )}
        </ul>
      )}
    </div>
  );
}
