import { siteArg } from "../verbs/field-arguments.js";
import { readsOf } from "../verbs/registry.js";
import type { Graph } from "./graph.js";

/** A site that a script samples at, by the name under which it stands in the line that does. */
export interface AskedSite {
  readonly study: string;
  readonly file: string;
  readonly line: number;
  readonly name: string;
  readonly site: object;
}

const call = /\.(?:sample|reduce|history|overTime)\(\s*([\p{L}_$][\p{L}\p{N}_$]*)\s*[,)]/u;
const MOST = 200;

/**
 * The sites of a script, each once by study and field, in the order of the lines.
 *
 * @param textOf the text of a line of the script, for the name by which it calls its site
 */
export function askedSites(graph: Graph, wanted: readonly number[], textOf: (line: number) => string): AskedSite[] {
  const out = new Map<string, AskedSite>();
  for (const id of graph.needed(wanted)) {
    const n = graph.nodes[id]!;
    if (readsOf(n.op)?.what !== "field") continue;
    const { study, file, site: asked } = n.args as { study: string; file: string; site?: object };
    const site = asked && siteArg.safeParse(asked).data;
    if (site === undefined) continue;
    const key = JSON.stringify([study, file, site]);
    if (out.has(key)) continue;
    const [, name] = call.exec(textOf(n.line)) ?? [];
    out.set(key, { study, file, site, line: n.line % 1_000_000, name: name ?? `line ${n.line % 1_000_000}` });
    if (out.size >= MOST) break;
  }
  return [...out.values()].sort((a, b) => a.line - b.line);
}
