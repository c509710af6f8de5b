import fs from "node:fs";
import path from "node:path";
import { compilePattern, FormatError, GrowingLines, GrowingTable, type TextTableOptions } from "@oxtrum/core/formats";
import { concat, quantityIn, TableError, type Quantity, type Table } from "@oxtrum/core/tables";
import { lineOptionsSchema, resolveFile } from "../definition/definition.js";
import { unitsFor } from "../definition/declared-units.js";
import { inside } from "../definition/folders.js";
import type { ProgressRule, RunState } from "../definition/states.js";
import { joinedTables, settledTable, type FileTable } from "../read/read-tables.js";
import { stateByFiles, textAtEnd, type RunFiles } from "../read/run-state.js";
import { numberOf } from "../verbs/rule-verbs.js";
import { FollowedField, type FieldStatistic } from "./followed-field.js";
import type { FollowedRun, FollowedStudy } from "./followed-study.js";
import type { ThinnedSoFar } from "./thinned.js";

/** A quantity that is followed over a run's time. */
export type LiveQuantity =
  | { readonly kind: "table"; readonly file: string; readonly column: string }
  | {
      readonly kind: "lines";
      readonly file: string;
      readonly patterns: readonly string[];
      readonly column: string;
      readonly options?: object | undefined;
    }
  | { readonly kind: "field"; readonly file: string; readonly field: string; readonly statistic: FieldStatistic };

interface Growing {
  readonly table: Table;
  readonly version: number;
  readonly held: number;
  readonly written: number | undefined;
  /** The last line is not whole, and not read. */
  readonly open: boolean;
  update(): boolean;
}

/** How far a run is. */
export interface Progress {
  readonly value: number;
  readonly end: number;
  readonly unit: string | null;
  /** When it will be at its end, going on as in the last minutes, ms; undefined where that is not known. */
  readonly expected?: number;
  /** The end is that of finished runs: the study definition has no rule for it. */
  readonly byRuns?: true;
}

const DEFAULT_QUIET = 10 * 60_000;
/** The speed of a run is that of so long a time. */
const SPEED_OVER = 5 * 60_000;

/** One run whose files are read as they grow. */
export class LiveRun {
  readonly #growing = new Map<string, Growing>();
  readonly #speed: { at: number; value: number }[] = [];
  readonly #curves = new Map<string, { readonly points: number; readonly thinned: ThinnedSoFar }>();
  /** How far along its axis each quantity has come, by its name. */
  readonly reached = new Map<string, { readonly value: number; readonly unit: string | null }>();

  constructor(
    private readonly study: FollowedStudy,
    readonly run: FollowedRun,
    /** Tells it from every other one that was opened, also of the same run. */
    readonly key: string,
  ) {}

  get held(): number {
    return [...this.#growing.values()].reduce((n, g) => n + g.held, 0);
  }

  /** A quantity's curve as it was thinned last to so many points. */
  curve(name: string, points: number): ThinnedSoFar | undefined {
    const known = this.#curves.get(name);
    return known?.points === points ? known.thinned : undefined;
  }

  keepCurve(name: string, points: number, thinned: ThinnedSoFar): void {
    this.#curves.set(name, { points, thinned });
  }

  /** A quantity's table so far, with the number of its version. @throws FormatError when there is none */
  series(q: LiveQuantity): Pick<Growing, "version" | "written" | "open"> & { table: () => Table } {
    const g =
      q.kind === "table"
        ? this.#table(q.file)
        : q.kind === "lines"
          ? this.#lines(q.file, q.patterns, q.options)
          : this.#kept(
              `field ${q.file} ${q.field} ${q.statistic}`,
              () => new FollowedField(this.study, this.run, q.file, q.field, q.statistic),
            );
    g.update();
    return { table: () => g.table, version: g.version, written: g.written, open: g.open };
  }

