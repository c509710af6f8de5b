import { kindOf } from "@oxtrum/core/sampling";
import { compilePattern, FormatError } from "@oxtrum/core/formats";
import {
  column,
  makeTable,
  NoSuchColumn,
  numberColumn,
  numbers,
  sliceRows,
  textColumn,
  type Column,
  type Table,
} from "@oxtrum/core/tables";
import { operations, readsOf, readsRun } from "../verbs/registry.js";
import type { Failure, Outcome } from "../verbs/values.js";
import { fieldArgs, type FieldArgs } from "../verbs/field-arguments.js";
import { executeField } from "../verbs/field/index.js";
import { fieldUnits } from "../definition/declared-units.js";
import type { Catalogue, ColumnHead } from "../definition/catalogue-model.js";
import { emptyField } from "./empty-field.js";
import type { RunRef } from "../definition/run-ref.js";
import { fieldCalled } from "../study/field-catalogue.js";
import { lineOptionsSchema, resolveFile } from "../definition/definition.js";
import { failureOf, withLeft } from "./evaluate.js";
import type { Graph, GraphNode } from "./graph.js";

/** What an operation cannot do even on tables without rows; a mistake of our own is left for the run itself to tell. */
function foreseenFailure(e: unknown, op: string): Foreseen {
  try {
    return failureOf(e, op);
  } catch {
    return undefined;
  }
}

/** More ways for files to look than there are runs. */
const VARIANTS = 2 ** 22;

interface TableArgs {
  readonly study: string;
  readonly file: string;
  readonly options?: { readonly columns?: string[] } | Record<string, unknown> | undefined;
  readonly patterns?: string[];
}

/** What is known of a node before anything is read: a value with no rows, or why there will be none. */
export type Foreseen = Outcome | undefined;

/** A mistake in the script that shows before anything is read. */
export interface Foreseeable {
  readonly line: number;
  readonly reason: string;
  /** Runs that it touches; all runs when it is a mistake in the script. */
  readonly runs: readonly string[];
  readonly all: boolean;
  readonly file?: string;
}

/** What a script asks of a run. */
export interface Asked {
  readonly study: string;
  readonly run: string;
  readonly file: string;
  readonly line: number;
  readonly missing?: string;
}

/**
 * Works out, from the catalogue alone, which columns and units every node will have: so names and units are checked
 * for all runs before a file is opened. Runs whose files look alike are computed once.
 */
export class SchemaInference {
  readonly #memo = new Map<number, Foreseen>();
  /** By node, for its own run: whether it was looked at, and what came out. */
  readonly #judged: boolean[] = [];
  readonly #own: Foreseen[] = [];
  readonly #variants = new Map<string, number>();
  readonly #ownVariants: number[] = [];
  readonly #paths = new Map<number, readonly string[]>();

  constructor(
    private readonly graph: Graph,
    private readonly catalogues: ReadonlyMap<string, Catalogue>,
    /** What a run is called among all of the job. */
    private readonly nameOf: (run: RunRef) => string = ({ id }) => id,
  ) {}

