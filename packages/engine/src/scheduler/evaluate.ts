import { FormatError } from "@oxtrum/core/formats";
import { Interrupted, mergeConditions, pick, type Table } from "@oxtrum/core/tables";
import { operations, readVersions } from "../verbs/registry.js";
import { faultOf, joinLeft, type Failure, type Outcome, type Value } from "../verbs/values.js";
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
export function carryOut(op: string, args: unknown, inputs: readonly Outcome[]): Outcome {
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
  return { ...value, left: joinLeft(...from.map((i) => i.left)), ...(from.some((i) => i.runs) && { runs }) };
}

/** Works out a run's part of the graph: from the cache where it can, reading only what is then still needed. */
export function evaluateBatch(
  batch: Batch,
  reader: FileReader,
  cache: ResultCache | undefined,
  stopped: () => boolean,
): BatchResult {
  const nodes = new Map<number, WorkNode>(batch.nodes.map((n) => [n.id, n]));
  const outcomes = new Map<number, Outcome>(batch.given.map((g) => [g.id, g.outcome]));
  const keys = new Map<number, CacheKey | undefined>(batch.given.map((g) => [g.id, g.key]));
  const plans = new Map<number, ReadPlan>();
  const states = new Map<number, CellState>();
  const shared = new Map<string, Table>();
  const demanded = demandedColumns(batch);

  const keyOf = (n: WorkNode): CacheKey | undefined => {
    if (keys.has(n.id)) return keys.get(n.id);
    let key: CacheKey | undefined;
    if (Object.hasOwn(readVersions, n.op)) {
      try {
        const plan = reader.plan(n.op, n.args);
        plans.set(n.id, plan);
        key = resultKey(n.op === "study.table" ? "run.table" : n.op, readVersions[n.op]!, plan.keyArgs, []);
      } catch (e) {
        outcomes.set(n.id, failureOf(e, n.op));
      }
    } else {
      const inputs = n.inputs.map((i) => (nodes.has(i) ? keyOf(nodes.get(i)!) : keys.get(i)));
      const version = operations.get(n.op)?.version ?? 0;
      if (inputs.every((k) => k !== undefined)) key = resultKey(n.op, version, n.args, inputs as CacheKey[]);
    }
    keys.set(n.id, key);
    return key;
  };

  /** The columns that all nodes together need which read the same; undefined for all. */
  const demandedOf = (key: CacheKey): string[] | undefined => {
    const same = [...plans.keys()].filter((id) => keys.get(id) === key).map((id) => demanded.get(id));
    return same.includes(undefined) ? undefined : [...new Set(same.flatMap((names) => names!))];
  };

  const work = (id: number): Outcome => {
    const known = outcomes.get(id);
    if (known) return known;
    if (stopped()) throw new Interrupted();
    const n = nodes.get(id)!;
    let outcome: Outcome;
    const plan = plans.get(id);
    if (plan) {
      const key = keys.get(id)!;
      try {
        // Two nodes that read the same file in the same way share what was read.
        const some = plan.some && demandedOf(key);
        const table = shared.get(key) ?? (some ? plan.some!(some) : plan.read());
        shared.set(key, table);
        const { conditions, ...plain } = table;
        outcome = { kind: "table", table: plain, ...(conditions && conditions.length > 0 && { conditions }) };
      } catch (e) {
        outcome = failureOf(e, n.op);
      }
      states.set(id, outcome.kind === "failure" ? "failed" : "done");
    } else {
      const inputs = n.inputs.map(work);
      outcome = carryOut(n.op, n.args, inputs);
      const inherited = outcome.kind === "failure" && inputs.includes(outcome);
      states.set(id, outcome.kind === "failure" ? (inherited ? "left-out" : "failed") : "done");
    }
    outcomes.set(id, outcome);
    return outcome;
  };

  // All keys come first: what is read once is read for all.
  const wantedKeys = batch.wanted.map(({ id }) => keyOf(nodes.get(id)!));
  const results = batch.wanted.map(({ id, columns }, k) => {
    const key = wantedKeys[k];
    const cached =
      cache && key !== undefined && !outcomes.has(id)
        ? (cache.get(cacheKey(key, columns)) as Outcome | undefined)
        : undefined;
    if (cached) {
      // Some columns of it answer this request and no other: what else needs the node needs the whole of it.
      if (columns === undefined) outcomes.set(id, cached);
      markCached(nodes.get(id)!, nodes, states, outcomes);
    }
    const outcome = cached ?? projected(work(id), columns);
    return {
      id,
      outcome,
      key: key === undefined ? undefined : cacheKey(key, columns),
      cached: cached !== undefined,
      bytes: sizeOf(outcome),
    };
  });
  for (const n of batch.nodes)
    if (!states.has(n.id) && outcomes.get(n.id)?.kind === "failure") states.set(n.id, "failed");
  return {
    id: batch.id,
    results,
    cells: cellsOf(batch.nodes, states, outcomes),
    files: reader.files,
    remember: reader.remember,
  };
}

const cacheKey = (key: CacheKey, columns: readonly string[] | undefined): CacheKey =>
  columns === undefined ? key : resultKey("project", 1, columns, [key]);

/** Only the columns that anyone needs are sent on. Names that are not there are left for their user to report. */
function projected(outcome: Outcome, columns: readonly string[] | undefined): Outcome {
  if (columns === undefined || outcome.kind !== "table") return outcome;
  const there = columns.filter((c) => outcome.table.columns.some((h) => h.name === c));
  return there.length === columns.length ? { ...outcome, table: pick(outcome.table, there) } : outcome;
}

function markCached(
  n: WorkNode,
  nodes: ReadonlyMap<number, WorkNode>,
  states: Map<number, CellState>,
  outcomes: ReadonlyMap<number, Outcome>,
): void {
  if (states.has(n.id)) return;
  states.set(n.id, "cache");
  for (const i of n.inputs) {
    const input = nodes.get(i);
    if (input && !outcomes.has(i)) markCached(input, nodes, states, outcomes);
  }
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
