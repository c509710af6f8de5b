import { decode, encode, flush, host, node, read, Lazy, ScriptError } from "./record.js";

interface Plain {
  value: number;
  unit: string | null;
  reason?: string;
  at?: Plain & { name: string };
}

/** A number with its unit: known at once (from `q`, a parameter, an input) or computed when needed. */
export class Quantity extends Lazy {
  #known: Plain | undefined;

  constructor(id: number, known?: Plain) {
    super(id);
    this.#known = known;
  }

  #plain(): Plain {
    return (this.#known ??= read(this.$id, "quantity") as Plain);
  }
  get value(): number {
    return this.#plain().value;
  }
  /** The unit's symbol; with one, the same number in that unit, for a quantity whose unit is not known. */
  unit(): string | null;
  unit(symbol: string): Quantity;
  unit(symbol?: string): string | null | Quantity {
    // The mark of a difference of temperatures stays inside.
    if (symbol === undefined) return this.#plain().unit?.replace("Δ", "") ?? null;
    return this.#map("quantity.unit", { unit: symbol });
  }
  /** Value and unit as they are held. */
  get $held(): Plain {
    return this.#plain();
  }
  get reason(): string | undefined {
    return this.#plain().reason;
  }
  get at(): Quantity {
    return new Quantity(node("quantity.at", {}, [this.$id]));
  }
  in(unit: string): Quantity {
    return this.#map("quantity.in", { unit });
  }
  plus(other: Quantity | string | number): Quantity {
    return this.#combine("plus", other);
  }
  minus(other: Quantity | string | number): Quantity {
    return this.#combine("minus", other);
  }
  times(other: Quantity | string | number): Quantity {
    return this.#combine("times", other);
  }
  over(other: Quantity | string | number): Quantity {
    return this.#combine("over", other);
  }
  power(exponent: number): Quantity {
    return this.#map("quantity.power", { exponent });
  }
  root(degree = 2): Quantity {
    return this.#map("quantity.power", { exponent: 1 / degree });
  }
  abs(): Quantity {
    return this.#map("quantity.abs", {});
  }
  override toString(): string {
    throw new ScriptError("a quantity is not text; use .value for its number");
  }
  override valueOf(): never {
    throw new ScriptError("a quantity is not a plain number; use .value, or .plus, .minus, .times, .over");
  }
  toJSON(): never {
    throw new ScriptError("a quantity cannot stand here; use .value");
  }

  #map(op: string, args: object): Quantity {
    if (this.$known) return known(arithmetic({ op, args, a: this.$known }));
    return new Quantity(node(op, args, [this.$id]));
  }
  #combine(op: string, other: Quantity | string | number): Quantity {
    // Added or taken away, a bare number is in this quantity's own unit.
    if (typeof other === "number" && (op === "plus" || op === "minus"))
      return this.#map("quantity.combine", { op, bare: other });
    const b = toQuantity(other);
    if (this.$known && b.$known)
      return known(arithmetic({ op: "quantity.combine", args: { op, literal: true }, a: this.$known, b: b.$known }));
    return new Quantity(node("quantity.combine", { op, ...(b.$known && { literal: true }) }, [this.$id, b.$id]));
  }
  /** The number and unit, when they are known without work. */
  get $known(): Plain | undefined {
    return this.#known;
  }
}

// Written into a text without its brackets it would be the text of a function.
Quantity.prototype.unit.toString = () => {
  throw new ScriptError("unit is a function: write .unit()");
};

function arithmetic(request: object): Plain {
  const answer = JSON.parse(host.arithmetic(JSON.stringify(encode(request)))) as { error?: string };
  if (answer.error !== undefined) throw new ScriptError(answer.error);
  return decode(answer) as Plain;
}

/** A quantity whose number is there. */
export function known(plain: Plain): Quantity {
  return new Quantity(node("constant", plain, []), plain);
}

/** `q("20 min")` or `q(20, "min")`. */
export function q(value: string | number, unit?: string): Quantity {
  const text = typeof value === "number" ? `${value} ${unit ?? ""}` : value;
  const answer = JSON.parse(host.quantity(text)) as { error?: string };
  if (answer.error !== undefined) throw new ScriptError(answer.error);
  return known(decode(answer) as Plain);
}

/** Anything that may stand for a quantity: bare numbers are dimensionless. */
export function toQuantity(value: Quantity | string | number): Quantity {
  return value instanceof Quantity ? value : typeof value === "number" ? known({ value, unit: "1" }) : q(value);
}

/** A limit in options: a quantity that is known, its text, or a bare number in the column's unit. */
export function bound(value: unknown): unknown {
  if (value instanceof Quantity) {
    const plain = value.$known ?? value.$held;
    return { value: plain.value, unit: plain.unit };
  }
  if (typeof value === "string") return bound(q(value));
  return value;
}

/** `input("limit", q("20 min"))`: a value that the command line may set. */
export function input(name: string, fallback: Quantity | number | string | boolean): unknown {
  flush();
  const plain = fallback instanceof Quantity ? { quantity: fallback.$known } : { plain: fallback };
  const answer = JSON.parse(host.input(JSON.stringify(encode({ name, ...plain })))) as {
    error?: string;
    quantity?: unknown;
    plain?: unknown;
  };
  if (answer.error !== undefined) throw new ScriptError(answer.error);
  return answer.quantity !== undefined ? known(decode(answer.quantity) as Plain) : answer.plain;
}

/** A value of a column in a comparison: words stay words, quantities become plain; also in lists. */
export function keyValue(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(keyValue);
  return typeof value === "string" ? value : bound(value);
}

/**
 * An input of a law: names of columns stay words, and a quantity that is not known yet becomes one of the node's
 * `inputs`, counted from 1 behind the table that the law is asked of.
 */
export function lawInput(v: unknown, inputs: number[], first = 1): unknown {
  const given = v instanceof Quantity || typeof v === "number" ? toQuantity(v) : undefined;
  if (given === undefined) return v;
  if (given.$known) return { value: given.$known.value, unit: given.$known.unit };
  return { input: first - 1 + inputs.push(given.$id) };
}

/** A constant of a formula; see {@link lawInput} for those that are not known yet. */
export function constantInput(v: unknown, inputs: number[], first = 1): unknown {
  if (v instanceof Quantity && !v.$known) return { input: first - 1 + inputs.push(v.$id) };
  return typeof v === "number" ? { value: v, unit: "1" } : bound(v);
}
