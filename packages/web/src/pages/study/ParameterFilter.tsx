import { Popover } from "radix-ui";
import { useMemo, type ReactElement } from "react";
import type { StudySummary } from "@oxtrum/contract";

/** Which values of a parameter are shown. */
export function ParameterFilter({
  name,
  study,
  chosen,
  onChoose,
}: {
  name: string;
  study: StudySummary;
  chosen: readonly string[];
  onChoose: (v: readonly string[]) => void;
}): ReactElement {
  const values = useMemo(() => {
    const all = [...new Set(study.runs.flatMap((r) => (r.params[name] === undefined ? [] : [r.params[name]])))];
    return all.sort((a, b) => (a < b ? -1 : 1)).map(String);
  }, [name, study.runs]);
  return (
    <Popover.Root>
      <Popover.Trigger
        className={`btn h-6.5 px-2.5 text-xs ${chosen.length > 0 ? "border-oxide text-oxide" : "quiet"}`}
      >
        {name}: {chosen.length > 0 ? chosen.join(", ") : "all"}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-30 max-h-80 min-w-40 overflow-auto border border-rule bg-sheet p-2 shadow-md"
        >
          {values.map((v) => (
            <label key={v} className="flex items-center gap-2 px-1 py-0.5">
              <input
                type="checkbox"
                className="accent-oxide"
                checked={chosen.includes(v)}
                onChange={() => onChoose(chosen.includes(v) ? chosen.filter((c) => c !== v) : [...chosen, v])}
              />
              <span className="num">{v}</span>
            </label>
          ))}
          {chosen.length > 0 && (
            <button className="link mt-1 px-1 text-xs" onClick={() => onChoose([])}>
              all
            </button>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
