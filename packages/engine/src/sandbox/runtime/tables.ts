import { flush, host, node, read, Recipe, shortNode, ScriptError } from "./record.js";
import { bound, Quantity, toQuantity, lawInputs } from "./quantities.js";

type Options = Record<string, unknown>;

const list = (names: unknown): string[] => (Array.isArray(names) ? (names as string[]) : [names as string]);

/** Quantities given as constants of a formula: known ones as plain data. */
export function constants(given: Options | undefined, first = 1): { args: Options; inputs: number[] } {
  const args: Options = {};
  const inputs: number[] = [];
  for (const name of Object.keys(given ?? {})) {
    const v = given![name];
    if (v instanceof Quantity && !v.$known) {
      args[name] = { input: first + inputs.length };
      inputs.push(v.$id);
    } else args[name] = typeof v === "number" ? { value: v, unit: "1" } : bound(v);
  }
  return { args, inputs };
}

/** Named columns with units; every verb gives a new one. */
export class Table extends Recipe {
  /** The file that this is, as it is read, where it lies beside the runs. */
  $file: Record<string, unknown> | undefined;
  #verb(op: string, args: object, more: readonly number[] = []): Table {
    return new Table(node("table." + op, args, [this.$id, ...more]));
  }
  #reduce(op: string, args: object): Quantity {
    return new Quantity(node("table." + op, args, [this.$id]));
  }
  /** A reduction of one column, with options that are mostly not there. */
  #reduceColumn(op: string, name: string, options: Options | undefined): Quantity {
    if (options !== undefined) return this.#reduce(op, { name, ...options });
    return new Quantity(shortNode("table." + op, name, () => ({ name }), [this.$id]));
  }
  pick(...names: (string | string[])[]): Table {
    return this.#verb("pick", { names: names.flat() });
  }
  drop(...names: (string | string[])[]): Table {
    return this.#verb("drop", { names: names.flat() });
  }
  rename(names: Options): Table {
    return this.#verb("rename", { names });
  }
  along(axis: string): Table {
    return this.#verb("along", { axis });
  }
  where(condition: string | Options, values?: Options): Table {
    if (typeof condition === "string") {
      const c = constants(values);
      return this.#verb("where", { formula: condition, constants: c.args }, c.inputs);
    }
    const equal: Options = {};
    for (const k of Object.keys(condition)) equal[k] = bound2(condition[k]);
    return this.#verb("where", { equal });
  }
  window(axis: string, range: [unknown, unknown], options: Options = {}): Table {
    return this.#verb("window", { axis, range: [bound(range[0]), bound(range[1])], ...options });
  }
  sortBy(name: string, order: string = "rising"): Table {
    return this.#verb("sortBy", { name, order });
  }
  derive(name: string, formula: string, options?: Options): Table {
    if (options === undefined)
      return new Table(
        shortNode("table.derive", name + "\u0000" + formula, () => ({ name, formula, constants: {} }), [this.$id]),
      );
    const { unit, ...values } = options as { unit?: string };
    const c = constants((values as { with?: Options }).with);
    return this.#verb("derive", { name, formula, unit, constants: c.args }, c.inputs);
  }
  to(names: string | string[], unit: string): Table {
    return this.#verb("to", { names: list(names), unit });
  }
  unit(name: string, unit: string): Table {
    return this.#verb("unit", { name, unit });
  }
  label(name: string, label: string): Table {
    return this.#verb("label", { name, label });
  }
  cumulative(name: string): Table {
    return this.#verb("cumulative", { name });
  }
  derivative(name: string): Table {
    return this.#verb("derivative", { name });
  }
  resample(axis: string, spacing: Options): Table {
    const s: Options = {};
    for (const k of Object.keys(spacing))
      s[k] = Array.isArray(spacing[k]) ? (spacing[k] as unknown[]).map(bound) : bound(spacing[k]);
    return this.#verb("resample", { axis, spacing: s });
  }
  join(other: Table, options: Options = {}): Table {
    return this.#verb("join", options, [other.$id]);
  }
  concat(...others: Table[]): Table {
    return this.#verb(
      "concat",
      {},
      others.map((o) => o.$id),
    );
  }
  compareTo(baseline: Options, options: Options = {}): Table {
    const key: Options = {};
    for (const k of Object.keys(baseline)) key[k] = bound2(baseline[k]);
    return this.#verb("compareTo", { baseline: key, match: options["match"] ?? [] });
  }
  crossings(name: string, level: unknown, options: Options = {}): Table {
    return this.#verb("crossings", { name, level: bound(level), direction: options["direction"] ?? "both" });
  }
  spectrum(name: string, options: Options = {}): Table {
    return this.#verb("spectrum", { name, ...options });
  }
  dominant(name: string, options: Options = {}): Quantity {
    return this.#reduce("dominant", { name, ...options });
  }
  converge(name: string, options: Options): Table {
    return this.#verb("converge", { name, size: options["size"] });
  }
  smooth(name: string, options: Options): Table {
    const { over, ...rest } = options;
    return this.#verb("smooth", { name, ...rest, ...(over !== undefined && { over: bound(over) }) });
  }
  lowpass(name: string, options: Options): Table {
    return this.#verb("lowpass", { name, ...options, below: bound(options["below"]) });
  }
  detrend(name: string, options: Options = {}): Table {
    return this.#verb("detrend", { name, ...options });
  }
  running(name: string, what: string = "max"): Table {
    return this.#verb("running", { name, what });
  }
  resultant<N extends string>(name: N, parts: string[], options?: Options): Table {
    return this.derive(name, `hypot(${parts.map((p) => `col(${JSON.stringify(p)})`).join(", ")})`, options);
  }
  peaks(name: string, options: Options = {}): Table {
    return this.#verb("peaks", { name, ...bounds(options) });
  }
  cycles(name: string, options: Options): Table {
    return this.#verb("cycles", { name, ...bounds(options) });
  }
  cycleMean(name: string, options: Options): Table {
    return this.#verb("cycleMean", { name, ...bounds(options) });
  }
  histogram(name: string, options: Options = {}): Table {
    return this.#verb("histogram", { name, ...bounds(options) });
  }
  describe(...names: (string | string[])[]): Table {
    return this.#verb("describe", { names: names.flat() });
  }
  since(event: unknown, options: Options = {}): Table {
    return this.#verb("since", { length: bound(options["for"]) }, [this.#quantity(event, "since").$id]);
  }
  move(by: unknown): Table {
    return this.#verb("move", {}, [this.#quantity(by, "move").$id]);
  }
  /** A quantity, or its text. */
  #quantity(v: unknown, verb: string): Quantity {
    if (v instanceof Quantity || typeof v === "string") return toQuantity(v);
    throw new ScriptError(`${verb} takes a quantity or its text, as in ${verb}("20 s")`);
  }
  crossCorrelation(name: string, other: Table, options: Options = {}): Table {
    return this.#verb("crossCorrelation", { name, ...bounds(options) }, [other.$id]);
  }
  timeShift(name: string, other: Table, options: Options = {}): Quantity {
    return new Quantity(node("table.timeShift", { name, ...bounds(options) }, [this.$id, other.$id]));
  }
  groupBy(by: string | string[], options: Options = {}): Table {
    return this.#verb("groupBy", { by: list(by), ...options });
  }
  bins(name: string, options: Options = {}): Table {
    return this.#verb("bins", { name, ...bounds(options) });
  }
  pivot(options: Options): Table {
    return this.#verb("pivot", { ...options, rows: list(options["rows"]) });
  }
  balance(names: string[], options: Options = {}): Table {
    return this.#verb("balance", { names, ...options });
  }
  rank(name: string, order: string = "falling"): Table {
    return this.#verb("rank", { name, order });
  }
  governing(name: string, which: string = "max"): Table {
    return this.#verb("governing", { name, which });
  }
  outliers(name: string, options: Options = {}): Table {
    return this.#verb("outliers", { name, ...options });
  }
  correlations(...names: (string | string[])[]): Table {
    return this.#verb("correlations", { names: names.flat() });
  }
  effects(output: string, parameters: string[]): Table {
    return this.#verb("effects", { output, parameters });
  }
  sensitivities(output: string, parameters: string[]): Table {
    return this.#verb("sensitivities", { output, parameters });
  }
  pairs(baseline: Options, options: Options = {}): Table {
    const key: Options = {};
    for (const k of Object.keys(baseline)) key[k] = bound2(baseline[k]);
    return this.#verb("pairs", { baseline: key, ...options });
  }
  against(reference: Table | string, options: Options): Agreement {
    return agreement(this, reference, options);
  }
  law(as: string, name: string, inputs: Options, options: Options = {}): Table {
    const c = lawInputs(inputs, 1);
    return this.#verb("law", { as, law: name, inputs: c.args, outside: options["outside"] }, c.inputs);
  }
  wallUnits(options: Options): Table {
    const { y = "y", u = "u", ...rest } = options;
    const given: Options = {};
    for (const k of Object.keys(rest)) given[k] = toQuantity(rest[k] as Quantity | string | number);
    const c = lawInputs(given, 1);
    return this.#verb("wallUnits", { y, u, inputs: c.args }, c.inputs);
  }
  skewness(name: string): Quantity {
    return this.#reduceColumn("skewness", name, undefined);
  }
  kurtosis(name: string): Quantity {
    return this.#reduceColumn("kurtosis", name, undefined);
  }
  steadyFrom(name: string): Quantity {
    return this.#reduceColumn("steadyFrom", name, undefined);
  }
  meanError(name: string): Quantity {
    return this.#reduceColumn("meanError", name, undefined);
  }
  correlationLength(name: string): Quantity {
    return this.#reduceColumn("correlationLength", name, undefined);
  }
  timeAbove(name: string, level: unknown): Quantity {
    return this.#reduce("timeAbove", { name, level: bound(level) });
  }
  timeBelow(name: string, level: unknown): Quantity {
    return this.#reduce("timeBelow", { name, level: bound(level) });
  }
  value(formula: string, options: Options = {}): Quantity {
    const c = constants(options["with"] as Options | undefined);
    return new Quantity(
      node("table.value", { formula, unit: options["unit"], constants: c.args }, [this.$id, ...c.inputs]),
    );
  }
  tail(count: number): Table {
    return this.#verb("tail", { count });
  }
  rowNumber(as: string = "row"): Table {
    return this.#verb("rowNumber", { as });
  }
  percentiles(name: string, percents: number[]): Table {
    return this.#verb("percentiles", { name, percents });
  }
  amplitudes(name: string): Table {
    return this.#verb("amplitudes", { name });
  }
  head(count: number): Table {
    return this.#verb("head", { count });
  }
  max(name: string): Quantity {
    return this.#reduceColumn("max", name, undefined);
  }
  min(name: string): Quantity {
    return this.#reduceColumn("min", name, undefined);
  }
  mean(name: string, options?: Options): Quantity {
    return this.#reduceColumn("mean", name, options);
  }
  rms(name: string, options?: Options): Quantity {
    return this.#reduceColumn("rms", name, options);
  }
  std(name: string, options?: Options): Quantity {
    return this.#reduceColumn("std", name, options);
  }
  percentile(name: string, percent: number): Quantity {
    return this.#reduce("percentile", { name, percent });
  }
  integral(name: string, options?: Options): Quantity {
    return this.#reduceColumn("integral", name, options);
  }
  sum(name: string): Quantity {
    return this.#reduceColumn("sum", name, undefined);
  }
  covariance(name: string, other: string): Quantity {
    return this.#reduce("covariance", { name, other });
  }
  meanInterval(name: string, options: Options = {}): { lower: Quantity; upper: Quantity } {
    const end = (end: string): Quantity => this.#reduce("meanInterval", { name, ...options, end });
    return { lower: end("lower"), upper: end("upper") };
  }
  count(name: string): Quantity {
    return this.#reduceColumn("count", name, undefined);
  }
  first(name: string): Quantity {
    return this.#reduce("at", { name, place: "first" });
  }
  last(name: string): Quantity {
    return this.#reduce("at", { name, place: "last" });
  }
  at(name: string, place: unknown, options: Options = {}): Quantity {
    return this.#reduce("at", {
      name,
      place: place === "first" || place === "last" ? place : bound(place),
      ...options,
    });
  }
  settles(name: string, options: Options): Quantity {
    return this.#reduce("settles", { name, within: bound(options["within"]), to: bound(options["to"]) });
  }
  columns(query: Options = {}): string[] {
    flush();
    const answer = JSON.parse(host.columns(this.$id)) as { error?: string; heads?: unknown };
    if (answer.error !== undefined) throw new ScriptError(answer.error);
    return JSON.parse(host.arithmetic(JSON.stringify({ op: "columns", heads: answer.heads, query }))) as string[];
  }
  values(name: string): number[] {
    return read(this.$id, "values:" + name) as number[];
  }
  get rowCount(): number {
    return (read(this.$id, "rows") as { rows: number }).rows;
  }
}

