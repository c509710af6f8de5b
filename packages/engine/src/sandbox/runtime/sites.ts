import { ScriptError } from "./record.js";
import { bound } from "./quantities.js";
import { Table } from "./tables.js";

type Options = Record<string, unknown>;

/** Where to sample: plain data that verbs of a field take. */
export interface Site {
  readonly kind: string;
  readonly [option: string]: unknown;
}

const triple = (v: unknown, what: string): number[] => {
  if (Array.isArray(v) && v.length === 3 && v.every((x) => typeof x === "number" && Number.isFinite(x)))
    return v as number[];
  throw new ScriptError(`${what}: three numbers are needed, as in [12, 4, 0.1]`);
};
const triples = (v: unknown, what: string): number[][] => {
  if (Array.isArray(v) && v.length > 0) return v.map((p) => triple(p, what));
  throw new ScriptError(`${what}: a list of places is needed, as in [[12, 4, 1], [12, 4, 5]]`);
};
const axes: Record<string, number[]> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

/** How many places: said, or from the distance between them; 100 when neither is given. */
function countOf(options: Options, through: readonly number[][], what: string): number {
  const { count, step } = options as { count?: number; step?: number };
  if (step === undefined) return count ?? 100;
  if (count !== undefined) throw new ScriptError(`${what}: give count or step, not both`);
  if (!(step > 0)) throw new ScriptError(`${what}: the step has to be more than 0`);
  let length = 0;
  for (let k = 1; k < through.length; k++) length += Math.hypot(...through[k]!.map((v, d) => v - through[k - 1]![d]!));
  return Math.max(2, Math.round(length / step) + 1);
}

const line = (from: unknown, to: unknown, options: Options, what: string): Options => {
  const ends = [triple(from, what), triple(to, what)];
  return { from: ends[0], to: ends[1], count: countOf(options, ends, what) };
};

function path(through: unknown, options: Options, what: string): Options {
  const places = triples(through, what);
  return { through: places, ...(options["spline"] === true && { spline: true }) };
}

/** Refuses options that a site does not have; the block is an option of every site. */
function optionsOf(what: string, options: Options, known: readonly string[]): Options {
  for (const name of Object.keys(options))
    if (name !== "block" && !known.includes(name))
      throw new ScriptError(
        `${what} has no option "${name}"; there is ${[...known, "block"].map((k) => `"${k}"`).join(", ")}`,
      );
  return options["block"] === undefined ? {} : { block: options["block"] };
}

const numbered = (kind: string, what: string, ids: unknown, options: Options): Site => ({
  kind,
  ids: Array.isArray(ids) ? ids : [ids],
  ...optionsOf(what, options, []),
});

/** Sites by name. */
export const at = {
  point: (place: unknown, options: Options = {}): Site => ({
    kind: "points",
    places: [triple(place, "at.point")],
    ...optionsOf("at.point", options, ["name"]),
    ...(options["name"] !== undefined && { names: [options["name"]] }),
  }),
  points: (places: unknown, options: Options = {}): Site => {
    if (places instanceof Table) {
      if (!places.$file)
        throw new ScriptError(
          "at.points: a table of places has to be one beside the runs, as it is read: study(…).table(…)",
        );
      const block = optionsOf("at.points", options, ["x", "y", "z", "name"]);
      const { x = "x", y = "y", z = "z", name } = options as Record<string, string | undefined>;
      return {
        kind: "points of a table",
        ...block,
        table: { ...places.$file, columns: { x, y, z, ...(name !== undefined && { name }) } },
      };
    }
    return {
      kind: "points",
      places: triples(places, "at.points"),
      ...optionsOf("at.points", options, ["names"]),
      ...(options["names"] !== undefined && { names: options["names"] }),
    };
  },
  line: (from: unknown, to: unknown, options: Options = {}): Site => ({
    kind: "line",
    ...line(from, to, options, "at.line"),
    ...optionsOf("at.line", options, ["count", "step"]),
  }),
  path: (through: unknown, options: Options = {}): Site => ({
    kind: "path",
    ...path(through, options, "at.path"),
    ...optionsOf("at.path", options, ["count", "step", "spline"]),
    count: countOf(options, triples(through, "at.path"), "at.path"),
  }),
  grid: (options: Options): Site => ({
    kind: "grid",
    ...optionsOf("at.grid", options, ["origin", "step", "count"]),
    origin: triple(options["origin"], "at.grid, origin"),
    step: triple(options["step"], "at.grid, step"),
    count: triple(options["count"], "at.grid, count"),
  }),
  plane: (given: Options): Site => {
    const block = optionsOf("at.plane", given, ["x", "y", "z", "through", "normal", "bounds"]);
    const bounds = { ...block, ...(given["bounds"] !== undefined && { bounds: given["bounds"] }) };
    const named = Object.keys(axes).find((a) => given[a] !== undefined);
    if (named !== undefined)
      return {
        kind: "plane",
        point: axes[named]!.map((n) => n * (given[named] as number)),
        normal: axes[named],
        ...bounds,
      };
    return {
      kind: "plane",
      point: triple(given["through"], "at.plane, through"),
      normal: triple(given["normal"], "at.plane, normal"),
      ...bounds,
    };
  },
  patch: (match: string, options: Options = {}): Site => ({
    kind: "patch",
    match,
    ...optionsOf("at.patch", options, []),
  }),
  block: (match: string, options: Options = {}): Site => ({
    kind: "patch",
    match,
    ...optionsOf("at.block", options, []),
  }),
  all: (options: Options = {}): Site => ({ kind: "all", ...optionsOf("at.all", options, []) }),
  column: (place: unknown, options: Options = {}): Site => {
    if (!Array.isArray(place) || place.length !== 2 || !place.every((v) => typeof v === "number"))
      throw new ScriptError("at.column: two numbers are needed, as in [12, 4]");
    const { from, to } = options;
    return {
      kind: "column",
      ...optionsOf("at.column", options, ["along", "from", "to", "count"]),
      place,
      along: options["along"] ?? "z",
      ...(from !== undefined && { from }),
      ...(to !== undefined && { to }),
      count: options["count"] ?? 200,
    };
  },
  stations: (options: Options): Site => {
    const { along, bounds } = options;
    const across = options["line"] as Options | undefined;
    return {
      kind: "stations",
      ...optionsOf("at.stations", options, ["along", "from", "to", "count", "bounds", "line"]),
      along:
        typeof along === "string"
          ? along
          : path((along as Options | undefined)?.["through"], (along as Options) ?? {}, "at.stations, along"),
      from: options["from"],
      to: options["to"],
      count: options["count"] ?? 100,
      ...(bounds !== undefined && { bounds }),
      ...(across !== undefined && { line: line(across["from"], across["to"], across, "at.stations, line") }),
    };
  },
  node: (ids: unknown, options: Options = {}): Site => numbered("nodes", "at.node", ids, options),
  cell: (ids: unknown, options: Options = {}): Site => numbered("cells", "at.cell", ids, options),
  iso: (field: string, value: unknown, options: Options = {}): Site => ({
    kind: "iso",
    field,
    value: bound(value),
    ...optionsOf("at.iso", options, []),
  }),
};
