import path from "node:path";
import { compilePattern, FormatError, GrowingLines, GrowingTable, type TextTableOptions } from "@oxtrum/core/formats";
import { quantityIn, TableError, type Quantity, type Table } from "@oxtrum/core/tables";
import { lineOptionsSchema, resolveFile } from "../definition/definition.js";
import { unitsFor } from "../definition/declared-units.js";
import { inside } from "../definition/folders.js";
import type { ProgressRule, RunState } from "../definition/states.js";
import { settledTable } from "../read/read-tables.js";
import { stateByFiles, textAtEnd, type RunFiles } from "../read/run-state.js";
import { numberOf } from "../verbs/rule-verbs.js";
import { FollowedField, type FieldStatistic } from "./followed-field.js";
import type { FollowedRun, FollowedStudy } from "./followed-study.js";

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
  update(): boolean;
}

/** How far a run is. */
export interface Progress {
  readonly value: number;
  readonly end: number;
  readonly unit: string | null;
  /** When it will be at its end, going on as in the last minutes, ms; undefined where that is not known. */
  readonly expected?: number;
}

const DEFAULT_QUIET = 10 * 60_000;
/** The speed of a run is that of so long a time. */
const SPEED_OVER = 5 * 60_000;

/** One run whose files are read as they grow. */
export class LiveRun {
  readonly #growing = new Map<string, Growing>();
  readonly #speed: { at: number; value: number }[] = [];

  constructor(
    private readonly study: FollowedStudy,
    readonly run: FollowedRun,
  ) {}

  get held(): number {
    return [...this.#growing.values()].reduce((n, g) => n + g.held, 0);
  }

  /** A quantity's table so far, with the number of its version. @throws FormatError when there is none */
  series(q: LiveQuantity): { table: () => Table; version: number; written: number | undefined } {
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
    return { table: () => g.table, version: g.version, written: g.written };
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

  /** How far the run is, by the study's rule. */
  progress(now: number): Progress | undefined {
    const rule = this.study.definition.states?.progress;
    if (!rule) return undefined;
    const at = this.#progressOf(rule);
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
        const [full, name] = this.#locate(file);
        return textAtEnd(full, name);
      },
    };
  }

  #kept(key: string, make: () => Growing): Growing {
    let g = this.#growing.get(key);
    if (!g) this.#growing.set(key, (g = make()));
    return g;
  }

  #locate(file: string): [full: string, name: string] {
    const [name] = resolveFile(this.study.definition, file).paths;
    return [inside(this.study.folder, path.posix.join(this.run.folder, name!), this.study.definition.links), name!];
  }

  #table(file: string): Growing {
    return this.#kept(`table ${file}`, () => {
      const { definition } = this.study;
      const [full, name] = this.#locate(file);
      const { read } = resolveFile(definition, file);
      const table = new GrowingTable(full, name, read as TextTableOptions);
      const units = unitsFor(definition, this.run.id, name);
      return named(table, () => {
        const t = table.table;
        const available = t.columns.map((c) => c.name);
        return settledTable(
          name,
          { table: t, available, skipped: [], skippedCount: 0, headerBefore: [] },
          definition.names,
          units,
        ).table;
      });
    });
  }

  #lines(file: string, patterns: readonly string[], options: object | undefined): Growing {
    return this.#kept(JSON.stringify(["lines", file, patterns, options ?? {}]), () => {
      const [full, name] = this.#locate(file);
      const lines = new GrowingLines(full, name, patterns.map(compilePattern), lineOptionsSchema.parse(options ?? {}));
      return named(lines, () => lines.table);
    });
  }
}

/** A growing file with its table made once per version. */
function named(file: GrowingTable | GrowingLines, make: () => Table): Growing {
  let made: { version: number; table: Table } | undefined;
  return {
    get table(): Table {
      if (made?.version !== file.version) made = { version: file.version, table: make() };
      return made.table;
    },
    get version(): number {
      return file.version;
    },
    get held(): number {
      return file.held;
    },
    get written(): number | undefined {
      return file.file.written;
    },
    update: () => file.update(),
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
