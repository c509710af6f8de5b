import { z } from "zod";
import { missing, stepOf, type UnitSymbol } from "@oxtrum/core/tables";
import { quantityValue } from "../arguments.js";
import type { MethodDefinition } from "../parameters/method.js";
import { agreementOperation } from "./agreement-operation.js";

const measures = ["bias", "rms", "largest", "within", "shift", "correlation"] as const;
type Measure = (typeof measures)[number];

const method = (name: Measure, doc: string, options = "", after = ""): MethodDefinition => ({
  name,
  doc,
  examples: [`t.against(air.get("100_080_none"), { y: "T_mean"${options} }).${name}()${after}`],
  fixed: { what: name },
  returns: "Quantity",
});

const unitOf = (what: Measure, difference: UnitSymbol, axis: UnitSymbol): UnitSymbol =>
  what === "shift" ? axis : what === "within" || what === "correlation" ? "1" : difference;

export const measure = agreementOperation({
  name: "against.measure",
  version: 2,
  gives: "quantity",
  fixed: { what: z.enum(measures) },
  methods: [
    method("bias", "The mean of the differences, this less the reference."),
    method("rms", "The root of their mean square."),
    method("largest", "The largest difference, with its sign; `.at` is where.", "", ".at"),
    method("within", "The fraction of points within the tolerance.", ', within: "0.5 K"'),
    method("shift", "By how much the table was moved along its axis.", ', shift: "estimate", maxLag: "60 s"'),
    method("correlation", "Pearson's correlation of the two."),
  ],
  execute: (found, { what }) => {
    const unit = unitOf(what, found.differenceUnit, found.axis.unit);
    const value = found[what];
    if (value !== value) {
      const why = what === "within" ? "no tolerance was given: { within: … }" : "one side does not change";
      return quantityValue(missing(why, unit));
    }
    const at = what === "largest" ? { at: { ...found.axis, value: found.where } } : {};
    return quantityValue({ value, unit, method: found.notes.join("; "), ...at });
  },
  foresee: ({ unit, axis }, { what }) =>
    quantityValue({ value: Number.NaN, unit: unitOf(what, stepOf(unit).unit, axis.unit) }),
});
