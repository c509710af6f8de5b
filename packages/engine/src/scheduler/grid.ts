import path from "node:path";
import type { Catalogue } from "../definition/catalogue-model.js";
import { readsRun } from "../verbs/registry.js";
import type { Graph, GraphNode } from "./graph.js";

export interface GridLine {
  readonly line: number;
  readonly label: string;
}

/** The grid of a job: runs × lines of the script, and which lines each run has. */
export interface Grid {
  readonly runs: readonly {
    readonly study: string;
    readonly id: string;
    /** Which of `sets` are this run's lines. */ readonly set: number;
  }[];
  readonly lines: readonly GridLine[];
  readonly sets: readonly (readonly number[])[];
}

/** The grid of what is wanted of a graph. A line is named by the file that it reads, or by its last verb. */
export function gridOf(graph: Graph, wanted: readonly number[], catalogues: ReadonlyMap<string, Catalogue>): Grid {
  const labels = new Map<number, string>();
  const runs = new Map<string, { study: string; id: string; lines: Set<number> }>();
  let row: { lines: Set<number> } | undefined;
  let last: GraphNode | undefined;
  for (const n of graph.cone(graph.border(wanted)).nodes) {
    if (n.run === undefined) continue;
    if (n.run !== last?.run || n.study !== last.study) {
      const key = `${n.study}/${n.run}`;
      const id = (): string => catalogues.get(n.study!)!.runs[n.run!]!.id;
      if (!runs.has(key)) runs.set(key, { study: n.study!, id: id(), lines: new Set() });
      row = runs.get(key)!;
      last = n;
    }
    const line = n.line % 1_000_000;
    row!.lines.add(line);
    if (labels.has(line) && !n.op.startsWith("run.")) continue;
    const read = readsRun(n.op);
    if (read) labels.set(line, path.posix.basename((n.args as { file: string }).file));
    else if (!labels.has(line)) labels.set(line, n.op.replace(/^\w+\./, ""));
  }
  const sets = new Map<string, number>();
  const rows = [...runs.values()].map(({ study, id, lines }) => {
    const text = [...lines].sort((a, b) => a - b).join();
    if (!sets.has(text)) sets.set(text, sets.size);
    return { study, id, set: sets.get(text)! };
  });
  return {
    runs: rows,
    lines: [...labels].sort((a, b) => a[0] - b[0]).map(([line, label]) => ({ line, label })),
    sets: [...sets.keys()].map((t) => t.split(",").map(Number)),
  };
}
