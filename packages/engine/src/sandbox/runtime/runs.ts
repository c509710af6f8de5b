import { flush, host, ExcludedRun, newTrace, node, read, Lazy, scriptLine, ScriptError, traced } from "./record.js";
import { Run, wholeName, type ParameterHead, type StudyHead } from "./run.js";
import { q, Quantity } from "./quantities.js";
import { Table } from "./tables.js";

type Options = Record<string, unknown>;

/** What a callback gave for a run. */
export class Item {
  constructor(
    readonly run: Run,
    readonly value: unknown,
  ) {}
}

/** Results run by run: tables, quantities or whatever the callback made. */
export class RunMap {
  constructor(
    readonly $items: readonly Item[],
    readonly $missing: readonly { run: Run; node: number; reason: string }[],
    /** Makes the same for a run that was passed over because another one is tried. */
    readonly $make: (run: Run) => unknown = (run) => run,
  ) {}
  get ids(): string[] {
    return this.$items.map((i) => i.run.$id);
  }
  map(make: (value: unknown, run: Run) => unknown): RunMap {
    const made = each(this.$items, this.$missing, make);
    return new RunMap(made.$items, made.$missing, (run) => make(this.$make(run), run));
  }
  /** One row per run: words, numbers and quantities by name. */
  rows(make: (value: unknown, run: Run) => Record<string, unknown>): Table {
    const made = each(this.$items, this.$missing, make);
    return rowsTable(made);
  }
  stack(): Table {
    return new Table(node("runs.stack", this.$args(), this.$inputs()));
  }
  wide(name: string): Table {
    return new Table(node("runs.wide", { ...this.$args(), name }, this.$inputs()));
  }
  get(id: string): unknown {
    const found = this.$items.find((i) => i.run.$id === id);
    if (found) return found.value;
    // In a Try of another run: what is asked for by its name is made all the same.
    const passed = this.$missing.find((m) => m.run.$id === id);
    if (passed?.reason === "not tried") return this.$make(passed.run);
    throw new ScriptError(passed ? `run "${id}" is excluded here: ${passed.reason}` : `no run "${id}" in this set`);
  }
  $args(): Options & { missing: { run: string; reason: string }[] } {
    const heads = this.$items[0]?.run.$heads ?? [];
    return {
      units: Object.fromEntries(heads.filter((h) => h.type === "number").map((h) => [h.name, h.unit])),
      runs: this.$items.map((i) => i.run.$name),
      missing: this.$missing.map((m) => ({ run: m.run.$name, reason: m.reason })),
      params: this.$items.map((i) => i.run.$plain),
    };
  }
  $inputs(): number[] {
    return this.$items.map(({ value }) => {
      if (!(value instanceof Lazy)) throw new ScriptError("the callback has to give a table or a quantity for this");
      return value.$id;
    });
  }
}

function each(
  items: readonly Item[],
  missing: readonly { run: Run; node: number; reason: string }[],
  make: (value: unknown, run: Run) => unknown,
): RunMap {
  // The host fetches ahead for these what the first of them turns out to need.
  if (items.length > 1) host.log(JSON.stringify({ study: items[0]!.run.$study, runs: items.map((i) => i.run.$index) }));
  const memory = newTrace();
  const out: Item[] = [];
  const gone = [...missing];
  for (const item of items) {
    const { run, value } = item;
    try {
      const made = traced(memory, () => make(value, run));
      if (typeof (made as { then?: unknown } | undefined)?.then === "function")
        throw new ScriptError("there are no promises in a script; take async away from the callback");
      out.push(new Item(run, made));
    } catch (e) {
      if (!(e instanceof ExcludedRun)) throw e;
      gone.push({ run, node: e.node, reason: e.message });
    }
  }
  return new RunMap(out, gone);
}

