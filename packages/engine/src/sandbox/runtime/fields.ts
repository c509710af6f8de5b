import { node, ScriptError } from "./record.js";
import { bound, Quantity } from "./quantities.js";
import type { Site } from "./sites.js";
import { Table } from "./tables.js";

type Options = Record<string, unknown>;

/** How values are taken and ordered, as the operations have it. */
function sampling(options: Options): Options {
  const { method, axis, from, ...rest } = options;
  if (method === undefined && Object.keys(rest).length > 0)
    throw new ScriptError(
      `sample: ${Object.keys(rest).join(", ")} ${Object.keys(rest).length > 1 ? "belong" : "belongs"} to a method: say which one`,
    );
  const order = Array.isArray(axis)
    ? { direction: axis, ...(from !== undefined && { from }) }
    : (axis ?? (from === undefined ? undefined : { from }));
  const out = {
    ...(method !== undefined && method !== "inside" && { method: { kind: method, ...rest } }),
    ...(order !== undefined && order !== "distance" && { axis: order }),
  };
  return Object.keys(out).length > 0 ? { sampling: out } : {};
}

const list = (fields: string | string[]): string[] => (Array.isArray(fields) ? fields : [fields]);

interface Spec {
  readonly study: string;
  readonly file: string;
  readonly when?: unknown;
  readonly window?: unknown;
  readonly derived: readonly unknown[];
  readonly derivatives?: readonly unknown[];
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
  gradient(of: string, options: Options = {}): Field {
    return this.#derivative("gradient", of, (options["name"] as string | undefined) ?? `${of}.gradient`);
  }
  divergence(of: string, options: Options = {}): Field {
    return this.#derivative("divergence", of, (options["name"] as string | undefined) ?? `${of}.divergence`);
  }
  curl(of: string, options: Options = {}): Field {
    return this.#derivative("curl", of, (options["name"] as string | undefined) ?? `${of}.curl`);
  }
  #derivative(kind: string, of: string, name: string): Field {
    return this.#with({ derivatives: [...(this.$spec.derivatives ?? []), { name, of, kind }] });
  }
  sample(site: Site, fields: string | string[], options: Options = {}): Table {
    return this.#table("field.sample", { site, fields: list(fields), ...sampling(options) });
  }
  reduce(site: Site, reductions: Options, options: Options = {}): Table {
    return this.#table("field.reduce", { site, reductions, ...sampling(options) });
  }
  history(site: Site, what: string | string[] | Options, options: Options = {}): Table {
    const { times, gaps, ...rest } = options;
    const wanted = typeof what === "string" || Array.isArray(what) ? { fields: list(what) } : { reductions: what };
    return this.#table("field.history", {
      site,
      ...wanted,
      ...(times !== undefined && { times: (times as unknown[]).map(bound) }),
      ...(gaps !== undefined && { gaps }),
      ...sampling(rest),
    });
  }
  overTime(site: Site, fields: string | string[], options: Options = {}): Table {
    const { show, gaps, ...rest } = options;
    return this.#table("field.overTime", {
      site,
      fields: list(fields),
      ...(show !== undefined && { statistics: show }),
      ...(gaps !== undefined && { gaps }),
      ...sampling(rest),
    });
  }
  surface(site: Site, options: Options = {}): Table {
    return this.#table("field.surface", { site, view: options });
  }
  times(): Table {
    return this.#table("field.times");
  }
  blocks(): Table {
    return this.#table("field.blocks");
  }
  patches(): Table {
    return this.#table("field.blocks", { patches: true });
  }
}
