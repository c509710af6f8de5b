import { formulaArgument } from "../verbs/arguments.js";
import { readsRun } from "../verbs/registry.js";
import type { WorkNode } from "./protocol.js";

/** A node with the run it belongs to, if it belongs to one. */
export interface GraphNode extends WorkNode {
  /** `study` and number of the run whose files it needs; undefined for nodes across runs and constants. */
  readonly study: string | undefined;
  readonly run: number | undefined;
  /** What the node is but for its run: nodes of different runs with the same shape differ in the run alone. */
  readonly shape: number;
  readonly constant: boolean;
  /** Whether anything it needs brings runs together. */
  readonly overAcross: boolean;
}

/** More forms than any script has. */
const FORMS = 2 ** 24;

/** The graph that a script has made so far. Nodes come in order: inputs before those who use them. */
export class Graph {
  readonly nodes: GraphNode[] = [];
  readonly #forms: { op: string; args: unknown; across: boolean; reads: boolean }[] = [];
  readonly #shapes = new Map<string | number, number>();
  /** Which visit saw a node last: spares a set for every one of thousands of walks. */
  #seen = new Uint32Array(0);
  #visit = 0;

  /**
   * The files that a node needs, by the names that the script gives them: `study: file`. What runs have in common is
   * walked once.
   */
  filesOf(id: number): string[] {
    const found = new Set<string>();
    const seen = new Set<number>();
    const stack = [id];
    while (stack.length > 0) {
      const n = this.nodes[stack.pop()!]!;
      if (seen.has(n.shape)) continue;
      seen.add(n.shape);
      const { study, file } = n.args as { study?: unknown; file?: unknown };
      if (typeof file === "string" && typeof study === "string") found.add(`${study}: ${file}`);
      stack.push(...n.inputs);
    }
    return [...found].sort().slice(0, 100);
  }

  /** An operation with its arguments; formulas are parsed here, once. */
  addForm(op: string, given: unknown): void {
    const { formula, derived } = (given ?? {}) as { formula?: unknown; derived?: readonly { formula: string }[] };
    const args =
      typeof formula === "string"
        ? { ...(given as object), formula: formulaArgument(formula) }
        : derived
          ? { ...(given as object), derived: derived.map((d) => ({ ...d, formula: formulaArgument(d.formula) })) }
          : given;
    this.#forms.push({
      op,
      args,
      across: op.startsWith("runs.") || op === "chart" || op === "picture" || op === "check",
      reads: readsRun(op),
    });
  }

  /** A node of a form told before; nodes come with their inputs before them. */
  add(number: number, inputs: readonly number[], line: number, ownRun: number): void {
    const form = this.#forms[number]!;
    let study: string | undefined;
    let run: number | undefined;
    let mixed = false;
    let overAcross = false;
    let allConstant = inputs.length > 0;
    // Most nodes have one input at most: two numbers in one are found faster than a text.
    const short = inputs.length < 2;
    let text: string | number = short ? number : String(number);
    for (const i of inputs) {
      const n = this.nodes[i]!;
      if (short) text = number + (n.shape + 1) * FORMS;
      else text += "," + n.shape;
      if (!n.constant) allConstant = false;
      if (n.overAcross || (n.run === undefined && !n.constant)) overAcross = true;
      if (n.run === undefined || form.across) continue;
      if (run !== undefined && (n.run !== run || n.study !== study)) mixed = true;
      run = n.run;
      study = n.study;
    }
    if (mixed) run = study = undefined;
    let args = form.args;
    if (form.reads) {
      run = ownRun;
      study = (args as { study: string }).study;
      args = { ...(args as object), run };
    }
    let shape = this.#shapes.get(text);
    if (shape === undefined) this.#shapes.set(text, (shape = this.#shapes.size));
    const constant = form.op === "constant" || (allConstant && !form.across);
    this.nodes.push({
      id: this.nodes.length,
      op: form.op,
      args,
      inputs,
      line,
      shape,
      constant,
      overAcross,
      run,
      study,
    });
  }

  /** The run nodes on the border: asked for themselves, or needed by nodes across runs; in the order of asking. */
  border(wanted: readonly number[]): number[] {
    const seen = new Uint8Array(this.nodes.length);
    const out: number[] = [];
    const stack = [...wanted].reverse();
    while (stack.length > 0) {
      const id = stack.pop()!;
      if (seen[id] === 1) continue;
      seen[id] = 1;
      const n = this.nodes[id]!;
      if (n.run !== undefined) out.push(id);
      else for (let k = n.inputs.length - 1; k >= 0; k--) stack.push(n.inputs[k]!);
    }
    return out;
  }

  /** All nodes that these need, themselves included, in order. */
  needed(ids: readonly number[]): Uint32Array {
    const seen = new Uint8Array(this.nodes.length);
    const stack = [...ids];
    let count = 0;
    while (stack.length > 0) {
      const id = stack.pop()!;
      if (seen[id] === 1) continue;
      seen[id] = 1;
      count++;
      for (const i of this.nodes[id]!.inputs) if (seen[i] === 0) stack.push(i);
    }
    const out = new Uint32Array(count);
    for (let id = 0, k = 0; k < count; id++) if (seen[id] === 1) out[k++] = id;
    return out;
  }

  /** A run's nodes that a node needs, itself included, inputs first; and the nodes across runs that they need. */
  cone(ids: readonly number[]): { nodes: GraphNode[]; across: number[] } {
    if (this.#seen.length < this.nodes.length) this.#seen = new Uint32Array(2 * this.nodes.length);
    const seen = this.#seen;
    const visit = ++this.#visit;
    const stack = [...ids];
    const mine: number[] = [];
    const across: number[] = [];
    while (stack.length > 0) {
      const id = stack.pop()!;
      if (seen[id] === visit) continue;
      seen[id] = visit;
      const n = this.nodes[id]!;
      if (n.run === undefined && !n.constant) {
        across.push(id);
        continue;
      }
      mine.push(id);
      for (const i of n.inputs) stack.push(i);
    }
    const nodes = Array.from(Uint32Array.from(mine).sort(), (i) => this.nodes[i]!);
    return { nodes, across: across.sort((a, b) => a - b) };
  }
}
