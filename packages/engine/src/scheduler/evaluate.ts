import { FormatError } from "@oxtrum/core/formats";
import { Interrupted, mergeConditions, pick, type Table } from "@oxtrum/core/tables";
import { operations, readsOf } from "../verbs/registry.js";
import { faultOf, mergeExcluded, type Failure, type Outcome, type Value } from "../verbs/values.js";
import { resultKey, type CacheKey } from "../store/keys.js";
import type { ResultCache } from "../store/cache.js";
import { BudgetError } from "../read/budget.js";
import { InternalError, isOwnMistake } from "./internal-error.js";
import type { Batch, BatchResult, CellState, WorkNode } from "./protocol.js";
import { demandedColumns } from "./demanded-columns.js";
import type { FileReader, ReadPlan } from "../read/read-files.js";

/**
 * Turns what went wrong with data into data.
 *
 * @param what the operation, for a mistake of our own
 * @throws InternalError for what no data can be blamed for
 */
export function failureOf(e: unknown, what: string): Failure {
  if (e instanceof InternalError || e instanceof Interrupted) throw e;
  if (isOwnMistake(e)) throw InternalError.of(e, what);
  if (e instanceof RangeError && /array|buffer|allocation|string length/i.test(e.message))
    return { kind: "failure", reason: `more memory is needed than this machine gives (${e.message})` };
  if (e instanceof FormatError)
    return {
      kind: "failure",
      reason: e.message,
      file: e.file,
      ...e.place,
      ...(e.hint !== undefined && { hint: e.hint }),
    };
  if (e instanceof BudgetError) return { kind: "failure", reason: e.message };
  const error = e as Error & { issues?: { path: PropertyKey[]; message: string }[] };
  if (error.name === "ZodError" && error.issues?.[0])
    return { kind: "failure", reason: `options: ${error.issues[0].path.join(".")}: ${error.issues[0].message}` };
  return { kind: "failure", reason: error.message ?? String(e) };
}

/** Carries out one operation; a failed input fails it, with the same reason, unless it takes failures. */
export function execute(op: string, args: unknown, inputs: readonly Outcome[]): Outcome {
  const operation = operations.get(op);
  if (!operation) return { kind: "failure", reason: `there is no operation ${op}` };
  if (!operation.takesFailures) for (const i of inputs) if (i.kind === "failure") return i;
  try {
    return inherited(operation.run(operation.args.parse(args), inputs), inputs);
  } catch (e) {
    return failureOf(e, op);
  }
}

/**
 * What holds for what a value was made from holds for the value: runs that it lacks, conditions, and how it came about.
 */
function inherited(given: Value, inputs: readonly Outcome[]): Value {
  const value = withNotes(withLeft(given, inputs), inputs);
  const conditions = mergeConditions(
    value.conditions,
    ...inputs.map((i) => (i.kind === "failure" ? undefined : i.conditions)),
  );
  return conditions.length > 0 ? { ...value, conditions } : value;
}

/** A chart or picture tells how the tables in it were made. */
function withNotes(value: Value, inputs: readonly Outcome[]): Value {
  if (value.kind !== "chart" && value.kind !== "picture") return value;
  const notes = new Set(
    inputs.flatMap((i) => (i.kind === "table" ? i.table.notes : i.kind === "failure" ? [] : (i.notes ?? []))),
  );
  return notes.size === 0 ? value : { ...value, notes: [...notes] };
}

/** What a value was made from lacks some runs: so does the value. */
export function withLeft(value: Value, inputs: readonly Outcome[]): Value {
  if (value.left !== undefined) return value;
  const from = inputs.filter((i): i is Value => i.kind !== "failure" && i.left !== undefined);
  if (from.length === 0) return value;
  const runs = [...new Set(from.flatMap((i) => i.runs ?? []))];
  return { ...value, left: mergeExcluded(...from.map((i) => i.left)), ...(from.some((i) => i.runs) && { runs }) };
}

