import { node, ScriptError } from "./record.js";
import { bound, Quantity } from "./quantities.js";
import { Table } from "./tables.js";

type Options = Record<string, unknown>;

/** Where to sample: plain data that verbs of a field take. */
interface Site {
  readonly kind: string;
  readonly [option: string]: unknown;
}

const triple = (v: unknown, what: string): number[] => {
  if (Array.isArray(v) && v.length === 3 && v.every((x) => typeof x === "number" && Number.isFinite(x)))
    return v as number[];
  throw new ScriptError(`${what}: three numbers are needed, as in [12, 4, 0.1]`);
};
const axes: Record<string, number[]> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

/** Sites by name. */
export const at = {
  point: (place: unknown, options: Options = {}): Site =>
    at.points([place], options["name"] === undefined ? {} : { names: [options["name"]] }),
  points: (places: unknown[], options: Options = {}): Site => ({
    kind: "points",
    places: places.map((p) => triple(p, "at.points")),
    ...(options["names"] !== undefined && { names: options["names"] as string[] }),
  }),
  line: (from: unknown, to: unknown, options: Options = {}): Site => ({
    kind: "line",
    from: triple(from, "at.line"),
    to: triple(to, "at.line"),
    count: (options["count"] as number | undefined) ?? 100,
  }),
  path: (through: unknown[], options: Options = {}): Site => ({
    kind: "path",
    through: through.map((p) => triple(p, "at.path")),
    count: (options["count"] as number | undefined) ?? 100,
  }),
  grid: (options: Options): Site => ({
    kind: "grid",
    origin: triple(options["origin"], "at.grid, origin"),
    step: triple(options["step"], "at.grid, step"),
    count: triple(options["count"], "at.grid, count"),
  }),
  plane: (given: Options): Site => {
    const named = Object.keys(axes).find((a) => given[a] !== undefined);
    if (named !== undefined)
      return { kind: "plane", point: axes[named]!.map((n) => n * (given[named] as number)), normal: axes[named] };
    return {
      kind: "plane",
      point: triple(given["through"], "at.plane, through"),
      normal: triple(given["normal"], "at.plane, normal"),
    };
  },
  patch: (match: string): Site => ({ kind: "patch", match }),
  all: (): Site => ({ kind: "all" }),
  stations: (options: Options): Site => ({
    kind: "stations",
    along: options["along"],
    from: options["from"],
    to: options["to"],
    count: (options["count"] as number | undefined) ?? 100,
  }),
} as {
  point: (place: unknown, options?: Options) => Site;
  points: (places: unknown[], options?: Options) => Site;
  [name: string]: (...args: never[]) => Site;
};

interface Spec {
  readonly study: string;
  readonly file: string;
  readonly when?: unknown;
  readonly window?: unknown;
  readonly derived: readonly unknown[];
}

/** A field of a run: verbs say which time, where and what; nothing is read until a number is needed. */
export class Field {
  constructor(
    readonly $spec: Spec,
    readonly $index: number,
  ) {}
  #with(more: Partial<Spec>): Field {
    return new Field({ ...this.$spec, ...more }, this.$index);
  }
  #table(op: string, args: object = {}): Table {
    return new Table(node(op, { ...this.$spec, ...args }, [], this.$index));
  }
  at(when: Options | "first" | "last", options: Options = {}): Field {
    if (typeof when === "string") return this.#with({ when });
    const names = Object.keys(when);
    if (names.length !== 1) throw new ScriptError('at: name one axis, as in { time: "450 s" }');
    const value = when[names[0]!];
    if (value === "first" || value === "last") return this.#with({ when: value });
    return this.#with({ when: { value: bound(value), pick: options["pick"] ?? "exact" } });
  }
  window(range: unknown[]): Field {
    return this.#with({ window: [bound(range[0]), bound(range[1])] });
  }
  derive(name: string, formula: string, options: Options = {}): Field {
    const constants: Options = {};
    for (const key of Object.keys((options["with"] as Options | undefined) ?? {})) {
      const v = (options["with"] as Options)[key];
      if (v instanceof Quantity && !v.$known)
        throw new ScriptError(`derive "${name}": the constant "${key}" has to be known before the run`);
      constants[key] = typeof v === "number" ? { value: v, unit: "1" } : bound(v);
    }
    const unit = options["unit"];
    return this.#with({
      derived: [...this.$spec.derived, { name, formula, constants, ...(unit !== undefined && { unit }) }],
    });
  }
  sample(site: Site, fields: string | string[]): Table {
    return this.#table("field.sample", { site, fields: Array.isArray(fields) ? fields : [fields] });
  }
  reduce(site: Site, reductions: Options): Table {
    return this.#table("field.reduce", { site, reductions });
  }
  history(site: Site, what: string | string[] | Options): Table {
    if (typeof what === "string" || Array.isArray(what))
      return this.#table("field.history", { site, fields: Array.isArray(what) ? what : [what] });
    return this.#table("field.history", { site, reductions: what });
  }
  times(): Table {
    return this.#table("field.times");
  }
}
