import { digestOfBlocks } from "../store/partial-identity.js";
import type { Graph, GraphNode } from "./graph.js";
import { readsRun } from "../verbs/registry.js";
import type { Outcome } from "../verbs/values.js";
import type { ResultCache } from "../store/cache.js";
import { valueKey, type CacheKey } from "../store/keys.js";
import type { IdentityMemo, Remembered } from "../store/identity.js";
import { execute } from "./evaluate.js";
import type { Budget } from "../read/budget.js";
import { InternalError } from "./internal-error.js";
import type { BatchRunner } from "./pool.js";
import type { Batch, BatchResult, WorkNode } from "./protocol.js";
import type { InputFile } from "../read/work-study.js";

interface Listener {
  onBatch(study: string, run: number, result: BatchResult): void;
  onStart(study: string, run: number, lines: readonly number[]): void;
}

interface Done {
  readonly outcome: Outcome;
  /** By what its value is known; undefined where it cannot be: then nothing made of it is kept. */
  readonly key: CacheKey | undefined;
}

/**
 * Works nodes of the graph off: those of a run together in one worker, those across runs here, in the order in which
 * their inputs come in.
 */
export class Session {
  readonly files = new Map<string, InputFile>();
  readonly #results = new Map<number, Promise<Done>>();
  /** What was begun run by run: the results of all that is asked of a run come together. */
  readonly #prepared = new Map<number, Promise<Map<number, Done>>>();
  /** Results by shape and run: what was fetched ahead is found here by the node that asks for the same. */
  readonly #byShape = new Map<string, Promise<Done>>();
  /** By study and run: at which lengths its files were first read. */
  readonly #pins = new Map<string, Record<string, number>>();
  /** Digests of files that this job has computed, by study and run. */
  readonly #learnt = new Map<string, Remembered[]>();
  readonly #mappings: { study: string; runs: readonly number[] }[] = [];
  #batch = 0;

  constructor(
    private readonly graph: Graph,
    private readonly pool: BatchRunner,
    private readonly cache: ResultCache | undefined,
    private readonly memo: IdentityMemo,
    private readonly budget: Budget,
    /** The folder of a run (or of the study, for run -1). */
    private readonly folderOf: (study: string, run: number) => string,
    /** The name of a run; "" for what lies beside the runs. */
    private readonly nameOf: (study: string, run: number) => string,
    private readonly listener: Listener,
  ) {}

  /** The runs that a callback goes through, for fetching ahead. */
  mapping(study: string, runs: readonly number[]): void {
    this.#mappings.push({ study, runs });
  }