/** Works out a run's part of the graph: from the cache where it can, reading only what is then still needed. */
export function evaluateBatch(
  batch: Batch,
  reader: FileReader,
  cache: ResultCache | undefined,
  stopped: () => boolean,
): BatchResult {
  const work = new BatchEvaluation(batch, reader, stopped);
  // All keys come first: what is read once is read for all.
  const keys = batch.wanted.map(({ id }) => work.keyOf(id));
  const results = batch.wanted.map(({ id, columns }, k) => {
    const key = keys[k];
    const kept =
      cache && key !== undefined && !work.isKnown(id)
        ? (cache.get(cacheKey(key, columns)) as Outcome | undefined)
        : undefined;
    if (kept) work.take(id, kept, columns === undefined);
    const outcome = kept ?? projected(work.outcomeOf(id), columns);
    return {
      id,
      outcome,
      key: key === undefined ? undefined : cacheKey(key, columns),
      cached: kept !== undefined,
      bytes: sizeOf(outcome),
    };
  });
  return { id: batch.id, results, cells: work.cells(), files: reader.files, remember: reader.remember };
}

/** The nodes of a batch while they are computed: their keys, their outcomes, and how each came about. */
class BatchEvaluation {
  readonly #nodes: ReadonlyMap<number, WorkNode>;
  readonly #outcomes: Map<number, Outcome>;
  readonly #keys: Map<number, CacheKey | undefined>;
  readonly #plans = new Map<number, ReadPlan>();
  readonly #states = new Map<number, CellState>();
  readonly #shared = new Map<string, Table>();
  readonly #demanded: ReadonlyMap<number, readonly string[]>;

  constructor(
    private readonly batch: Batch,
    private readonly reader: FileReader,
    private readonly stopped: () => boolean,
  ) {
    this.#nodes = new Map(batch.nodes.map((n) => [n.id, n]));
    this.#outcomes = new Map(batch.given.map((g) => [g.id, g.outcome]));
    this.#keys = new Map(batch.given.map((g) => [g.id, g.key]));
    this.#demanded = demandedColumns(batch);
  }

  isKnown(id: number): boolean {
    return this.#outcomes.has(id);
  }

  /** By what a node's result is known; finds the files of those that read some. */
  keyOf(id: number): CacheKey | undefined {
    if (this.#keys.has(id)) return this.#keys.get(id);
    const key = this.#newKey(this.#nodes.get(id)!);
    this.#keys.set(id, key);
    return key;
  }

  #newKey(n: WorkNode): CacheKey | undefined {
    const version = operations.get(n.op)?.version ?? 0;
    if (readsOf(n.op)) {
      try {
        const plan = this.reader.plan(n.op, n.args);
        this.#plans.set(n.id, plan);
        return resultKey(n.op === "study.table" ? "run.table" : n.op, version, plan.keyArgs, []);
      } catch (e) {
        this.#outcomes.set(n.id, failureOf(e, n.op));
        return undefined;
      }
    }
    const inputs = n.inputs.map((i) => this.keyOf(i));
    return inputs.every((k) => k !== undefined) ? resultKey(n.op, version, n.args, inputs) : undefined;
  }

  /** Takes a result from the cache. Some columns of it answer one request only: what else needs it needs the whole. */
  take(id: number, kept: Outcome, whole: boolean): void {
    if (whole) this.#outcomes.set(id, kept);
    this.#markCached(this.#nodes.get(id)!);
  }

