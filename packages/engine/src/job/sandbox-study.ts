import { own } from "@oxtrum/core/tables";
import type { SandboxStudy } from "../sandbox/protocol.js";
import type { Catalogue } from "../definition/catalogue-model.js";
import type { RunState } from "../definition/states.js";
import { ruleRequests } from "../definition/rules.js";
import { shortNames } from "../definition/short-names.js";
import { parameterValues } from "../study/selector.js";
import { scriptFiles } from "../study/types.js";
import { fileSets, logicalThere } from "./file-sets.js";

/** Instead of a run's id: a Try of all runs, as when a study is followed. */
const ALL_RUNS = "*";

/** Whether a Try that is asked for with these words is one of all runs. */
export const triesAll = (only: string | undefined): boolean => only === ALL_RUNS;

/**
 * What a script sees of a study: its chosen runs with their parameters, its rules and which files there are.
 *
 * @param nameOf what a run is called among all runs of the job
 * @param only in a Try, the one run that is tried
 * @param stateOf the state of a run by its number; undefined where the script does not ask for states
 */
export function sandboxStudy(
  c: Catalogue,
  chosen: ReadonlySet<string>,
  nameOf: (id: string) => string,
  only: { readonly run: string | undefined } | undefined,
  stateOf: (index: number) => RunState | undefined,
): SandboxStudy {
  const names = [...scriptFiles(c).keys()];
  return {
    parameters: c.parameters.map(({ name, unit, type }) => ({
      name,
      unit,
      type,
      values: parameterValues(c.runs, name),
    })),
    runs: c.runs.flatMap((r, index) =>
      chosen.has(r.id)
        ? [
            {
              id: r.id,
              name: nameOf(r.id),
              index,
              params: c.parameters.map((p) => own(r.params, p.name) ?? null),
              tried: only === undefined || triesAll(only.run) || r.id === only.run,
              state: stateOf(index) ?? null,
            },
          ]
        : [],
    ),
    rules: ruleRequests(c.definition),
    shortNames: Object.fromEntries(shortNames(names)),
    shortBeside: Object.fromEntries(shortNames([...Object.keys(c.beside), ...Object.keys(c.definition.files)])),
    ...fileSets(c.runs.map((r) => names.filter((n) => Object.hasOwn(r.files, n) || logicalThere(c, n, r.files)))),
  };
}
