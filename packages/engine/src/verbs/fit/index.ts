/**
 * Fits: each kind of fit with what it takes, and what can be asked of a fit, an operation a file. A script's options
 * flow in, tables and quantities flow out. May import parameters and core.
 */
import type { Declared } from "../parameters/declaration.js";
import { formula } from "../parameters/kinds.js";
import type { AskedOperation } from "../parameters/method.js";
import { at } from "./at.js";
import { bounds, commonParameters, degree, intercept, startNeeded } from "./fit-parameters.js";
import { quality } from "./quality.js";
import { applied, curve, terms } from "./tables.js";
import { term } from "./term.js";

export const fitOperations: readonly AskedOperation[] = [term, at, quality, terms, curve, applied];

/** A kind of fit as scripts begin it: `fit.linear(table, { y, x })`. */
export type FitKind = Declared & { readonly returns: string };

const shared = { type: "FitOptions<C>", options: Object.keys(commonParameters) };

export const fitKinds: readonly FitKind[] = [
  {
    name: "linear",
    doc: "y = constant + a·x₁ + b·x₂ …; without the constant if `intercept` is false.",
    examples: ['fit.linear(peaks, { y: "peak", x: "open" }).terms()'],
    parameters: { ...commonParameters, intercept },
    returns: "Fit",
  },
  {
    name: "polynomial",
    doc: "y = c0 + c1·x + c2·x² …",
    examples: ['fit.polynomial(peaks, { y: "peak", x: "open", degree: 2 }).term("c2")'],
    parameters: { ...commonParameters, degree },
    returns: "Fit",
  },
  {
    name: "power",
    doc: "y = C·x₁ⁿ·x₂ᵐ …, fitted to logarithms.",
    examples: ['fit.power(peaks, { y: "peak", x: ["fan", "open"] }).exponent("fan")'],
    parameters: commonParameters,
    returns: "Fit",
  },
  {
    name: "exponential",
    doc: "y = A·exp(k·x), fitted to logarithms.",
    examples: ['fit.exponential(peaks, { y: "peak", x: "open" }).term("k")'],
    parameters: commonParameters,
    returns: "Fit",
  },
  {
    name: "formula",
    doc:
      "Any formula of the x and of constants, with values to start from and bounds if wanted (Levenberg and " +
      "Marquardt).",
    examples: ['fit.formula(peaks, "a + b * sqrt(open)", { y: "peak", x: "open", start: { a: 270, b: 1 } }).term("b")'],
    parameters: { formula: formula(), ...commonParameters, start: startNeeded, bounds },
    generics: ["S extends { [name: string]: number }"],
    returns: "Fit<Extract<keyof S, string>>",
  },
].map((k) => ({ ...k, shared }));
