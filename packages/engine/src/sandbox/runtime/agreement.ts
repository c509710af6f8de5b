import { node } from "./record.js";
import { bound, Quantity } from "./quantities.js";
import { Table } from "./tables.js";

type Options = Record<string, unknown>;

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
export function agreement(table: Table, reference: Table | string, options: Options): Agreement {
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
