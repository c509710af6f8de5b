import { host, node, ScriptError } from "./record.js";
import { Field } from "./fields.js";
import { known, type Quantity } from "./quantities.js";
import { Table } from "./tables.js";

type Options = Record<string, unknown>;

/** A parameter of a study's runs. */
export interface ParameterHead {
  name: string;
  unit: string | null;
  type: "number" | "text";
  /** Of all runs of the study. */
  values: (number | string)[];
}

/** A state, and what decided it. */
interface RunState {
  readonly state: string;
  readonly because: string;
}

/** What the host tells of a study. */
export interface StudyHead {
  error?: string;
  /** The runs: id, number in the catalogue, parameter values; `tried` is false for runs outside a Try. */
  runs: {
    id: string;
    name: string;
    index: number;
    params: (number | string | null)[];
    tried: boolean;
    state: RunState | null;
  }[];
  parameters: ParameterHead[];
  rules: { name: string; op: string; read: Options; judge: Options }[];
}

type Params = Record<string, Quantity | string | undefined>;

function parameter(run: Run, name: string, made: Record<string, Quantity>): Quantity | string | undefined {
  const v = run.$plain[name];
  if (v === null || v === undefined) return undefined;
  return typeof v === "string" ? v : (made[name] ??= known(run.$parameter(name)));
}

/** A file's whole name: its ending may be left out where only one file is meant. */
export function wholeName(study: string, file: string, beside = false): string {
  const known = `${beside ? "beside" : "of runs"}\0${study}\0${file}`;
  let whole = wholeNames.get(known);
  if (whole === undefined) {
    const answer = JSON.parse(host.named(study, file, beside)) as { file: string; error?: string };
    if (answer.error !== undefined) throw new ScriptError(answer.error);
    wholeNames.set(known, (whole = answer.file));
  }
  return whole;
}
const wholeNames = new Map<string, string>();

/** One simulation. */
export class Run {
  #params: Params | undefined;
  constructor(
    readonly $id: string,
    /** What it is called among all runs of the job. */
    readonly $name: string,
    readonly $study: string,
    readonly $index: number,
    readonly $tried: boolean,
    readonly $plain: Readonly<Record<string, number | string | null>>,
    readonly $heads: readonly ParameterHead[],
    readonly $known: RunState | null,
  ) {}
  /** Made when first asked for: most callbacks look at none. */
  get params(): Params {
    if (this.#params) return this.#params;
    const params: Params = {};
    const made = Object.create(null) as Record<string, Quantity>;
    for (const { name } of this.$heads)
      Object.defineProperty(params, name, { enumerable: true, get: () => parameter(this, name, made) });
    return (this.#params = params);
  }
  get id(): string {
    return this.$id;
  }
  get state(): string {
    return this.$state.state;
  }
  get $state(): RunState {
    if (this.$known) return this.$known;
    throw new ScriptError("write run.state or runs.finished in full: their names may not be put together");
  }
  /** A parameter that is a number, with its unit. */
  $parameter(name: string): { value: number; unit: string | null } {
    return { value: this.$plain[name] as number, unit: this.$heads.find((h) => h.name === name)!.unit ?? "1" };
  }
  /** What a callback sees that looks at something of this run. */
  table(file: string, options: Options = {}): Table {
    return new Table(
      node("run.table", { study: this.$study, file: wholeName(this.$study, file), options }, [], this.$index),
    );
  }
  field(file: string): Field {
    return new Field({ study: this.$study, file, derived: [] }, this.$index);
  }
  lines(file: string): { read: (...patterns: (string | string[] | Options)[]) => Table } {
    return {
      read: (...given) => {
        const all = given.flat();
        const patterns = all.filter((p) => typeof p === "string");
        const options = all.find((p) => typeof p !== "string");
        const args = { study: this.$study, file: wholeName(this.$study, file), patterns, ...(options && { options }) };
        return new Table(node("run.lines", args, [], this.$index));
      },
    };
  }
  has(file: string): boolean {
    return host.has(this.$study, this.$index, file);
  }
}
