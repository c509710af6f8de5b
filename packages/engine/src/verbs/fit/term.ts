import { z } from "zod";
import { fitTerms, type FitRequest } from "@oxtrum/core/statistics";
import { missing, NoSuchColumn } from "@oxtrum/core/tables";
import { quantityValue } from "../arguments.js";
import { text } from "../parameters/kinds.js";
import type { MethodDefinition } from "../parameters/method.js";
import { fitOperation } from "./fit-operation.js";

const has = (r: FitRequest, name: string): void => {
  if (!fitTerms(r).includes(name)) throw new NoSuchColumn(name, fitTerms(r));
};

/** A method that gives one number of a constant. */
const one = (name: string, doc: string, kind: string, x: string, what: string): MethodDefinition => ({
  name,
  doc,
  examples: [`fit.${kind}(peaks, { y: "peak", x: "${x}" }).${name}("${x}")`],
  fixed: { what },
  returns: "Quantity",
});

export const term = fitOperation({
  name: "fit.term",
  version: 3,
  gives: "quantity",
  parameters: { term: text("T | Computed").called("name") },
  fixed: { what: z.enum(["value", "error", "lower", "upper", "pValue"]) },
  methods: [
    one("term", "A constant, by its name.", "linear", "open", "value"),
    one("exponent", "The same, for the exponents of a power law.", "power", "fan", "value"),
    one("error", "A constant's standard error.", "linear", "open", "error"),
    one(
      "pValue",
      "The two-sided p-value of a constant against 0 (Student's t); missing for factors fitted as logarithms.",
      "linear",
      "open",
      "pValue",
    ),
    {
      name: "interval",
      doc: "The ends of a constant's confidence interval (Student's t).",
      examples: ['fit.linear(peaks, { y: "peak", x: "open" }).interval("open").lower'],
      parts: { lower: { what: "lower" }, upper: { what: "upper" } },
      returns: "{ lower: Quantity; upper: Quantity }",
    },
  ],
  execute: (f, _, r, { term: name, what }) => {
    has(r, name);
    const t = f.terms.find((x) => x.name === name)!;
    const method = `${r.kind} fit, ${f.points} points`;
    if (what === "pValue" && Number.isNaN(t.pValue))
      return quantityValue({ ...missing("a factor that is fitted as a logarithm has no p-value", "1"), method });
    const unit = what === "error" ? t.errorUnit : what === "pValue" ? "1" : t.unit;
    return quantityValue({ value: t[what], unit, method });
  },
  // The unit of a constant is known when the law is fitted.
  foresee: (_, r, { term: name, what }) => {
    has(r, name);
    return what === "pValue" ? quantityValue({ value: Number.NaN, unit: "1" }) : undefined;
  },
});