  /** The foreseen value of a node; `run` stands in for the node's own run. */
  of(id: number, run?: number): Foreseen {
    const n = this.graph.nodes[id]!;
    const inRun = n.run === undefined ? undefined : (run ?? n.run);
    const own = inRun === n.run;
    if (own && this.#judged[id]) return this.#own[id];
    let value: Foreseen;
    if (inRun === undefined) value = this.#infer(n, inRun);
    else {
      // A shape says which study it belongs to.
      const key = n.shape * VARIANTS + this.#variant(n, inRun);
      value = this.#memo.get(key);
      if (value === undefined && !this.#memo.has(key)) {
        value = this.#infer(n, inRun);
        this.#memo.set(key, value);
      }
    }
    if (own) {
      this.#judged[id] = true;
      this.#own[id] = value;
    }
    return value;
  }

  /** A number for the way in which a run's files look to a node: equal for runs that look the same to it. */
  #variant(n: GraphNode, run: number): number {
    const own = run === n.run;
    const known = own ? this.#ownVariants[n.id] : undefined;
    if (known !== undefined) return known;
    const [only] = n.inputs;
    // What has one input looks as its input does.
    if (n.inputs.length === 1 && this.graph.nodes[only!]!.run !== undefined) {
      const k = this.#variant(this.graph.nodes[only!]!, run);
      if (own) this.#ownVariants[n.id] = k;
      return k;
    }
    let text: string;
    if (readsRun(n.op)) {
      const c = this.catalogues.get(n.study!)!;
      const { files } = c.runs[run]!;
      const { fields } = c.runs[run]!;
      text = this.#pathsOf(n, c)
        .map((p) => {
          const field = fieldCalled(fields, p);
          if (field)
            return `f${field.shape ?? field.error} ${field.times ? field.times.join(" ") : (field.steps ?? 1) > 1}`;
          const f = Object.hasOwn(files, p) ? files[p]! : undefined;
          return f === undefined ? "-" : (f.error ?? String(f.shape));
        })
        .join("|");
    } else
      text = n.inputs
        .map((i) => (this.graph.nodes[i]!.run === undefined ? `g${i}` : this.#variant(this.graph.nodes[i]!, run)))
        .join();
    let k = this.#variants.get(text);
    if (k === undefined) this.#variants.set(text, (k = this.#variants.size));
    if (own) this.#ownVariants[n.id] = k;
    return k;
  }

  #pathsOf(n: GraphNode, c: Catalogue): readonly string[] {
    let paths = this.#paths.get(n.shape);
    if (!paths) this.#paths.set(n.shape, (paths = resolveFile(c.definition, (n.args as { file: string }).file).paths));
    return paths;
  }

  #infer(n: GraphNode, run: number | undefined): Foreseen {
    if (readsOf(n.op)) return this.#read(n, run);
    const operation = operations.get(n.op);
    if (!operation) return { kind: "failure", reason: `there is no operation ${n.op}` };
    // A callback that needs values before the run gives no row yet: what its columns will be is not known.
    const rows = n.args as { columns?: unknown[]; missing?: unknown[] };
    if (n.op === "runs.rows" && rows.columns?.length === 0 && rows.missing?.length) return undefined;
    const inputs: Outcome[] = [];
    for (const i of n.inputs) {
      const v = this.of(i, run);
      if (v === undefined) return undefined;
      if (v.kind === "failure" && !operation.takesFailures) return v;
      inputs.push(v);
    }
    if (operation.takesFailures && inputs.length > 0 && inputs.every((i) => i.kind === "failure")) return inputs[0];
    try {
      const value = (operation.infer ?? operation.run).call(operation, operation.args.parse(n.args), inputs);
      return value && withLeft(value, inputs);
    } catch (e) {
      return foreseenFailure(e, n.op);
    }
  }

