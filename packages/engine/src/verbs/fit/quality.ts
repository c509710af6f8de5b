import { z } from "zod";
import { numbers, stepOf } from "@oxtrum/core/tables";
import { quantityValue } from "../arguments.js";
import type { MethodDefinition } from "../parameters/method.js";
import { fitOperation } from "./fit-operation.js";

const method = (name: string, doc: string): MethodDefinition => ({
  name,
  doc,
  examples: [`fit.linear(peaks, { y: "peak", x: "open" }).${name}()`],
  fixed: { what: name },
  returns: "Quantity",
});

export const quality = fitOperation({
  name: "fit.quality",
  version: 3,
  gives: "quantity",
  parameters: {},
  fixed: { what: z.enum(["rSquared", "adjusted", "residual", "points"]) },
  methods: [
    method("rSquared", "R², of logarithms where the fit was made in these."),
    method("adjusted", "R², adjusted for the number of constants."),
    method("residual", "The standard deviation of the residuals."),
  ],
  execute: (f, _, __, { what }) => quantityValue({ value: f[what], unit: what === "residual" ? f.residualUnit : "1" }),
  foresee: (table, r, { what }) => {
    const inY = what === "residual" && r.kind !== "power" && r.kind !== "exponential";
    return quantityValue({ value: Number.NaN, unit: inY ? stepOf(numbers(table, r.y).unit).unit : "1" });
  },
});
