import { availableParallelism } from "node:os";
import fs from "node:fs";
import path from "node:path";
import {
  bufferSource,
  compilePattern,
  FormatError,
  openFile,
  readLargeTextTable,
  readLines,
  readTextTable,
  type ByteSource,
  type TextTable,
  type TextTableOptions,
} from "@oxtrum/core/formats";
import { kindOf } from "@oxtrum/core/sampling";
import { concat, mergeConditions, pick, type Condition, type Table, type UnitSymbol } from "@oxtrum/core/tables";
import {
  declaredTimes,
  lineOptionsSchema,
  resolveFile,
  readerChoicesSchema,
  type ReaderChoices,
} from "../definition/definition.js";
import type { RunState } from "../definition/states.js";
import { fieldUnits, hasDeclaredUnit, unitsFor } from "../definition/declared-units.js";
import { fieldArgs, type FieldArgs } from "../verbs/field-arguments.js";
import type { PlacesTable } from "../verbs/sites/site-word.js";
import { executeField, wantedSteps } from "../verbs/field/index.js";
import { readsOf } from "../verbs/registry.js";
import { placesOfTable } from "../verbs/places-of-table.js";
import { inside } from "../definition/folders.js";
import { identify, sameStamp, stampOf, type Identified, type Remembered } from "../store/identity.js";
import { digestOfBlocks, ReadNotes } from "../store/partial-identity.js";
import { fieldLayout, fileOf, type FieldLayout } from "./field-layout.js";
import { HeldSteps } from "./held-steps.js";
import { fieldSource, type Held } from "./read-fields.js";
import { joinedTables, namesBehind, settledTable, type FileTable } from "./read-tables.js";
import { stateByFiles, textAtEnd, type RunFiles } from "./run-state.js";
import type { Budget } from "./budget.js";
import type { InputFile, WorkStudy } from "./work-study.js";

/** One file of a run, found and identified. */
interface Part {
  readonly full: string;
  readonly shown: string;
  readonly found: Identified;
}

/** What a read node stands for: its files, and what enters its key. */
export interface ReadPlan {
  readonly parts: readonly Part[];
  readonly keyArgs: unknown;
  read(): Table;
  /**
   * What `pick` of these columns would leave of it, or more, without parsing the others: the same numbers, notes and
   * conditions. All of it where one of them is not there.
   */
  some?(columns: readonly string[]): Table;
}

interface ReadArgs {
  readonly study: string;
  readonly run?: number;
  readonly file: string;
  readonly options?: Record<string, unknown>;
  readonly patterns?: readonly string[];
}

/** Files of less than this are read whole to be known: that is soon done. */
const LARGE = 4 * 1024 * 1024;
const FEW = 2000;

/** Whether a field is asked for at few places of its own, whatever its mesh. */
function fewPlaces(op: string, a: FieldArgs): boolean {
  const { site } = a;
  if ((op !== "field.sample" && op !== "field.history" && op !== "field.reduce") || a.derivatives || a.sampling?.method)
    return false;
  if (site === undefined || site.kind === "points of a table") return false;
  const count = kindOf(site).count?.(site);
  return count !== undefined && count <= FEW;
}

/**
 * A table with the conditions of the files that it was read from. They do not say whose they are: the same files give
 * the same value from the cache, in whichever run they lie.
 */
function withConditions(table: Table, parts: readonly Pick<Table, "conditions">[]): Table {
  const { conditions: _, ...plain } = table;
  const conditions = mergeConditions(...parts.map((p) => p.conditions));
  return conditions.length === 0 ? plain : { ...plain, conditions };
}

/** Reads files for the nodes of one batch; a file that several nodes need is identified once. */
export class FileReader {
  readonly files: InputFile[] = [];
  readonly remember: Remembered[] = [];
  readonly #seen = new Map<string, Part>();
  readonly #open = new Map<string, Condition | undefined>();
  /** By a step's own files: all that they name. */
  readonly #named = new Map<string, readonly string[]>();
  readonly #held: Held = new HeldSteps();

  constructor(
    private readonly studies: ReadonlyMap<string, WorkStudy>,
    private readonly memo: Map<string, Remembered>,
    private readonly budget: Budget,
    private readonly pins: Readonly<Record<string, number>> = {},
  ) {}

