/** A run of a job: the study that it is of, and its name there. */
export interface RunRef {
  readonly study: string;
  readonly id: string;
}

/**
 * What runs are called in a job's tables, files and messages: their own name, or `study/name` where two studies of the
 * job have a run of that name, so that no name means two runs.
 *
 * @example runNames(new Map([["hall", ["r1", "r2"]], ["duct", ["r1"]]]))({ study: "hall", id: "r1" }) // "hall/r1"
 */
export function runNames(studies: ReadonlyMap<string, readonly string[]>): (run: RunRef) => string {
  const count = new Map<string, number>();
  for (const ids of studies.values()) for (const id of new Set(ids)) count.set(id, (count.get(id) ?? 0) + 1);
  return ({ study, id }) => ((count.get(id) ?? 0) > 1 ? `${study}/${id}` : id);
}
