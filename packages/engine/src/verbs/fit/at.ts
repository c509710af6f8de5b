import { numbers } from "@oxtrum/core/tables";
import { boundIn, quantityValue } from "../arguments.js";
import { boundsByName } from "../parameters/kinds.js";
import { Mistake } from "../values.js";
import { fitOperation } from "./fit-operation.js";

export const at = fitOperation({
  name: "fit.at",
  version: 1,
  gives: "quantity",
  parameters: { place: boundsByName("{ [x: string]: Amount }") },
  fixed: {},
  methods: [
    {
      name: "at",
      doc: "What the law gives for given values.",
      examples: ['fit.linear(peaks, { y: "peak", x: "open" }).at({ open: "60 s" })'],
      returns: "Quantity",
    },
  ],
  execute: (f, table, r, { place }) => {
    const x = r.x.map((n) => {
      if (place[n] === undefined) throw new Mistake(`at: "${n}" is not given`);
      return boundIn(place[n], numbers(table, n).unit, `at ${n}`);
    });
    return quantityValue({ value: f.at(x).value, unit: numbers(table, r.y).unit, method: `${r.kind} fit` });
  },
  foresee: (table, r) => quantityValue({ value: Number.NaN, unit: numbers(table, r.y).unit }),
});