  /** Finds and identifies the files of a read node. @throws FormatError when one is not there */
  plan(op: string, given: unknown): ReadPlan {
    const { study, run } = given as ReadArgs;
    const plan = this.#plan(op, given);
    const open = run === undefined ? undefined : this.#unfinished(study, run);
    if (open === undefined) return plan;
    // What is read of a run that is still being computed may change: whoever uses it is told.
    const told = (table: Table): Table => withConditions(table, [table, { conditions: [open] }]);
    const { some } = plan;
    return {
      ...plan,
      keyArgs: { ...(plan.keyArgs as object), unfinished: open.text },
      read: () => told(plan.read()),
      ...(some && { some: (list: readonly string[]) => told(some(list)) }),
    };
  }

  /** The state that a run's files say by the rules of its study. */
  stateOf(study: string, run: number): RunState | undefined {
    const rules = this.studies.get(study)!.definition.states;
    return rules && stateByFiles(rules, this.#filesOf(study, run));
  }

  /** That a run is not finished, where the study's definition says when it is. */
  #unfinished(study: string, run: number): Condition | undefined {
    const rules = this.studies.get(study)!.definition.states;
    if (!rules?.finished) return undefined;
    const key = `${study}\0${run}`;
    if (!this.#open.has(key)) {
      const state = this.stateOf(study, run);
      const ended = state?.state === "finished" || state?.state === "failed";
      this.#open.set(
        key,
        ended
          ? undefined
          : { kind: "not finished", file: "", text: state ? `not finished: ${state.because}` : "not finished" },
      );
    }
    return this.#open.get(key);
  }

  /** A run's files as rules for states read them. */
  #filesOf(study: string, run: number): RunFiles {
    return {
      table: (r) => {
        const args =
          r.lines === undefined
            ? { study, run, file: r.table!, options: {} }
            : { study, run, file: r.lines, patterns: r.read ?? [] };
        return this.#plan(r.lines === undefined ? "run.table" : "run.lines", args).read();
      },
      end: (file) => {
        const s = this.studies.get(study)!;
        // Of several parts the last one that is there.
        for (const name of [...resolveFile(s.definition, file).paths].reverse()) {
          const full = inside(s.folder, path.posix.join(s.runs[run]!.folder, name), s.definition.links);
          const text = textAtEnd(full, name);
          if (text !== undefined) return text;
        }
        return undefined;
      },
    };
  }

  #plan(op: string, given: unknown): ReadPlan {
    const args = given as ReadArgs;
    const study = this.studies.get(args.study)!;
    const run = args.run === undefined ? undefined : study.runs[args.run]!;
    if (readsOf(op)?.what === "field") return this.#planField(op, fieldArgs.parse(given), study, run!);
    const { paths, read } = resolveFile(study.definition, args.file);
    const { columns, ...choices } = (args.options ?? {}) as { columns?: string[] };
    const options: ReaderChoices = { ...read, ...readerChoicesSchema.parse(choices) };
    const parts = paths.flatMap((p) => this.#locate(study, run?.folder ?? "", p));
    if (parts.length === 0)
      throw new FormatError(args.file, `there is no ${paths.join(" or ")}${run ? " in this run" : ""}`);
    const units = parts.map((p) => unitsFor(study.definition, run?.id ?? "", p.shown));
    const identities = parts.map((p) => p.found.identity);
    if (op === "run.lines") {
      const patterns = (args.patterns ?? []).map(compilePattern);
      const how = lineOptionsSchema.parse(args.options ?? {});
      return {
        parts,
        keyArgs: { patterns: args.patterns, how, identities },
        read: () => {
          const tables = parts.map((p) => this.#with(p, (source) => readLines(source, patterns, how)));
          return withConditions(concat(tables), tables);
        },
      };
    }
    return this.#planTable(parts, options, columns, units, study.definition.names);
  }

  /** How a table is read: whole, with the columns that the script asks for, or with those that anybody needs. */
  #planTable(
    parts: readonly Part[],
    options: ReaderChoices,
    columns: readonly string[] | undefined,
    units: readonly Readonly<Record<string, string>>[],
    names: Readonly<Record<string, readonly string[]>>,
  ): ReadPlan {
    const identities = parts.map((p) => p.found.identity);
    const keyArgs = { options, columns, units, names, identities };
    const whole = (wanted?: (name: string) => boolean): Table => this.#readTable(parts, options, wanted, units, names);
    const there = (t: Table, list: readonly string[]): boolean =>
      list.every((n) => t.columns.some((c) => c.name === n));
    if (columns !== undefined)
      return {
        parts,
        keyArgs,
        read: () => {
          const some = whole(namesBehind(columns, names));
          // Which columns there are instead shows when all are read.
          const table = there(some, columns) ? some : whole();
          return withConditions(pick(table, columns), [table]);
        },
      };
    if (parts.length > 1) return { parts, keyArgs, read: () => whole() };
    return {
      parts,
      keyArgs,
      read: () => whole(),
      some: (list) => {
        // That a unit is put in the place of the file's own is noted, also of columns that nobody needs.
        const behind = namesBehind(list, names);
        const some = whole((name) => behind(name) || hasDeclaredUnit(name, names, units[0]!));
        return there(some, list) ? some : whole();
      },
    };
  }

  /** A field's files: those of the steps that are needed, each with all that it names. */
  #planField(op: string, args: FieldArgs, study: WorkStudy, run: WorkStudy["runs"][number]): ReadPlan {
    const { definition } = study;
    const [name] = resolveFile(definition, args.file).paths;
    const locate = (relative: string): string =>
      inside(study.folder, path.posix.join(run.folder, relative), definition.links);
    const layout = fieldLayout(name!, locate, declaredTimes(definition, name!));
    const units = fieldUnits(definition, run.id, fileOf(layout, name!));
    const held = { steps: this.#held, of: JSON.stringify([study.name, run.folder]) };
    const source = fieldSource(layout, locate, units, definition.names, { held });
    const settled =
      args.site?.kind === "points of a table"
        ? this.#withPlaces(args, args.site.table, args.site.block, source.lengthUnit)
        : { args, parts: [] };
    const wanted = wantedSteps(op, args, source);
    const steps = wanted.map((k) => layout.steps[k]!);
    const { study: _, file: __, run: ___, ...asked } = settled.args;
    const places = steps.map((s) => [s.at, s.parts.map((p) => p.block)]);
    const common = {
      asked,
      units,
      names: definition.names,
      places,
      all: layout.steps.map((s) => s.at),
      axisUnit: layout.axisUnit,
    };
    const probe = this.#probe(op, settled.args, study, run, layout, steps);
    if (probe) {
      const heads = layout.heads.flatMap((f) => this.#locate(study, run.folder, f));
      const identities = [...heads.map((p) => p.found.identity), ...probe.identities];
      return { parts: [...heads, ...settled.parts], keyArgs: { ...common, identities }, read: () => probe.table };
    }
    const named = (step: number): readonly string[] => {
      const own = JSON.stringify([study.folder, run.folder, layout.steps[step]!.parts.map((p) => p.file), args.gaps]);
      const known = this.#named.get(own) ?? source.filesOf(step, args.gaps === "allow");
      this.#named.set(own, known);
      return known;
    };
    const files = [...layout.heads, ...wanted.flatMap(named)];
    const parts = files.flatMap((f) => this.#locate(study, run.folder, f));
    const identities = parts.map((p) => p.found.identity);
    return {
      parts: [...parts, ...settled.parts],
      keyArgs: { ...common, identities },
      read: () => {
        const table = executeField(op, settled.args, source);
        for (const p of parts) p.found.verify();
        const noted = { ...table, notes: [...table.notes, ...source.notes] };
        return withConditions(noted, [table, { conditions: source.conditions() }]);
      },
    };
  }

  /**
   * Few places in large files: executed at once, with a note of the blocks that were read, for to know these files
   * takes reading more of them than the work does. Undefined where it is not so, or the result depends on more than
   * these blocks.
   */
  #probe(
    op: string,
    args: FieldArgs,
    study: WorkStudy,
    run: WorkStudy["runs"][number],
    layout: FieldLayout,
    steps: FieldLayout["steps"],
  ): { table: Table; identities: object[] } | undefined {
    if (!fewPlaces(op, args)) return undefined;
    const locate = (relative: string): string =>
      inside(study.folder, path.posix.join(run.folder, relative), study.definition.links);
    const files = steps.flatMap((s) => s.parts.map((p) => p.file));
    if (!files.every((f) => fs.existsSync(locate(f)))) return undefined;
    const before = files.map((f) => stampOf(locate(f)));
    const pinned = files.some((f, k) => {
      const pin = this.pins[path.posix.join(run.folder, f)];
      return pin !== undefined && String(pin) !== before[k]!.size;
    });
    if (pinned || before.reduce((n, s) => n + Number(s.size), 0) < LARGE * files.length) return undefined;
    const notes = new ReadNotes();
    const source = fieldSource(
      layout,
      locate,
      fieldUnits(study.definition, run.id, fileOf(layout, resolveFile(study.definition, args.file).paths[0]!)),
      study.definition.names,
      { notes },
    );
    const table = executeField(op, args, source);
    if (notes.isWhole) return undefined;
    const digests = notes.digests((name) => openFile(locate(name), name));
    files.forEach((f, k) => {
      if (!sameStamp(before[k]!, stampOf(locate(f))))
        throw new FormatError(
          f,
          "the file changed while it was being read",
          {},
          "Run again when it is no longer written to.",
        );
    });
    const identities = [...digests]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([name, { size, blocks }]) => {
        const sha256 = digestOfBlocks(size, blocks);
        this.files.push({ study: study.name, path: path.posix.join(run.folder, name), size, sha256, blocks });
        return { size, sha256, blocks: blocks.length };
      });
    return { table: { ...table, notes: [...table.notes, ...source.notes] }, identities };
  }

  /** Places that stand in a table beside the runs, put in where the table was named. */
  #withPlaces(
    args: FieldArgs,
    t: PlacesTable,
    block: string | undefined,
    length: UnitSymbol,
  ): { args: FieldArgs; parts: readonly Part[] } {
    const { columns, study, file, options } = t;
    const plan = this.#plan("study.table", { study, file, options });
    const site = { ...placesOfTable(plan.read(), columns, length), block } as FieldArgs["site"];
    return { args: { ...args, site }, parts: plan.parts };
  }

  #locate(study: WorkStudy, runFolder: string, relative: string): Part[] {
    const shown = relative;
    if (path.posix.isAbsolute(relative)) throw new FormatError(shown, `"${relative}" leads out of the folder`);
    const inStudy = path.posix.join(runFolder, relative);
    const full = inside(study.folder, inStudy, study.definition.links);
    const known = this.#seen.get(full);
    if (known) return [known];
    if (!fs.existsSync(full)) return [];
    const pinned = Object.hasOwn(this.pins, inStudy) ? this.pins[inStudy] : undefined;
    const found = identify(full, shown, this.memo, pinned);
    if (found.remember) {
      this.remember.push(found.remember);
      this.memo.set(full, found.remember);
    }
    this.files.push({ study: study.name, path: inStudy, ...found.identity });
    const part = { full, shown, found };
    this.#seen.set(full, part);
    return [part];
  }

  #with<T>(part: Part, use: (source: ByteSource) => T): T {
    if (part.found.bytes) return use(bufferSource(part.shown, part.found.bytes));
    const source = openFile(part.full, part.shown, part.found.identity.size);
    try {
      const result = use(source);
      part.found.verify();
      return result;
    } finally {
      source.close();
    }
  }

  #readTable(
    parts: readonly Part[],
    options: ReaderChoices,
    wanted: ((name: string) => boolean) | undefined,
    units: readonly Readonly<Record<string, string>>[],
    names: Readonly<Record<string, readonly string[]>>,
  ): Table {
    const choices = options as TextTableOptions;
    const single = parts.length === 1;
    const allocate = (n: number): Float64Array => this.budget.numbers(n);
    const read = parts.map((p, k): FileTable => {
      const made = (t: TextTable): FileTable => settledTable(p.shown, t, names, units[k]!);
      if (p.found.bytes)
        return made(readTextTable(bufferSource(p.shown, p.found.bytes), wanted, choices, allocate, single));
      const { size } = p.found.identity;
      const threads = availableParallelism();
      const large = readLargeTextTable(p.full, p.shown, size, wanted, choices, allocate, threads, single);
      p.found.verify();
      return made(large);
    });
    const restart = choices.restart ?? "auto";
    const joined = single ? undefined : joinedTables(read, restart);
    const table = joined?.table ?? read[0]!.table;
    const conditions = [...read.map((r) => r.read), { conditions: joined?.conditions ?? [] }];
    return withConditions(table, conditions);
  }
}