  #markCached(n: WorkNode): void {
    if (this.#states.has(n.id)) return;
    this.#states.set(n.id, "cache");
    for (const i of n.inputs) {
      const input = this.#nodes.get(i);
      if (input && !this.#outcomes.has(i)) this.#markCached(input);
    }
  }

  /** What a node gives. @throws Interrupted when the job is stopped */
  outcomeOf(id: number): Outcome {
    const known = this.#outcomes.get(id);
    if (known) return known;
    if (this.stopped()) throw new Interrupted();
    const n = this.#nodes.get(id)!;
    const plan = this.#plans.get(id);
    const outcome = plan ? this.#read(n, plan) : this.#execute(n);
    this.#outcomes.set(id, outcome);
    return outcome;
  }

  #execute(n: WorkNode): Outcome {
    const inputs = n.inputs.map((i) => this.outcomeOf(i));
    const outcome = execute(n.op, n.args, inputs);
    const isInherited = outcome.kind === "failure" && inputs.includes(outcome);
    this.#states.set(n.id, outcome.kind === "failure" ? (isInherited ? "left-out" : "failed") : "done");
    return outcome;
  }

  #read(n: WorkNode, plan: ReadPlan): Outcome {
    const key = this.#keys.get(n.id)!;
    try {
      const some = plan.some && this.#demandedOf(key);
      // Two nodes that read the same file in the same way share what was read.
      const table = this.#shared.get(key) ?? (some ? plan.some!(some) : plan.read());
      this.#shared.set(key, table);
      this.#states.set(n.id, "done");
      const { conditions, ...plain } = table;
      return { kind: "table", table: plain, ...(conditions && conditions.length > 0 && { conditions }) };
    } catch (e) {
      this.#states.set(n.id, "failed");
      return failureOf(e, n.op);
    }
  }

  /** The columns that all nodes together need which read the same; undefined for all. */
  #demandedOf(key: CacheKey): string[] | undefined {
    const same = [...this.#plans.keys()].filter((id) => this.#keys.get(id) === key).map((id) => this.#demanded.get(id));
    return same.includes(undefined) ? undefined : [...new Set(same.flatMap((names) => names!))];
  }

  /** What the grid shows of the batch. */
  cells(): BatchResult["cells"] {
    for (const { id } of this.batch.nodes)
      if (!this.#states.has(id) && this.#outcomes.get(id)?.kind === "failure") this.#states.set(id, "failed");
    return cellsOf(this.batch.nodes, this.#states, this.#outcomes);
  }
}

const cacheKey = (key: CacheKey, columns: readonly string[] | undefined): CacheKey =>
  columns === undefined ? key : resultKey("project", 1, columns, [key]);

/** Only the columns that anyone needs are sent on. Names that are not there are left for their user to report. */
function projected(outcome: Outcome, columns: readonly string[] | undefined): Outcome {
  if (columns === undefined || outcome.kind !== "table") return outcome;
  const there = columns.filter((c) => outcome.table.columns.some((h) => h.name === c));
  return there.length === columns.length ? { ...outcome, table: pick(outcome.table, there) } : outcome;
}

function sizeOf(outcome: Outcome): number {
  return outcome.kind === "table"
    ? outcome.table.columns.reduce((n, c) => n + (c.kind === "number" ? c.values.byteLength : 0), 0)
    : 0;
}

const rank: Readonly<Record<CellState, number>> = { failed: 3, "left-out": 2, done: 1, cache: 0 };

/** One cell a line of the script: its worst node decides. */
function cellsOf(
  nodes: readonly WorkNode[],
  states: ReadonlyMap<number, CellState>,
  outcomes: ReadonlyMap<number, Outcome>,
): BatchResult["cells"] {
  const cells = new Map<number, BatchResult["cells"][number]>();
  for (const n of nodes) {
    const state = states.get(n.id);
    if (state === undefined || n.op === "constant") continue;
    const have = cells.get(n.line);
    if (have && rank[have.state] >= rank[state]) continue;
    const o = outcomes.get(n.id);
    cells.set(n.line, {
      line: n.line,
      state,
      ...(state === "failed" &&
        o?.kind === "failure" && {
          failure: { reason: o.reason, op: n.op, ...faultOf(o) },
        }),
    });
  }
  return [...cells.values()].sort((a, b) => a.line - b.line);
}