function rowsTable(made: RunMap): Table {
  const { $items: items } = made;
  const names = new Set<string>();
  for (const { value } of items) {
    if (value === null || typeof value !== "object" || value instanceof Lazy)
      throw new ScriptError('rows: the callback has to give an object, as in ({ peak: t.max("T") })');
    for (const key in value) if (Object.hasOwn(value, key)) names.add(key);
  }
  const inputs: number[] = [];
  const table = [...names].map((name) => {
    const start = inputs.length;
    // A column of nothing but quantities needs no more than where its inputs begin.
    let plain = items.length > 0;
    for (const { value } of items) {
      const v = Object.hasOwn(value as object, name) ? (value as Record<string, unknown>)[name] : undefined;
      if (!(v instanceof Quantity)) {
        plain = false;
        break;
      }
      inputs.push(v.$id);
    }
    if (plain) return { name, start };
    inputs.length = start;
    const own = (v: object): unknown => (Object.hasOwn(v, name) ? (v as Record<string, unknown>)[name] : undefined);
    return { name, cells: items.map(({ value }) => cellOf(name, own(value as object), inputs)) };
  });
  const { missing } = made.$args();
  return new Table(node("runs.rows", { runs: items.map((i) => i.run.$name), columns: table, missing }, inputs));
}

function cellOf(name: string, v: unknown, inputs: number[]): unknown {
  if (v instanceof Quantity) {
    inputs.push(v.$id);
    return { input: inputs.length - 1 };
  }
  if (v instanceof Lazy)
    throw new ScriptError(`rows: "${name}" is a table; a cell takes a quantity, a number or a word`);
  if (typeof v === "number" || typeof v === "string") return v;
  if (v === undefined || v === null) return null;
  if (typeof v === "boolean") return v ? "yes" : "no";
  throw new ScriptError(`rows: "${name}" has to be a quantity, a number or a word`);
}