  /** A field operation, tried on a mesh without cells: shows names and units. */
  #readField(n: GraphNode, run: number): Foreseen {
    const args = fieldArgs.safeParse(n.args);
    if (!args.success) return foreseenFailure(args.error, n.op);
    const c = this.catalogues.get(args.data.study)!;
    const [name] = resolveFile(c.definition, args.data.file).paths;
    const entry = fieldCalled(c.runs[run]!.fields, name!);
    if (entry === undefined) return undefined;
    if (entry.shape === undefined)
      return { kind: "failure", reason: entry.error ?? "it cannot be read", file: args.data.file };
    try {
      const source = emptyField(
        c.fieldShapes[entry.shape]!,
        entry.times ?? Array.from({ length: entry.steps ?? 1 }, (_, k) => k),
        fieldUnits(c.definition, c.runs[run]!.id, entry.file ?? name!),
      );
      const ahead = this.#placesAhead(args.data.site);
      if (ahead === "unknown") return undefined;
      // A history has a column per place; of everything else two places show what a million will give.
      const site = n.op === "field.history" ? ahead : fewer(ahead);
      // Where the catalogue does not hold the times, they are known when the file is read.
      const { when } = args.data;
      const late = entry.times === undefined && {
        window: undefined,
        times: undefined,
        ...(when !== undefined && { when: "last" as const }),
      };
      const asked = { ...args.data, site, ...late };
      const table = executeField(n.op, asked, source);
      return { kind: "table", table: { ...sliceRows(table, 0, 0), notes: [] } };
    } catch (e) {
      return foreseenFailure(e, n.op);
    }
  }

  /** A site whose places stand in a table: somewhere, once the table and its columns are known to be there. */
  #placesAhead(site: FieldArgs["site"]): FieldArgs["site"] | "unknown" {
    if (site?.kind !== "points of a table") return site;
    const { columns, ...file } = site.table;
    const table = this.#readTable("study.table", file, undefined);
    if (table === undefined) return "unknown";
    if (table.kind === "failure") throw new FormatError(table.file ?? file.file, table.reason);
    if (table.kind !== "table") return "unknown";
    for (const name of [columns.x, columns.y, columns.z]) numbers(table.table, name);
    if (columns.name !== undefined) column(table.table, columns.name);
    const named = columns.name !== undefined || table.table.columns.some((c) => c.kind === "text");
    return { kind: "points", places: [[0, 0, 0]], ...(named && { names: ["place"] }) };
  }

  #read(n: GraphNode, run: number | undefined): Foreseen {
    if (readsOf(n.op)?.what === "field") return this.#readField(n, run!);
    return this.#readTable(n.op, n.args as TableArgs, run);
  }

  #readTable(op: string, args: TableArgs, run: number | undefined): Foreseen {
    const c = this.catalogues.get(args.study);
    if (!c) return { kind: "failure", reason: `there is no study "${args.study}"` };
    const { paths } = resolveFile(c.definition, args.file);
    const files = run === undefined ? c.beside : c.runs[run]!.files;
    const there = paths.flatMap((p) => (Object.hasOwn(files, p) ? [files[p]!] : []));
    // Of a run whose files could not all be listed, reading tells.
    if (there.length === 0 && run !== undefined && c.runs[run]!.partial) return undefined;
    if (there.length === 0)
      return {
        kind: "failure",
        reason: `there is no ${paths.join(" or ")}${run === undefined ? " beside the runs" : " in this run"}`,
        file: args.file,
      };
    if (op === "run.lines") {
      try {
        const options = lineOptionsSchema.parse(args.options ?? {});
        // How many columns `all` gives is known when the file is read.
        if (options.several === "all") return undefined;
        const columns = (args.patterns ?? [])
          .map(compilePattern)
          .flatMap((p) => p.fields)
          .map((f): Column => (f.kind === "text" ? textColumn(f.name, []) : numberColumn(f.name, f.unit, [])));
        for (const c of Object.keys(options.count ?? {})) columns.push(numberColumn(c, "1", []));
        const axis = columns[0]?.kind === "number" ? columns[0].name : undefined;
        return { kind: "table", table: makeTable(columns, { axis }) };
      } catch (e) {
        return foreseenFailure(e, op);
      }
    }
    const first = there[0]!;
    if (first.error !== undefined) return { kind: "failure", reason: first.error, file: args.file };
    if (first.shape === undefined) return undefined;
    const options = (args.options ?? {}) as Record<string, unknown>;
    if (Object.keys(options).some((k) => k !== "columns" && k !== "restart" && k !== "axis")) return undefined;
    const shape = c.shapes[first.shape]!;
    const axis = (options["axis"] as string | undefined) ?? shape.axis;
    let table: Table = makeTable(shape.columns.map(empty), { axis });
    const only = args.options?.["columns" as never] as string[] | undefined;
    if (only) {
      try {
        table = {
          ...table,
          columns: only.map((name) => {
            const found = table.columns.find((x) => x.name === name);
            if (!found)
              throw new NoSuchColumn(
                name,
                table.columns.map((x) => x.name),
              );
            return found;
          }),
        };
      } catch (e) {
        return foreseenFailure(e, op);
      }
    }
    return { kind: "table", table };
  }

  #named(study: string, run: number): string {
    return this.nameOf({ study, id: this.catalogues.get(study)!.runs[run]!.id });
  }

  /** The run that a node was made for: the one of its first input that has one. */
  #ownRun(n: GraphNode): string[] {
    let at: GraphNode | undefined = n;
    while (at?.run === undefined && at !== undefined && at.inputs.length > 0) at = this.graph.nodes[at.inputs[0]!];
    return at?.run === undefined ? [] : [this.#named(at.study!, at.run)];
  }

  /**
   * Goes through all nodes: what fails for every run is a mistake in the script, what fails for some is a gap.
   *
   * @param wanted nodes that are asked for; others are not judged
   */
  review(wanted: readonly number[]): { mistakes: Foreseeable[]; asked: Asked[] } {
    const groups = new Map<number, { node: GraphNode; failing: string[]; failure: Failure }>();
    /** Shapes that some run has no trouble with. */
    const good = new Set<number>();
    /** What brings runs together, by operation and line: the same for another run may be no trouble. */
    const goodTogether = new Set<string>();
    const together: { node: GraphNode; failure: Failure }[] = [];
    const asked: Asked[] = [];
    const mistakes: Foreseeable[] = [];
    for (const id of this.graph.needed(wanted)) {
      const n = this.graph.nodes[id]!;
      const v = this.of(id);
      if (readsRun(n.op))
        asked.push({
          study: n.study!,
          run: this.catalogues.get(n.study!)!.runs[n.run!]!.id,
          file: (n.args as { file: string }).file,
          line: n.line,
          ...(v?.kind === "failure" && { missing: v.reason }),
        });
      if (v?.kind !== "failure") {
        if (n.run !== undefined) good.add(n.shape);
        else goodTogether.add(`${n.op} ${n.line}`);
        continue;
      }
      if (n.inputs.some((i) => this.of(i)?.kind === "failure")) continue;
      if (n.run === undefined) {
        together.push({ node: n, failure: v });
        continue;
      }
      const g = groups.get(n.shape) ?? { node: n, failing: [], failure: v };
      groups.set(n.shape, g);
      g.failing.push(this.#named(n.study!, n.run));
    }
    for (const { node: n, failure } of together) {
      const file = failure.file === undefined ? {} : { file: failure.file };
      const all = !goodTogether.has(`${n.op} ${n.line}`);
      const runs = all ? [] : this.#ownRun(n);
      mistakes.push({ line: n.line, reason: failure.reason, runs, all, ...file });
    }
    for (const [key, g] of groups) {
      const c = this.catalogues.get(g.node.study!)!;
      // Runs that the script does not touch here may still show that the name is right.
      const somewhere =
        good.has(key) ||
        c.runs.some((_, k) => {
          const v = this.of(g.node.id, k);
          return v !== undefined && v.kind !== "failure";
        });
      mistakes.push({
        line: g.node.line,
        reason: g.failure.reason,
        runs: g.failing,
        all: !somewhere,
        ...(g.failure.file !== undefined && { file: g.failure.file }),
      });
    }
    return { mistakes, asked };
  }
}

const empty = (h: ColumnHead): Column =>
  h.kind === "text" ? textColumn(h.name, []) : numberColumn(h.name, h.unit, []);

/** A site with no more places than show which columns there will be. */
function fewer(site: FieldArgs["site"]): FieldArgs["site"] {
  if (site === undefined || site.kind === "points of a table") return site;
  return kindOf(site).fewest?.(site) ?? site;
}
