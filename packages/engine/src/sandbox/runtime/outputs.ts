import { encode, flush, host, libraryForms, node, Lazy, scriptLine, ScriptError } from "./record.js";
import { bound, Quantity } from "./quantities.js";
import { Agreement, Table } from "./tables.js";
import { RunMap } from "./runs.js";
import { Fit } from "./fits.js";

type Options = Record<string, unknown>;

/** A chart, to be handed to `emit.chart` or drawn over others. */
export class Chart {
  constructor(
    readonly $layers: readonly { kind: string; inputs: readonly number[]; source: object; options: Options }[],
    readonly $options: Options,
  ) {}
}

function layer(kind: string, data: unknown, options: Options): Chart {
  const { title, subtitle, x, y, ...rest } = options;
  const own: Options = {};
  const shared: Options = {};
  for (const k of Object.keys(rest)) (chartWide.has(k) ? shared : own)[k] = plainOption(k, rest[k]);
  const frame = { title, subtitle, ...shared };
  if (data instanceof RunMap)
    return new Chart(
      [{ kind, inputs: data.$inputs(), source: { from: "runs", ...data.$args() }, options: { x, y, ...own } }],
      frame,
    );
  if (data instanceof Table)
    return new Chart([{ kind, inputs: [data.$id], source: { from: "table" }, options: { x, y, ...own } }], frame);
  throw new ScriptError(`chart.${kind} draws a table, or the tables of a set of runs`);
}

/** Options of the whole chart, and those of layers that are amounts. */
const chartWide = new Set(libraryForms.chartOptions);
const amounts = new Set(libraryForms.charts.flatMap((k) => k.amounts));

/** Quantities as plain data, wherever they stand; of amounts in words too where nothing else can be meant. */
function plain(v: unknown, words: boolean): unknown {
  if (v instanceof Quantity) return bound(v);
  if (Array.isArray(v)) return v.map((x) => plain(x, words));
  return words && typeof v === "string" ? bound(v) : v;
}

function plainOption(name: string, v: unknown): unknown {
  if (name === "marks" && Array.isArray(v))
    return v.map((m: Options) => Object.fromEntries(Object.keys(m).map((k) => [k, plain(m[k], k !== "text")])));
  return plain(v, name.endsWith("Range") || amounts.has(name));
}

const drawn =
  (kind: string) =>
  (data: unknown, options: Options = {}): Chart =>
    layer(kind, data, options);

export const chart = {
  ...Object.fromEntries(libraryForms.charts.map(({ name }) => [name, drawn(name)])),
  layers: (charts: Chart[], options: Options = {}): Chart => {
    const merged: Options = {};
    for (const c of charts)
      for (const k of Object.keys(c.$options))
        if (c.$options[k] !== undefined && merged[k] === undefined) merged[k] = c.$options[k];
    for (const k of Object.keys(options)) merged[k] = plainOption(k, options[k]);
    return new Chart(
      charts.flatMap((c) => c.$layers),
      merged,
    );
  },
};

/** A picture, to be handed to `emit.picture`. */
export class Picture {
  constructor(
    readonly $id: number,
    readonly $options: Options,
  ) {}
}

function pictured(data: unknown, options: Options, frames: boolean): Picture {
  const { range, contours, ...rest } = options;
  const plainOptions = {
    ...rest,
    ...(frames && { frames }),
    ...(range !== undefined && { range: Array.isArray(range) ? plain(range, true) : range }),
    ...(contours !== undefined && { contours: Array.isArray(contours) ? plain(contours, true) : contours }),
  };
  const made = (runs: (string | null)[], missing: unknown, inputs: number[]): Picture =>
    new Picture(node("picture", { runs, missing, options: plainOptions }, inputs), options);
  if (data instanceof RunMap) {
    const { runs, missing } = data.$args() as unknown as { runs: string[]; missing: unknown };
    return made(runs, missing, data.$inputs());
  }
  const list = Array.isArray(data) ? data : [data];
  if (list.length === 0 || !list.every((v) => v instanceof Table))
    throw new ScriptError("a picture draws what field.surface(…) gives: one, a list of them, or one of each run");
  return made(
    list.map(() => null),
    [],
    (list as Table[]).map((v) => v.$id),
  );
}

export const picture = {
  panels: (data: unknown, options: Options = {}): Picture => pictured(data, options, false),
  frames: (data: unknown, options: Options = {}): Picture => pictured(data, options, true),
};

const used = new Map<string, number>();
let named = false;