/** Parameters in comparisons stand with their number: quantities become plain. */
function bound2(value: unknown): unknown {
  const b = bound(typeof value === "string" ? undefined : value);
  return typeof value === "string" ? value : b;
}

/** Options whose values may be quantities or their text, apart from words that name columns or choices. */
function bounds(options: Options): Options {
  const out: Options = {};
  for (const k of Object.keys(options)) {
    const v = options[k];
    if (k === "other" || k === "columns" || k === "show") out[k] = v;
    else out[k] = Array.isArray(v) ? v.map(bound) : bound(v);
  }
  return out;
}

/** How a column agrees with a reference: the numbers, and both side by side. */
export class Agreement {
  constructor(
    readonly $inputs: readonly [number, number],
    readonly $request: Options,
  ) {}
  #measure(what: string): Quantity {
    return new Quantity(node("against.measure", { ...this.$request, what }, this.$inputs));
  }
  bias(): Quantity {
    return this.#measure("bias");
  }
  rms(): Quantity {
    return this.#measure("rms");
  }
  largest(): Quantity {
    return this.#measure("largest");
  }
  within(): Quantity {
    return this.#measure("within");
  }
  shift(): Quantity {
    return this.#measure("shift");
  }
  correlation(): Quantity {
    return this.#measure("correlation");
  }
  side(): Table {
    return new Table(node("against.side", this.$request, this.$inputs));
  }
  summary(): Table {
    return new Table(node("against.summary", this.$request, this.$inputs));
  }
}

/** Makes the request of a comparison; the reference is a table, or a formula over the table's own columns. */
function agreement(table: Table, reference: Table | string, options: Options): Agreement {
  const { within, shift, most, with: values, ...rest } = options;
  const tolerance = within as Options | undefined;
  const request: Options = {
    ...rest,
    ...(within !== undefined && {
      within:
        tolerance !== null && typeof tolerance === "object" && "share" in tolerance && !(within instanceof Quantity)
          ? { share: bound(tolerance["share"]) }
          : { amount: bound(within) },
    }),
    ...(shift !== undefined && { shift: shift === "estimate" ? shift : bound(shift) }),
    ...(most !== undefined && { most: bound(most) }),
  };
  if (typeof reference !== "string") return new Agreement([table.$id, reference.$id], request);
  const named = table.derive("the formula", reference, values === undefined ? undefined : { with: values });
  return new Agreement([table.$id, named.$id], { ...request, reference: "the formula" });
}