/** Some of a study's runs, in a definite order. */
export class RunSet {
  constructor(
    readonly $study: string,
    readonly $runs: readonly Run[],
    readonly $heads: readonly ParameterHead[],
    readonly $rules: StudyHead["rules"] = [],
    /** Runs that the study's rules do not accept. */
    readonly $refused: readonly { run: Run; reason: string }[] = [],
  ) {}
  /** The node that judges runs by the study's rules. */
  #verdicts(runs: readonly Run[], verb: string): number {
    if (this.$rules.length === 0)
      throw new ScriptError(
        `${verb}: the definition of "${this.$study}" has no rules for which runs count; they stand under "accept" in oxtrum.study.json`,
      );
    const inputs = runs.flatMap((run) =>
      this.$rules.map((rule) =>
        node("rule.judge", rule.judge, [node(rule.op, { study: this.$study, ...rule.read }, [], run.$index)]),
      ),
    );
    return node("rule.verdicts", { runs: runs.map((r) => r.$name), rules: this.$rules.map((r) => r.name) }, inputs);
  }
  get accepted(): RunSet {
    const tried = this.$runs.filter((r) => r.$tried);
    const because = read(this.#verdicts(tried, "accepted"), "verdicts") as string[];
    const refused = new Map<Run, string>();
    tried.forEach((run, k) => because[k] && refused.set(run, because[k]));
    return new RunSet(
      this.$study,
      this.$runs.filter((r) => !refused.has(r)),
      this.$heads,
      this.$rules,
      [...this.$refused, ...[...refused].map(([run, why]) => ({ run, reason: `not accepted: ${why}` }))],
    );
  }
  get finished(): RunSet {
    const open = this.$runs.filter((r) => r.$state.state !== "finished");
    return new RunSet(
      this.$study,
      this.$runs.filter((r) => r.$state.state === "finished"),
      this.$heads,
      this.$rules,
      [
        ...this.$refused,
        ...open.map((run) => ({ run, reason: `not finished: ${run.$state.state}, ${run.$state.because}` })),
      ],
    );
  }
  verdicts(): Table {
    return new Table(
      this.#verdicts(
        this.$runs.filter((r) => r.$tried),
        "verdicts",
      ),
    );
  }
  get count(): number {
    return this.$runs.length;
  }
  get ids(): string[] {
    return this.$runs.map((r) => r.$id);
  }
  where(condition: Options | ((run: Run) => boolean)): RunSet {
    if (typeof condition === "function")
      return this.#with(
        this.$runs.filter((r) => condition(r)),
        this.$refused.filter((r) => condition(r.run)),
      );
    for (const name of Object.keys(condition)) {
      if (name === "id") {
        if (this.$runs.length > 0 && !this.$runs.some((r) => idFits(r.$id, condition[name])))
          throw new ScriptError(
            `no run is called ${JSON.stringify(condition[name])}; runs are ` +
              `${this.ids.slice(0, 8).join(", ")}${this.ids.length > 8 ? ", …" : ""}`,
          );
        continue;
      }
      const head = this.$heads.find((h) => h.name === name);
      if (!head)
        throw new ScriptError(
          `the runs have no parameter "${name}"; there are ${this.$heads.map((h) => `"${h.name}"`).join(", ")}`,
        );
      // A value may be absent from this set of runs; a value absent from the whole study is a mistake.
      if (
        condition[name] !== null &&
        head.values.length > 0 &&
        !head.values.some((v) => fits(v, condition[name], head.unit))
      )
        throw new ScriptError(`"${name}" has no such value in any run; its values are ${listed(head)}`);
    }
    const holds = (r: Run): boolean =>
      Object.keys(condition).every((name) =>
        name === "id"
          ? idFits(r.$id, condition[name])
          : fits(r.$plain[name], condition[name], this.$heads.find((h) => h.name === name)!.unit),
      );
    return this.#with(
      this.$runs.filter(holds),
      this.$refused.filter((r) => holds(r.run)),
    );
  }
  sort(name: string, order: string = "rising"): RunSet {
    const sign = order === "falling" ? -1 : 1;
    const sorted = this.$runs.map((r, i) => ({ r, i, v: r.$plain[name] ?? null }));
    sorted.sort((a, b) =>
      a.v === b.v ? a.i - b.i : a.v === null ? 1 : b.v === null ? -1 : sign * (a.v < b.v ? -1 : 1),
    );
    return this.#with(
      sorted.map((s) => s.r),
      this.$refused,
    );
  }
  map(make: (run: Run) => unknown): RunMap {
    const tried = this.$runs.filter((r) => r.$tried);
    const skipped = [
      ...this.$runs.filter((r) => !r.$tried).map((run) => ({ run, node: -1, reason: "not tried" })),
      ...this.$refused.map((r) => ({ ...r, node: -1 })),
    ];
    // A Try of a run that this set does not hold tries the set's first one.
    if (tried.length === 0 && skipped.some((s) => s.reason === "not tried")) {
      const [first, ...rest] = skipped;
      const made = each([new Item(first!.run, first!.run)], rest, (_, run) => make(run));
      return new RunMap(made.$items, made.$missing, make);
    }
    const made = each(
      tried.map((run) => new Item(run, run)),
      skipped,
      (_, run) => make(run),
    );
    return new RunMap(made.$items, made.$missing, make);
  }
  rows(make: (run: Run) => Record<string, unknown>): Table {
    return this.map((run) => run).rows((_, run) => make(run));
  }
  #with(runs: readonly Run[], refused: RunSet["$refused"]): RunSet {
    return new RunSet(this.$study, runs, this.$heads, this.$rules, refused);
  }
}

function listed({ values, unit }: ParameterHead): string {
  const few = values.slice(0, 12);
  const more = values.length > few.length ? `, … (${values.length} values)` : "";
  return (
    few.map((v) => (typeof v === "string" ? `"${v}"` : `${v}`)).join(", ") +
    more +
    (unit === null || unit === "1" ? "" : ` ${unit}`)
  );
}

/** The same but for the rounding of a conversion from another unit; the rule of tables. */
const nearly = (a: number, b: number): boolean =>
  a === b || Math.abs(a - b) <= 8 * Number.EPSILON * Math.max(Math.abs(a), Math.abs(b));