function announce(kind: string, name: string, id: number | null, options: Options): void {
  if (typeof name !== "string" || name.trim() === "") throw new ScriptError(`emit.${kind}: the output needs a name`);
  const line = scriptLine();
  const before = used.get(name);
  if (before !== undefined)
    throw new ScriptError(
      `emit.${kind}: line ${before % 1_000_000} has emitted "${name}" already; give this one another name`,
    );
  used.set(name, line);
  flush();
  host.emit(JSON.stringify({ kind, name, node: id, options: encode(options), line }));
}

/** A node and options as `emit` hands them over; what is given is not what the word takes where there is none. */
type Taken = { readonly node: number | null; readonly options: Options } | string;

function tableTaken(data: unknown, options: Options): Taken {
  if (data instanceof Fit) return { node: data.terms().$id, options: { formats: ["csv", "json"], ...options } };
  if (data instanceof Agreement) return { node: data.summary().$id, options: { formats: ["csv", "json"], ...options } };
  if (data instanceof Table) return { node: data.$id, options };
  if (!(data instanceof RunMap)) return "takes a table, or the tables of a set of runs";
  const layout = options["layout"] ?? "stacked";
  if (layout === "stacked" || layout === "each") return { node: data.stack().$id, options };
  if (layout === "wide") return { node: data.wide(String(options["column"])).$id, options };
  return `has no layout "${String(layout)}": use "stacked", "wide" or "each"`;
}

function chartTaken(data: unknown, options: Options): Taken {
  if (!(data instanceof Chart)) return "takes what chart.lines, chart.band and the other kinds of charts give";
  const inputs = data.$layers.flatMap((l) => l.inputs);
  const layers = data.$layers.map((l) => ({
    kind: l.kind,
    count: l.inputs.length,
    source: l.source,
    options: l.options,
  }));
  return {
    node: node("chart", { layers, options: data.$options }, inputs),
    options: { ...options, size: data.$options["size"], resolution: data.$options["resolution"] },
  };
}

function pictureTaken(data: unknown, options: Options): Taken {
  if (!(data instanceof Picture)) return "takes what picture.panels or picture.frames gives";
  const { size, resolution } = data.$options;
  return { node: data.$id, options: { ...options, size: plain(size, false), resolution } };
}

function checkTaken(data: unknown, limits: Options): Taken {
  if (!(data instanceof Quantity)) return 'takes a quantity, as in t.max("T")';
  const inputs: number[] = [data.$id];
  const said: Options = {};
  for (const key of ["below", "above", "within", "equal"]) {
    const v = limits[key];
    if (v === undefined) continue;
    const parts = Array.isArray(v) ? v : [v];
    said[key] = parts.map((p: unknown) => {
      if (p instanceof Quantity && !p.$known) {
        inputs.push(p.$id);
        return { input: inputs.length - 1 };
      }
      return bound(p);
    });
  }
  if (Object.keys(said).length === 0) return "needs a limit: below, above, within or equal";
  const { missing = "undecided", conditions = "undecided" } = limits;
  return { node: node("check", { ...said, missing, conditions }, inputs), options: {} };
}

/** What words of `emit` take, by what their forms say. */
const takers: Readonly<Record<string, (data: unknown, options: Options) => Taken>> = {
  table: tableTaken,
  chart: chartTaken,
  picture: pictureTaken,
  check: checkTaken,
  quantity: (data, options) => (data instanceof Quantity ? { node: data.$id, options } : "takes a quantity"),
  words: (data) =>
    data instanceof Lazy ? "takes words; use .value for a number" : { node: null, options: { text: String(data) } },
};

function emitted(kind: string, takes: string): (name: string, data: unknown, options?: Options) => void {
  if (takes === "nothing") return (name, options) => announce(kind, name, null, (options as Options | undefined) ?? {});
  return (name, data, options = {}) => {
    const taken = takers[takes]!(data, options);
    if (typeof taken === "string") throw new ScriptError(`emit.${kind} ${taken}`);
    announce(kind, name, taken.node, taken.options);
  };
}

function naming(rule: Options): void {
  if (named) throw new ScriptError("emit.naming: the names have been ruled already");
  named = true;
  for (const key of ["file", "each"])
    if (rule[key] !== undefined && typeof rule[key] !== "string")
      throw new ScriptError(`emit.naming: ${key} is a text, as in "{output}-{run}"`);
  if (rule["folders"] !== undefined && !["flat", "output", "run"].includes(String(rule["folders"])))
    throw new ScriptError('emit.naming: folders: use "flat", "output" or "run"');
  flush();
  host.emit(JSON.stringify({ kind: "naming", name: "", node: null, options: encode(rule), line: scriptLine() }));
}

export const emit = {
  ...Object.fromEntries(libraryForms.outputs.map(({ name, takes }) => [name, emitted(name, takes)])),
  naming,
};
