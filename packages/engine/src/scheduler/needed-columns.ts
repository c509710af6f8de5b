import { layerKindOf } from "../verbs/charts/kinds/index.js";
import { namedColumns } from "../verbs/charts/layer-kind.js";
import type { Graph } from "./graph.js";

interface Layer {
  readonly kind: string;
  readonly count: number;
  readonly source: { readonly from: "runs" | "table" };
  readonly options: { readonly [name: string]: string | string[] | undefined };
}

/** Options of a layer that tell rows of a table apart: of runs they name parameters. */
const tellers = ["color", "dash", "marker"];

/** The columns that a layer reads, where its options name them all. */
function layerColumns({ kind, source, options }: Layer): string[] | undefined {
  const named = namedColumns(layerKindOf(kind), options);
  if (named === undefined || source.from === "runs") return named;
  return [...named, ...tellers.flatMap((o) => (typeof options[o] === "string" ? [options[o]] : []))];
}

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
    if (n.op === "chart") {
      let at = 0;
      const { panels } = (n.args as { options: { panels?: string } }).options;
      for (const l of (n.args as { layers: Layer[] }).layers) {
        const names = panels === undefined ? layerColumns(l) : undefined;
        for (const i of n.inputs.slice(at, (at += l.count)))
          if (names) some(i, names);
          else whole(i);
      }
    } else if (n.op === "runs.across") {
      const a = n.args as { on?: string; columns?: string[] };
      for (const i of n.inputs)
        if (a.on !== undefined && a.columns) some(i, [a.on, ...a.columns]);
        else whole(i);
    } else n.inputs.forEach(whole);
  }
  const named = new Map<number, readonly string[]>();
  for (const [id, names] of out) if (names) named.set(id, [...names].sort());
  return named;
}
