import { ToggleGroup } from "radix-ui";
import type { ReactElement } from "react";
import type { Output } from "@oxtrum/contract";
import { OneOf } from "../../parts/OneOf";
import { rankOf, type Filter } from "./output-filter";

/** Which outputs are shown, and how. */
export function Filters({
  outputs,
  runs,
  filter,
  onFilter,
  view,
  onView,
}: {
  outputs: readonly Output[];
  runs: readonly string[];
  filter: Filter;
  onFilter: (f: Filter) => void;
  view: "gallery" | "list";
  onView: (v: "gallery" | "list") => void;
}): ReactElement {
  return (
    <div className="mb-3 flex flex-wrap items-center gap-x-2 gap-y-1.5" role="group" aria-label="Which outputs">
      <Kinds outputs={outputs} chosen={filter.kinds} onChange={(kinds) => onFilter({ ...filter, kinds })} />
      <input
        className="field w-32"
        type="search"
        placeholder="Name"
        aria-label="Part of the name"
        value={filter.words}
        onChange={(e) => onFilter({ ...filter, words: e.target.value })}
      />
      <input
        className="field num w-36"
        list="runs-of-job"
        placeholder="Run"
        aria-label="Outputs that hold a run"
        value={filter.run}
        onChange={(e) => onFilter({ ...filter, run: e.target.value })}
      />
      <datalist id="runs-of-job">
        {[...new Set(runs)].slice(0, 500).map((r) => (
          <option key={r} value={r} />
        ))}
      </datalist>
      <span className="ml-auto">
        <OneOf
          label="How outputs are shown"
          value={view}
          options={[
            ["gallery", "Gallery"],
            ["list", "List"],
          ]}
          onChange={onView}
          joined
        />
      </span>
    </div>
  );
}

interface KindsProps {
  readonly outputs: readonly Output[];
  readonly chosen: Filter["kinds"];
  readonly onChange: (kinds: Filter["kinds"]) => void;
}

/** The kinds of outputs that there are, with how many. */
function Kinds({ outputs, chosen, onChange }: KindsProps): ReactElement {
  const kinds = [...new Set(outputs.map((o) => o.kind))].sort((a, b) => rankOf(a) - rankOf(b));
  const look = (on: boolean): string => (on ? "border-oxide text-oxide" : "border-rule text-pencil hover:text-ink");
  return (
    <ToggleGroup.Root
      type="multiple"
      className="flex flex-wrap gap-2"
      aria-label="Kinds of outputs"
      value={[...chosen]}
      onValueChange={(taken) => onChange(kinds.filter((k) => taken.includes(k)))}
    >
      {kinds.map((k) => (
        <ToggleGroup.Item key={k} value={k} className={`border px-2 py-0.5 text-xs ${look(chosen.includes(k))}`}>
          {k} {outputs.filter((o) => o.kind === k).length}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
