import path from "node:path";
import type { Catalogue } from "../study/catalogue.js";
import type { Graph } from "./graph.js";

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
  for (const n of graph.cone(graph.border(wanted)).nodes) {
    if (n.run === undefined) continue;
    const key = `${n.study}/${n.run}`;
    let row = runs.get(key);
    if (!row)
      runs.set(key, (row = { study: n.study!, id: catalogues.get(n.study!)!.runs[n.run]!.id, lines: new Set() }));
    const line = n.line % 1_000_000;
    row.lines.add(line);
    const read = n.op === "run.table" || n.op === "run.lines";
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
