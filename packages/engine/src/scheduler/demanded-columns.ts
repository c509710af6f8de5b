import { operations } from "../verbs/registry.js";
import type { Batch } from "./protocol.js";

/** Operations that read a table whose columns can be read one by one. */
const readsTable = (op: string): boolean => op === "run.table" || op === "study.table";

/**
 * The columns of tables that are read, where all who use them say which ones they need: no others are parsed. What
 * comes out is the same; see `some-columns.test.ts` for the reader's side and `golden.test.ts` for that of the verbs.
 *
 * @returns names by read node; nodes of which any column may be needed are not in it
 */
export function demandedColumns(batch: Pick<Batch, "nodes" | "wanted">): Map<number, readonly string[]> {
  const demands = new Map<number, ReadonlySet<string> | "any">();
  const demand = (id: number, names: readonly string[] | undefined): void => {
    const before = demands.get(id);
    if (names === undefined || before === "any") demands.set(id, "any");
    else demands.set(id, new Set([...(before ?? []), ...names]));
  };
  for (const { id, columns } of batch.wanted) demand(id, columns);
  for (const n of [...batch.nodes].reverse()) {
    const own = demands.get(n.id);
    if (own === undefined) continue;
    const needs = operations.get(n.op)?.needs;
    n.inputs.forEach((i, k) =>
      demand(i, k === 0 && needs ? needs(n.args, own === "any" ? undefined : [...own]) : undefined),
    );
  }
  const out = new Map<number, readonly string[]>();
  for (const n of batch.nodes) {
    const own = demands.get(n.id);
    if (readsTable(n.op) && own !== undefined && own !== "any") out.set(n.id, [...own]);
  }
  return out;
}
