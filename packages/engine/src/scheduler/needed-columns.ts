import { operations } from "../verbs/registry.js";
import type { Graph } from "./graph.js";

/**
 * Which columns of a run's table are needed by those who bring runs together, where they all say so by name: the
 * workers send no more than that.
 */
export function neededColumns(graph: Graph, wanted: readonly number[]): Map<number, readonly string[]> {
  const out = new Map<number, Set<string> | undefined>();
  const whole = (id: number): void => void out.set(id, undefined);
  const some = (id: number, names: readonly string[]): void => {
    if (graph.nodes[id]!.run === undefined) return;
    if (!out.has(id)) out.set(id, new Set(names));
    else {
      const have = out.get(id);
      if (have) names.forEach((n) => have.add(n));
    }
  };
  const seen = new Set<number>();
  const stack = [...wanted];
  wanted.forEach(whole);
  while (stack.length > 0) {
    const id = stack.pop()!;
    if (seen.has(id)) continue;
    seen.add(id);
    const n = graph.nodes[id]!;
    if (n.run !== undefined) continue;
    stack.push(...n.inputs);
    const operation = operations.get(n.op);
    // Arguments that do not fit are told when they are used.
    const args = operation?.needsOfRuns && operation.args.safeParse(n.args);
    const needs = args?.success ? operation!.needsOfRuns!(args.data) : undefined;
    n.inputs.forEach((i, k) => {
      const names = needs?.(k);
      if (names) some(i, names);
      else whole(i);
    });
  }
  const named = new Map<number, readonly string[]>();
  for (const [id, names] of out) if (names) named.set(id, [...names].sort());
  return named;
}
