import fs from "node:fs";
import path from "node:path";
import { FormatError } from "@oxtrum/core/formats";
import { makeTable, numbers, numbersOf, type Table } from "@oxtrum/core/tables";
import { declaredTimes, resolveFile } from "../definition/definition.js";
import { fieldUnits } from "../definition/declared-units.js";
import { inside } from "../definition/folders.js";
import { fieldLayout, fileOf, type FieldLayout } from "../read/field-layout.js";
import { fieldSource } from "../read/read-fields.js";
import { fieldArgs } from "../verbs/field-arguments.js";
import { executeField } from "../verbs/field/index.js";
import type { FollowedStudy, FollowedRun } from "./followed-study.js";

/** The number that is made of a field at each of its times. */
export type FieldStatistic = "mean" | "min" | "max";

interface Step {
  readonly stamp: string;
  readonly value: number | undefined;
  /** Why it has no value. */
  readonly error?: string;
}

/**
 * A number of a field over time, in the whole domain: each file of the series is read once, when it is whole. The last
 * one may still be written: it counts when it can be read.
 */
export class FollowedField {
  readonly #steps = new Map<string, Step>();
  #folders = new Map<string, string>();
  #layout: FieldLayout | undefined;
  #table: Table | undefined;
  #unit: string | null = null;
  #error: FormatError | undefined;
  version = 0;
  written: number | undefined;
  readonly open = false;

  constructor(
    private readonly study: FollowedStudy,
    private readonly run: FollowedRun,
    private readonly file: string,
    private readonly field: string,
    private readonly statistic: FieldStatistic,
  ) {}

  /** @throws FormatError when there is no value yet, saying why */
  get table(): Table {
    if (this.#table) return this.#table;
    throw this.#error ?? new FormatError(this.file, "no file of it is whole yet");
  }

  get held(): number {
    return 200 * this.#steps.size;
  }

  update(): boolean {
    try {
      return this.#look();
    } catch (e) {
      if (!(e instanceof FormatError)) throw e;
      const news = this.#error?.message !== e.message || this.#table !== undefined;
      this.#error = e;
      this.#table = undefined;
      if (news) this.version++;
      return news;
    }
  }

  #locate(relative: string): string {
    return inside(this.study.folder, path.posix.join(this.run.folder, relative), this.study.definition.links);
  }

  #stampOf(files: readonly string[]): string {
    return files
      .map((f) => {
        const s = fs.statSync(this.#locate(f), { throwIfNoEntry: false });
        if (s && (this.written === undefined || s.mtimeMs > this.written)) this.written = s.mtimeMs;
        return s ? `${s.size} ${s.mtimeMs} ${s.ino}` : "";
      })
      .join("|");
  }

  #look(): boolean {
    const { definition } = this.study;
    const name = resolveFile(definition, this.file).paths[0]!;
    const locate = (relative: string): string => this.#locate(relative);
    // Which files there are changes with their folder, or with the list that names them.
    const places = [path.posix.dirname(name), ...(this.#layout?.heads.length === 1 ? this.#layout.heads : [])];
    // The stamps come first: what changes while the files are listed is seen at the next look.
    const stamps = new Map(places.map((p) => [p, this.#stampOf([p])]));
    if (!this.#layout || places.some((p) => this.#folders.get(p) !== stamps.get(p))) {
      this.#layout = fieldLayout(name, locate, declaredTimes(definition, name));
      this.#folders = stamps;
    }
    const layout = this.#layout;
    const units = fieldUnits(definition, this.run.id, fileOf(layout, name));
    const reductions = { value: { [this.statistic]: this.field } };
    const args = fieldArgs.parse({ study: "", file: this.file, site: { kind: "all" }, when: "first", reductions });
    let news = false;
    layout.steps.forEach((s) => {
      const key = s.parts.map((p) => p.file).join("|");
      const stamp = this.#stampOf(s.parts.map((p) => p.file));
      const known = this.#steps.get(key);
      if (known?.stamp === stamp) return;
      news = true;
      let value: number | undefined;
      let error: string | undefined;
      try {
        const column = numbers(
          executeField("field.reduce", args, fieldSource({ ...layout, steps: [s] }, locate, units, definition.names)),
          "value",
        );
        value = column.values[0]!;
        this.#unit = column.unit;
      } catch (e) {
        // The newest file may still be written; it is told until it is whole.
        if (!(e instanceof FormatError)) throw e;
        error = `${e.file}: ${e.message}`;
      }
      this.#steps.set(key, { stamp, value, ...(error !== undefined && { error }) });
    });
    if (!news && this.#table) return false;
    const whole = layout.steps.flatMap((s) => {
      const value = this.#steps.get(s.parts.map((p) => p.file).join("|"))?.value;
      return value === undefined ? [] : [{ at: s.at ?? Number.NaN, value }];
    });
    if (whole.length === 0) throw new FormatError(this.file, "no file of it is whole yet");
    const axis = numbersOf(whole, layout.axis, fieldSource(layout, locate, units, definition.names).unit, (w) => w.at);
    const column = numbersOf(whole, `${this.statistic} of ${this.field}`, this.#unit, (w) => w.value);
    const missing = layout.steps.flatMap((s) => this.#steps.get(s.parts.map((p) => p.file).join("|"))?.error ?? []);
    const conditions = missing.map((text) => ({
      kind: "missing values" as const,
      file: "",
      text: `not read: ${text}`,
    }));
    const table = makeTable([axis, column], { axis: layout.axis });
    this.#table = conditions.length > 0 ? { ...table, conditions } : table;
    this.#error = undefined;
    this.version++;
    return true;
  }
}