  /** The outcome of a node; computes what it needs. */
  async outcome(id: number): Promise<Outcome> {
    return (await this.#of(id)).outcome;
  }

  /** For a blocking read: the node's own run first, then the same for the runs that follow in its callback. */
  async needed(id: number): Promise<Outcome> {
    const n = this.graph.nodes[id]!;
    // What brings runs together is computed of all of them at once.
    if (n.run === undefined) this.prepare([id], new Map());
    const mine = this.#of(id, true);
    const mapping = this.#mappings[this.#mappings.length - 1];
    if (n.run !== undefined && mapping?.study === n.study && mapping!.runs.includes(n.run)) {
      const later = mapping!.runs.slice(mapping!.runs.indexOf(n.run) + 1);
      for (const run of later) this.#ahead(n, run);
    }
    return (await mine).outcome;
  }

  #ahead(n: GraphNode, run: number): void {
    const key = shapeKey(n, run);
    if (this.#byShape.has(key)) return;
    const cone = this.graph.cone([n.id]);
    if (cone.across.length > 0) return;
    const nodes = cone.nodes.map((m): WorkNode => ({
      ...m,
      args: readsRun(m.op) ? { ...(m.args as object), run } : m.args,
    }));
    const ahead = this.#send(n.study!, run, () => nodes, [{ id: n.id }], [], false).then((r) => r.get(n.id)!);
    ahead.catch(() => undefined);
    this.#byShape.set(key, ahead);
  }

  /** Starts on all of these at once: the runs' parts go to the workers run by run. */
  prepare(wanted: readonly number[], columns: ReadonlyMap<number, readonly string[]>): void {
    const groups = new Map<string, { study: string; run: number; ids: number[] }>();
    let group: { study: string; run: number; ids: number[] } | undefined;
    for (const id of this.graph.border(wanted)) {
      const n = this.graph.nodes[id]!;
      if (this.#results.has(id) || this.#prepared.has(id)) continue;
      const ahead = this.#byShape.size > 0 ? this.#byShape.get(shapeKey(n, n.run!)) : undefined;
      if (ahead) {
        this.#results.set(id, ahead);
        continue;
      }
      if (n.overAcross) continue;
      if (group?.run !== n.run || group?.study !== n.study) {
        const key = `${n.study}/${n.run}`;
        group = groups.get(key) ?? { study: n.study!, run: n.run!, ids: [] };
        groups.set(key, group);
      }
      group!.ids.push(id);
    }
    for (const g of groups.values()) {
      const want = g.ids.map((id) => ({ id, ...(columns.has(id) && { columns: columns.get(id)! }) }));
      const done = this.#send(g.study, g.run, () => this.graph.cone(g.ids).nodes, want, [], false);
      // Whoever asks for it hears of what went wrong; until then nobody has to.
      done.catch(() => undefined);
      for (const id of g.ids) this.#prepared.set(id, done);
    }
  }

  #of(id: number, urgent = false): Promise<Done> {
    let p = this.#results.get(id);
    const prepared = p ? undefined : this.#prepared.get(id);
    if (prepared) {
      p = prepared.then((r) => r.get(id)!);
      p.catch(() => undefined);
      this.#results.set(id, p);
    }
    if (!p) {
      const n = this.graph.nodes[id]!;
      p =
        (n.run !== undefined ? this.#byShape.get(shapeKey(n, n.run)) : undefined) ??
        (n.run !== undefined || n.op === "study.table" ? this.#runNode(n, urgent) : this.#acrossNode(n));
      p.catch(() => undefined);
      this.#results.set(id, p);
    }
    return p;
  }

  async #runNode(n: GraphNode, urgent: boolean): Promise<Done> {
    const cone = n.op === "study.table" ? { nodes: [n], across: [] } : this.graph.cone([n.id]);
    const given = await Promise.all(
      cone.across.map(async (id) => {
        const { outcome, key } = await this.#of(id);
        // What brings runs together is known by its value: all that it was made from is in it.
        return { id, outcome, key: key ?? valueKey(outcome) };
      }),
    );
    const study = n.study ?? (n.args as { study: string }).study;
    return (await this.#send(study, n.run ?? -1, () => cone.nodes, [{ id: n.id }], given, urgent)).get(n.id)!;
  }

  async #acrossNode(n: GraphNode): Promise<Done> {
    const inputs: Outcome[] = [];
    for (const i of n.inputs) inputs.push((await this.#of(i)).outcome);
    return { outcome: execute(n.op, n.args, inputs), key: undefined };
  }

  async #send(
    study: string,
    run: number,
    nodes: () => readonly WorkNode[],
    wanted: readonly { id: number; columns?: readonly string[] }[],
    given: readonly ({ id: number } & Done)[],
    urgent: boolean,
  ): Promise<Map<number, Done>> {
    let plain: WorkNode[] = [];
    const batch = (): Batch => {
      plain = nodes().map(({ id, op, args, inputs, line }) => ({ id, op, args, inputs, line }));
      return {
        id: this.#batch++,
        study,
        run,
        nodes: plain,
        wanted,
        given,
        known: [...this.memo.below(this.folderOf(study, run)), ...(this.#learnt.get(`${study}/${run}`) ?? [])],
        pins: this.#pins.get(`${study}/${run}`) ?? {},
      };
    };
    const out = new Map<number, Done>();
    let result: BatchResult;
    try {
      result = await this.pool.run(batch, urgent, () =>
        this.listener.onStart(study, run, [...new Set(plain.filter((n) => n.op !== "constant").map((n) => n.line))]),
      );
    } catch (e) {
      if (e instanceof InternalError) throw e;
      const { message: reason } = e as Error;
      for (const w of wanted) out.set(w.id, { outcome: { kind: "failure", reason }, key: undefined });
      const failed = plain.slice(0, 1).map((n): BatchResult["cells"][number] => {
        return { line: n.line, state: "failed", failure: { reason, op: n.op } };
      });
      this.listener.onBatch(study, run, { id: -1, results: [], cells: failed, files: [], remember: [] });
      return out;
    }
    this.#learn(`${study}/${run}`, result);
    for (const r of result.results) {
      let outcome = r.outcome;
      try {
        this.budget.take(r.bytes);
      } catch (e) {
        outcome = { kind: "failure", reason: (e as Error).message };
      }
      if (this.cache && r.key !== undefined && !r.cached && outcome.kind !== "failure") this.cache.put(r.key, outcome);
      outcome = labelled(outcome, study, this.nameOf(study, run));
      out.set(r.id, { outcome, key: r.key });
    }
    this.listener.onBatch(study, run, result);
    return out;
  }

  /** Takes up what a batch has found out of the files that it read. */
  #learn(key: string, { files, remember }: BatchResult): void {
    for (const f of files) {
      const key = `${f.study}/${f.path}`;
      this.files.set(key, united(this.files.get(key), f));
      this.#pins.set(key, { [f.path]: f.size, ...this.#pins.get(key) });
    }
    this.memo.add(remember);
    if (remember.length > 0) this.#learnt.set(key, [...(this.#learnt.get(key) ?? []), ...remember]);
  }
}

/** Says of conditions that a run's files gave whose they are. */
function labelled(outcome: Outcome, study: string, run: string): Outcome {
  if (outcome.kind === "failure" || !outcome.conditions) return outcome;
  return { ...outcome, conditions: outcome.conditions.map((c) => (c.study === undefined ? { ...c, study, run } : c)) };
}

const shapeKey = (n: GraphNode, run: number): string => `${n.shape}/${n.study}/${run}`;

/** One file, read by several: all of it when anyone read all, else the blocks that any of them read. */
function united(a: InputFile | undefined, b: InputFile): InputFile {
  if (!a?.blocks || a.size !== b.size) return a && !a.blocks ? a : b;
  if (!b.blocks) return b;
  const all = new Map([...a.blocks, ...b.blocks]);
  const blocks = [...all].sort(([x], [y]) => x - y);
  return { ...b, blocks, sha256: digestOfBlocks(b.size, blocks) };
}
