import { Popover } from "radix-ui";
import { useMemo, type ReactElement } from "react";
import { shortNames } from "@oxtrum/core/charts";
import type { StudySummary } from "@oxtrum/contract";
import { Name } from "../../parts/Name";

/** Which run to try, and which runs to run on. */
export function RunPicker({
  study,
  tried,
  onTried,
  selector,
  onSelector,
}: {
  study: StudySummary;
  tried: string;
  onTried: (run: string) => void;
  selector: string;
  onSelector: (s: string) => void;
}): ReactElement {
  const names = useMemo(() => shortNames(study.runs.map((r) => r.id)), [study.runs]);
  return (
    <Popover.Root>
      <Popover.Trigger className="link whitespace-nowrap">
        {selector === "" ? (
          <>
            all <b className="num">{study.runs.length}</b> runs
          </>
        ) : (
          <span className="num">{selector}</span>
        )}{" "}
        · try on <Name text={names.get(tried) ?? tried} most={30} className="num" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="start"
          sideOffset={8}
          className="z-30 w-100 border border-rule bg-sheet p-4 shadow-md"
        >
          <label className="mb-3 flex flex-col gap-1">
            <span className="dim text-xs">
              Run only on these: ids, patterns, or parameter=value, with commas between. Empty: what the script asks
              for.
            </span>
            <input
              className="field num"
              value={selector}
              placeholder="fan=50,curtain=none"
              onChange={(e) => onSelector(e.target.value)}
            />
          </label>
          <span className="dim text-xs">Try on</span>
          <div className="max-h-60 overflow-auto border border-soft">
            {study.runs.map((r) => (
              <button
                key={r.id}
                className={`num block w-full px-2 py-0.5 text-left hover:bg-paper ${r.id === tried ? "text-oxide" : ""}`}
                onClick={() => onTried(r.id)}
              >
                <span title={r.id}>{names.get(r.id)}</span>
                {r.problems.length > 0 && <span className="dim font-sans text-xs"> {r.problems[0]!.text}</span>}
              </button>
            ))}
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