  /**
   * The run's state.
   *
   * @param written when one of its files was written last, ms; undefined when there is none
   */
  state(now: number, written: number | undefined): RunState {
    const rules = this.study.definition.states;
    const byFiles = rules && stateByFiles(rules, this.#files());
    if (byFiles) return byFiles;
    if (written === undefined) return { state: "waiting", because: "it has no files yet" };
    const after = rules?.stalledAfter;
    const quiet =
      after === undefined
        ? DEFAULT_QUIET
        : typeof after === "number"
          ? 1000 * after
          : 1000 * quantityIn(after, "s").value;
    const since = now - written;
    const ago = agoOf(since);
    if (since <= quiet) return { state: "running", because: `a file was written ${ago} ago` };
    if (rules?.finished || rules?.failed) return { state: "stalled", because: `no file was written for ${ago}` };
    return {
      state: "finished",
      because: `no file was written for ${ago}; the study definition has no rule for when a run is finished`,
    };
  }

  /**
   * How far the run is, by the study's rule.
   *
   * @param usual how far it is by what finished runs came to, where there is no rule
   */
  progress(now: number, usual?: Omit<Progress, "expected">): Progress | undefined {
    const rule = this.study.definition.states?.progress;
    const at = rule ? this.#progressOf(rule) : usual;
    if (!at) return undefined;
    const speed = this.#speed;
    if (speed.length === 0 || speed[speed.length - 1]!.value !== at.value) speed.push({ at: now, value: at.value });
    while (speed.length > 2 && now - speed[0]!.at > SPEED_OVER) speed.shift();
    const [first, last] = [speed[0]!, speed[speed.length - 1]!];
    const rate = (last.value - first.value) / (last.at - first.at);
    const left = (at.end - at.value) / rate;
    return { ...at, ...(Number.isFinite(left) && left >= 0 && { expected: Math.round(last.at + left) }) };
  }

  #progressOf(rule: ProgressRule): { value: number; end: number; unit: string | null } | undefined {
    try {
      const value = numberOf(rule.value, this.#files().table(rule));
      if (value.reason !== undefined || Number.isNaN(value.value)) return undefined;
      const end: Quantity = typeof rule.end === "number" ? { value: rule.end, unit: value.unit } : rule.end;
      const same = end.unit === value.unit || value.unit === null || end.unit === null;
      return { value: value.value, end: same ? end.value : quantityIn(end, value.unit!).value, unit: value.unit };
    } catch (e) {
      if (e instanceof FormatError || e instanceof TableError || /Unit|Formula/.test((e as Error).name))
        return undefined;
      throw e;
    }
  }

  #files(): RunFiles {
    return {
      table: (r) => {
        const g = r.lines === undefined ? this.#table(r.table!) : this.#lines(r.lines, r.read ?? [], undefined);
        g.update();
        return g.table;
      },
      end: (file) => {
        // Of several parts the last one that is there.
        const last = this.#locate(file)
          .filter((p) => fs.existsSync(p.full))
          .pop();
        return last && textAtEnd(last.full, last.name);
      },
    };
  }

  #kept(key: string, make: () => Growing): Growing {
    let g = this.#growing.get(key);
    if (!g) this.#growing.set(key, (g = make()));
    return g;
  }

  /** The files that a name stands for: several are parts of one table. */
  #locate(file: string): { full: string; name: string }[] {
    const { folder, definition } = this.study;
    return resolveFile(definition, file).paths.map((name) => ({
      full: inside(folder, path.posix.join(this.run.folder, name), definition.links),
      name,
    }));
  }

  #table(file: string): Growing {
    return this.#kept(`table ${file}`, () => {
      const { definition } = this.study;
      const parts = this.#locate(file);
      const options = resolveFile(definition, file).read as TextTableOptions;
      const single = parts.length === 1;
      const growing = parts.map((p) => new GrowingTable(p.full, p.name, options, single));
      const settled = (k: number): FileTable => {
        const { name } = parts[k]!;
        return settledTable(name, growing[k]!.text, definition.names, unitsFor(definition, this.run.id, name));
      };
      return together(growing, () => {
        if (single) return settled(0).table;
        // As a script reads them: the parts that are there, in their order.
        const there = parts.flatMap((p, k) => (fs.existsSync(p.full) ? [settled(k)] : []));
        if (there.length === 0) throw new FormatError(file, "there is no such file");
        return withoutParts(joinedTables(there, options.restart ?? "auto").table, parts);
      });
    });
  }

  #lines(file: string, patterns: readonly string[], options: object | undefined): Growing {
    return this.#kept(JSON.stringify(["lines", file, patterns, options ?? {}]), () => {
      const how = lineOptionsSchema.parse(options ?? {});
      const parts = this.#locate(file);
      const growing = parts.map((p) => new GrowingLines(p.full, p.name, patterns.map(compilePattern), how));
      return together(growing, () => {
        const there = growing.filter((_, k) => fs.existsSync(parts[k]!.full));
        if (there.length === 0) throw new FormatError(file, "there is no such file");
        return withoutParts(concat(there.map((g) => g.table)), parts);
      });
    });
  }
}

/** A table that says which of its parts are not there yet. */
function withoutParts(table: Table, parts: readonly { full: string; name: string }[]): Table {
  const missing = parts.filter((p) => !fs.existsSync(p.full)).map((p) => p.name);
  if (missing.length === 0) return table;
  const text = `${missing.join(", ")} ${missing.length === 1 ? "is" : "are"} not there yet`;
  return { ...table, conditions: [...(table.conditions ?? []), { kind: "coverage", file: missing[0]!, text }] };
}

/** Growing files as one table, made once per version. */
function together(files: readonly (GrowingTable | GrowingLines)[], make: () => Table): Growing {
  let made: { version: number; table: Table } | undefined;
  const version = (): number => files.reduce((n, f) => n + f.version, 0);
  return {
    get table(): Table {
      if (made?.version !== version()) made = { version: version(), table: make() };
      return made.table;
    },
    get version(): number {
      return version();
    },
    get held(): number {
      return files.reduce((n, f) => n + f.held, 0);
    },
    get written(): number | undefined {
      const times = files.flatMap((f) => f.file.written ?? []);
      return times.length === 0 ? undefined : Math.max(...times);
    },
    get open(): boolean {
      return files.some((f) => f.open);
    },
    update: () => files.map((f) => f.update()).includes(true),
  };
}

/** A length of time in words: 5 s, 12 min, 3 h, 4 days. */
export function agoOf(ms: number): string {
  const s = Math.max(0, Math.round(ms / 1000));
  if (s < 120) return `${s} s`;
  if (s < 7200) return `${Math.round(s / 60)} min`;
  if (s < 172_800) return `${Math.round(s / 3600)} h`;
  return `${Math.round(s / 86_400)} days`;
}
