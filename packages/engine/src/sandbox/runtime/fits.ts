import { node, ScriptError } from "./record.js";
import { bound, Quantity } from "./quantities.js";
import { Table } from "./tables.js";

type Options = Record<string, unknown>;

/** A law fitted to a table: its constants, how good it is, and what it gives. */
export class Fit {
  constructor(
    readonly $table: number,
    readonly $request: Options,
  ) {}
  #table(op: string, more: Options = {}): Table {
    return new Table(node(op, { ...this.$request, ...more }, [this.$table]));
  }
  #quantity(op: string, more: Options): Quantity {
    return new Quantity(node(op, { ...this.$request, ...more }, [this.$table]));
  }
  term(term: string): Quantity {
    return this.#quantity("fit.term", { term, what: "value" });
  }
  exponent(term: string): Quantity {
    return this.term(term);
  }
  error(term: string): Quantity {
    return this.#quantity("fit.term", { term, what: "error" });
  }
  pValue(term: string): Quantity {
    return this.#quantity("fit.term", { term, what: "pValue" });
  }
  interval(term: string): { lower: Quantity; upper: Quantity } {
    return {
      lower: this.#quantity("fit.term", { term, what: "lower" }),
      upper: this.#quantity("fit.term", { term, what: "upper" }),
    };
  }
  at(place: Options): Quantity {
    const given: Options = {};
    for (const k of Object.keys(place)) given[k] = bound(place[k]);
    return this.#quantity("fit.at", { place: given });
  }
  rSquared(): Quantity {
    return this.#quantity("fit.quality", { what: "rSquared" });
  }
  adjusted(): Quantity {
    return this.#quantity("fit.quality", { what: "adjusted" });
  }
  residual(): Quantity {
    return this.#quantity("fit.quality", { what: "residual" });
  }
  terms(): Table {
    return this.#table("fit.terms");
  }
  curve(options: Options = {}): Table {
    return this.#table("fit.curve", { points: options["points"] ?? 100 });
  }
  applied(): Table {
    return this.#table("fit.applied");
  }
}

function make(kind: string, table: unknown, options: Options): Fit {
  if (!(table instanceof Table)) throw new ScriptError(`fit.${kind}: a table is needed first`);
  if (options["y"] === undefined) throw new ScriptError(`fit.${kind}: say which column is y`);
  const { x, ...rest } = options;
  return new Fit(table.$id, { kind, ...rest, x: Array.isArray(x) ? x : [x] });
}

export const fit = {
  linear: (table: unknown, options: Options): Fit => make("linear", table, options),
  polynomial: (table: unknown, options: Options): Fit => make("polynomial", table, options),
  power: (table: unknown, options: Options): Fit => make("power", table, options),
  exponential: (table: unknown, options: Options): Fit => make("exponential", table, options),
  formula: (table: unknown, formula: string, options: Options): Fit => make("formula", table, { ...options, formula }),
};
