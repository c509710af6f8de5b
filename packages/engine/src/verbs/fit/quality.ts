import { z } from "zod";
import { numbers, stepOf } from "@oxtrum/core/tables";
import { quantityValue } from "../arguments.js";
import { fitOperation } from "./fit-operation.js";

const ofPeaks = (method: string): string[] => [`fit.linear(peaks, { y: "peak", x: "open" }).${method}()`];

export const quality = fitOperation({
  name: "fit.quality",
  version: 3,
  gives: "quantity",
  parameters: {},
  fixed: { what: z.enum(["rSquared", "adjusted", "residual", "points"]) },
  methods: [
    {
      name: "rSquared",
      doc: "R², of logarithms where the fit was made in these.",
      examples: ofPeaks("rSquared"),
      fixed: { what: "rSquared" },
      returns: "Quantity",
    },
    {
      name: "adjusted",
      doc: "R², adjusted for the number of constants.",
      examples: ofPeaks("adjusted"),
      fixed: { what: "adjusted" },
      returns: "Quantity",
    },
    {
      name: "residual",
      doc: "The standard deviation of the residuals.",
      examples: ofPeaks("residual"),
      fixed: { what: "residual" },
      returns: "Quantity",
    },
  ],
  execute: (f, _, __, { what }) => quantityValue({ value: f[what], unit: what === "residual" ? f.residualUnit : "1" }),
  foresee: (table, r, { what }) => {
    const inY = what === "residual" && r.kind !== "power" && r.kind !== "exponential";
    return quantityValue({ value: Number.NaN, unit: inY ? stepOf(numbers(table, r.y).unit).unit : "1" });
  },
});
