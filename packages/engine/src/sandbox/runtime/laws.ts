import { node, ScriptError } from "./record.js";
import { constantInput, lawInputs, Quantity, toQuantity } from "./quantities.js";
import { Table } from "./tables.js";

type Options = Record<string, unknown>;

/** Text with a unit are quantities where no column can be meant. */
function quantities(given: Options): Options {
  const out: Options = {};
  for (const name of Object.keys(given)) out[name] = toQuantity(given[name] as Quantity | string | number);
  return out;
}

/** A published law. */
export class Law {
  constructor(readonly $name: string) {}
  at(given: Options, options: Options = {}): Quantity {
    const { args, inputs } = lawInputs(quantities(given), 0);
    return new Quantity(node("law.at", { law: this.$name, inputs: args, outside: options["outside"] }, inputs));
  }
  curve(given: Options, options: Options = {}): Table {
    const over = Object.keys(given).filter((k) => Array.isArray(given[k]));
    const [name] = over;
    if (over.length !== 1 || name === undefined)
      throw new ScriptError("law: a curve runs over one input, given as [from, to], as in { Re: [4000, 1e5] }");
    const { [name]: stretch, ...rest } = given;
    const [from, to] = stretch as unknown[];
    const { args, inputs } = lawInputs(quantities({ from, to, ...rest }), 0);
    const { from: a, to: b, ...others } = args;
    return new Table(
      node(
        "law.curve",
        {
          law: this.$name,
          over: name,
          from: a,
          to: b,
          inputs: others,
          points: options["points"] ?? 100,
          steps: options["steps"] ?? "even",
          outside: options["outside"],
        },
        inputs,
      ),
    );
  }
}

export const law = (name: string): Law => new Law(name);

/** A formula of quantities: `calc("sqrt(4 * F / (pi * tau))", { F, tau }, { unit: "mm" })`. */
export function calc(formula: string, values: Options = {}, options: Options = {}): Quantity {
  const inputs: number[] = [];
  const constants: Options = {};
  for (const name of Object.keys(values)) constants[name] = constantInput(values[name], inputs, 0);
  return new Quantity(node("quantity.formula", { formula, unit: options["unit"], constants }, inputs));
}

/** Several tables on one axis. */
export function together(tables: Record<string, Table>, options: Options = {}): Table {
  const names = Object.keys(tables);
  for (const n of names) if (!(tables[n] instanceof Table)) throw new ScriptError(`together: "${n}" is not a table`);
  const { axis, ...rest } = options;
  const step = axis !== null && typeof axis === "object" ? { step: toStep((axis as Options)["step"]) } : axis;
  return new Table(
    node(
      "together",
      { names, ...rest, axis: step },
      names.map((n) => tables[n]!.$id),
    ),
  );
}

function toStep(v: unknown): unknown {
  if (typeof v === "number") return v;
  const q = toQuantity(v as Quantity | string);
  return { value: q.value, unit: q.unit };
}
