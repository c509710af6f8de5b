import type { Catalogue } from "../definition/catalogue-model.js";
import type { RunState } from "../definition/states.js";
import { Budget } from "../read/budget.js";
import { FileReader } from "../read/read-files.js";

/** Memory for the tables that rules for states read. */
const MEMORY = 1e9;

/**
 * The states of a study's runs as scripts see them: by the rules of its definition and the runs' files, not by the
 * clock, so that equal files give equal states. Without rules every run is finished.
 */
export function stateReader(name: string, c: Catalogue): (index: number) => RunState {
  if (!c.definition.states?.finished)
    return () => ({ state: "finished", because: "the study definition has no rule for when a run is finished" });
  const { folder, definition, runs } = c;
  const reader = new FileReader(
    new Map([[name, { name, folder, definition, runs }]]),
    new Map(),
    Budget.create(MEMORY),
  );
  return (index) => {
    const state = reader.stateOf(name, index);
    if (state) return state;
    const some = Object.keys(runs[index]!.files).length > 0;
    return some
      ? { state: "running", because: "no rule for finished or failed runs holds" }
      : { state: "waiting", because: "it has no files yet" };
  };
}
