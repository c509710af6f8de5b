/**
 * What a callback makes for one run it makes for the next, as long as all that it looked at is the same. So the nodes of
 * the first call are kept as a template, and later runs only say where they differ: their number, what they were given,
 * their parameters. A template is used after a second call, truly made, has agreed with it.
 */
import {
  formOf,
  peekNextId,
  record,
  Recipe,
  repeat,
  stopRecording,
  tellTemplate,
  type PackedNode,
  type Recording,
} from "./record.js";
import { Quantity } from "./quantities.js";
import type { Run } from "./runs.js";

/** An input of a template's node: a node of its own, one of those given for the run, or one that is the same for all. */
type Place = number;
const own = (k: number): Place => -1 - 2 * k;
const slot = (k: number): Place => -2 - 2 * k;

/** Which of its own nodes a place in a template is; below zero for others. */
export const ownPlace = (place: Place): number => (place < 0 && place % 2 !== 0 ? (-place - 1) / 2 : -1);

/** A run's number in a template. */
const ITS_RUN = -2;

interface TemplateNode {
  readonly form: number;
  readonly inputs: readonly Place[];
  readonly line: number;
  readonly run: number;
  /** The parameter that this constant holds. */
  readonly param: string | undefined;
}

interface Template {
  readonly start: number;
  readonly nodes: readonly TemplateNode[];
  readonly given: readonly number[];
  readonly shape: string;
  readonly reads: ReadonlyMap<string, unknown>;
  readonly result: unknown;
  readonly run: Run;
  /** Its number at the host, once it has proved right. */
  number: number | undefined;
  /** Its result, where that is a plain object of recipes and words: rows are made from it without a search. */
  cells: readonly Cell[] | undefined;
}

export interface Cell {
  readonly key: string;
  readonly value: unknown;
  /** Where a recipe's node is found. */
  readonly place: Place | undefined;
  readonly param: string | undefined;
  readonly quantity: boolean;
}

const MOST_TEMPLATES = 24;

/** Remembers what one callback does. */
export class Repeater {
  readonly #templates: Template[] = [];
  #tries = 0;

  /** The callback's result for a run: made anew, or from what it made before (rows as `RepeatedRow`). */
  call(make: (value: unknown, run: Run) => unknown, value: unknown, run: Run): unknown {
    const { ids, shape } = recipesIn(value, run);
    if (ids === undefined) return make(value, run);
    const found = this.#templates.find(
      (t) => t.shape === shape && [...t.reads].every(([what, seen]) => Object.is(run.$look(what), seen)),
    );
    if (found?.number !== undefined) {
      const start = peekNextId();
      const forms = found.nodes.flatMap((n) => (n.param === undefined ? [] : [parameterForm(run, n.param)]));
      repeat(found.number, ids, run.$index, forms, found.nodes.length);
      return found.cells
        ? new RepeatedRow(found.cells, start, ids, run)
        : moved(found, found.result, run, (id) => placed(placeOf(found, id), start, ids));
    }
    if (!found && this.#tries >= MOST_TEMPLATES) return make(value, run);
    const recording = record(run);
    let result: unknown;
    try {
      result = make(value, run);
    } finally {
      stopRecording();
    }
    if (recording.spoilt) this.#tries = MOST_TEMPLATES;
    else if (!found) this.#learn(recording, ids, shape, result, run);
    else if (agrees(found, recording, ids, result, run)) {
      found.number = tellTemplate(found.nodes.map((n) => [n.form, n.inputs, n.line, n.run, n.param !== undefined]));
      found.cells = plainCells(found);
    } else this.#tries = MOST_TEMPLATES;
    return result;
  }

  #learn(recording: Recording, ids: readonly number[], shape: string, result: unknown, run: Run): void {
    this.#tries++;
    if (new Set(ids).size < ids.length || recipesIn(result, run).ids === undefined) {
      this.#tries = MOST_TEMPLATES;
      return;
    }
    const { start } = recording;
    const place = (id: number): Place =>
      id >= start ? own(id - start) : ids.includes(id) ? slot(ids.indexOf(id)) : id;
    const nodes = recording.nodes.map(([form, inputs, line, number], k): TemplateNode => ({
      form,
      inputs: inputs.map(place),
      line,
      run: number === run.$index ? ITS_RUN : number,
      param: recording.params.get(k),
    }));
    const { reads } = recording;
    this.#templates.push({ start, nodes, given: ids, shape, reads, result, run, number: undefined, cells: undefined });
  }
}

const placeOf = (t: Template, id: number): Place =>
  id >= t.start ? own(id - t.start) : t.given.includes(id) ? slot(t.given.indexOf(id)) : id;

function placed(place: Place, start: number, given: readonly number[]): number {
  if (place >= 0) return place;
  return place % 2 === 0 ? given[-place / 2 - 1]! : start + (-place - 1) / 2;
}