/** A wanted amount as a number in a parameter's unit: a bare number is in it, a quantity and its text are converted. */
function amountIn(wanted: unknown, unit: string | null | undefined): number | undefined {
  if (typeof wanted === "number") return wanted;
  if (!(wanted instanceof Quantity) && typeof wanted !== "string") return undefined;
  // A text that is not a quantity is not a value of a parameter that is a number.
  if (typeof wanted === "string" && !/^\s*[-+.\d]/.test(wanted)) return undefined;
  const given = wanted instanceof Quantity ? wanted : q(wanted);
  const own = given.unit();
  return own === unit || own === "1" || unit === null || unit === undefined ? given.value : given.in(unit).value;
}

/** Whether a parameter's value is one that is wanted: a value, one of a list, or within `{ min, max }`. */
function fits(value: number | string | null | undefined, wanted: unknown, unit: string | null | undefined): boolean {
  if (Array.isArray(wanted)) return wanted.some((w) => fits(value, w, unit));
  if (typeof value === "number" && wanted !== null) {
    if (typeof wanted === "object" && !(wanted instanceof Quantity)) {
      const { min, max } = wanted as { min?: unknown; max?: unknown };
      const [low, high] = [amountIn(min, unit), amountIn(max, unit)];
      const above = low === undefined || value >= low || nearly(value, low);
      return above && (high === undefined || value <= high || nearly(value, high));
    }
    const amount = amountIn(wanted, unit);
    return amount !== undefined && nearly(value, amount);
  }
  return value === wanted;
}

/** Whether a run's id is one that is wanted; stars stand for anything. */
function idFits(id: string, wanted: unknown): boolean {
  if (Array.isArray(wanted)) return wanted.some((w) => idFits(id, w));
  if (typeof wanted !== "string") return false;
  if (id === wanted || !wanted.includes("*")) return id === wanted;
  const [first, ...rest] = wanted.split("*");
  const last = rest.pop()!;
  let at = first!.length;
  if (!id.startsWith(first!) || !id.endsWith(last) || id.length < at + last.length) return false;
  for (const part of rest) {
    const found = id.indexOf(part, at);
    if (found < 0 || found + part.length > id.length - last.length) return false;
    at = found + part.length;
  }
  return true;
}

/** A folder of results. */
export class Study {
  readonly runs: RunSet;
  constructor(
    readonly name: string,
    head: StudyHead,
  ) {
    const names = head.parameters.map((p) => p.name);
    const runs = head.runs.map((r) => {
      const plain = Object.create(null) as Record<string, number | string | null>;
      names.forEach((n, i) => (plain[n] = r.params[i] ?? null));
      return new Run(r.id, r.name, name, r.index, r.tried, plain, head.parameters, r.state);
    });
    this.runs = new RunSet(name, runs, head.parameters, head.rules);
  }
  table(file: string, options: Options = {}): Table {
    const args = { study: this.name, file: wholeName(this.name, file, true), options };
    const table = new Table(node("study.table", args, []));
    table.$file = args;
    return table;
  }
}

const studies = new Map<string, Study>();

export function study(name: string): Study {
  let found = studies.get(name);
  if (!found) {
    flush();
    const head = JSON.parse(host.study(name, scriptLine())) as StudyHead;
    if (head.error !== undefined) throw new ScriptError(head.error);
    found = new Study(name, head);
    studies.set(name, found);
  }
  return found;
}

/** Statistics across runs on a common axis. */
export function across(runs: RunMap, options: Options = {}): Table {
  const axis = options["axis"];
  return new Table(
    node(
      "runs.across",
      {
        ...runs.$args(),
        on: options["on"],
        columns: options["columns"],
        axis: axis === null || typeof axis !== "object" ? axis : { ...axis },
        percentiles: options["percentiles"] ?? [],
        confidence: options["confidence"],
        governing: options["governing"],
      },
      runs.$inputs(),
    ),
  );
}