function plainCells(t: Template): Cell[] | undefined {
  const { result } = t;
  if (result === null || typeof result !== "object" || Object.getPrototypeOf(result) !== Object.prototype)
    return undefined;
  const cells = Object.entries(result).map(([key, value]: [string, unknown]): Cell => {
    const place = value instanceof Recipe ? placeOf(t, value.$id) : undefined;
    const param = value instanceof Quantity && value.$id >= t.start ? t.nodes[value.$id - t.start]?.param : undefined;
    return { key, value, place, param, quantity: value instanceof Quantity };
  });
  return cells.every((c) => c.place !== undefined || c.value === null || typeof c.value !== "object")
    ? cells
    : undefined;
}

/** A row of recipes that is only written out when somebody looks at it: most go straight into a table. */
export class RepeatedRow {
  constructor(
    readonly cells: readonly Cell[],
    readonly start: number,
    readonly given: readonly number[],
    readonly run: Run,
  ) {}

  /** The node of the k-th cell, where that is a quantity. */
  node(k: number): number | undefined {
    const { place, quantity } = this.cells[k]!;
    return quantity ? placed(place!, this.start, this.given) : undefined;
  }

  write(): Record<string, unknown> {
    const out: Record<string, unknown> = {};
    for (const { key, value, place, param } of this.cells) {
      if (place === undefined) out[key] = value;
      else {
        const id = placed(place, this.start, this.given);
        out[key] =
          param === undefined ? (value as Recipe).$moved(id) : (value as Recipe).$moved(id, this.run.$parameter(param));
      }
    }
    return out;
  }
}

const parameterForm = (run: Run, name: string): number => formOf("constant", run.$parameter(name));

/** Whether a call that was truly made did what the template says. */
function agrees(t: Template, r: Recording, ids: readonly number[], result: unknown, run: Run): boolean {
  if (r.nodes.length !== t.nodes.length || r.reads.size !== t.reads.size) return false;
  for (const [what, seen] of t.reads) if (!r.reads.has(what) || !Object.is(r.reads.get(what), seen)) return false;
  const same = t.nodes.every((n, k) => {
    const [form, inputs, line, number] = r.nodes[k] as PackedNode;
    return (
      line === n.line &&
      r.params.get(k) === n.param &&
      form === (n.param === undefined ? n.form : parameterForm(run, n.param)) &&
      number === (n.run === ITS_RUN ? run.$index : n.run) &&
      inputs.length === n.inputs.length &&
      inputs.every((id, i) => id === placed(n.inputs[i]!, r.start, ids))
    );
  });
  if (!same) return false;
  const expected = moved(t, t.result, run, (id) => placed(placeOf(t, id), r.start, ids));
  const a = recipesIn(expected, run);
  const b = recipesIn(result, run);
  return a.shape === b.shape && a.ids!.every((id, k) => id === b.ids![k]);
}

/** The result of the template's call as it would be for another run. */
function moved(t: Template, value: unknown, run: Run, id: (old: number) => number): unknown {
  if (value instanceof Quantity && value.$id >= t.start) {
    const param = t.nodes[value.$id - t.start]?.param;
    return param === undefined ? value.$moved(id(value.$id)) : value.$moved(id(value.$id), run.$parameter(param));
  }
  if (value instanceof Recipe) return value.$moved(id(value.$id));
  if (value === t.run) return run;
  if (value === null || typeof value !== "object") return value;
  if (Array.isArray(value)) return value.map((v) => moved(t, v, run, id));
  const out: Record<string, unknown> = {};
  for (const key of Object.keys(value)) out[key] = moved(t, (value as Record<string, unknown>)[key], run, id);
  return out;
}

/** The recipes in a value, in order, and what the value is but for them; no ids where it holds anything else. */
function recipesIn(value: unknown, run: Run): { ids: number[] | undefined; shape: string } {
  if (value instanceof Recipe) return { ids: [value.$id], shape: value.constructor.name };
  if (value === run) return { ids: [], shape: "run" };
  const ids: number[] = [];
  let plain = true;
  const visit = (v: unknown): unknown => {
    if (v instanceof Recipe) {
      ids.push(v.$id);
      return { r: v.constructor.name };
    }
    if (v === run) return { r: "run" };
    if (v === undefined) return { r: "undefined" };
    if (typeof v === "number") return { n: Object.is(v, -0) ? "-0" : String(v) };
    if (v === null || typeof v === "string" || typeof v === "boolean") return v;
    if (Array.isArray(v)) return v.map(visit);
    if (typeof v === "object" && Object.getPrototypeOf(v) === Object.prototype)
      return Object.keys(v).map((k) => [k, visit((v as Record<string, unknown>)[k])]);
    plain = false;
    return null;
  };
  const shape = JSON.stringify(visit(value));
  return { ids: plain ? ids : undefined, shape };
}
