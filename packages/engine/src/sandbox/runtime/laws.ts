import { addMethods, functionOf, Noun } from "./nouns.js";
import { libraryForms } from "./record.js";

/** A published law. Its methods come from their forms. */
export class Law extends Noun {}
addMethods(Law, libraryForms.methods.law);

export const law = (name: string): Law => new Law({ law: name }, []);

const functions = Object.fromEntries(libraryForms.functions.map((form) => [form.name, functionOf(form)]));

/** A formula of quantities: `calc("sqrt(4 * F / (pi * tau))", { F, tau }, { unit: "mm" })`. */
export const calc = functions["calc"]!;

/** Several tables on one axis. */
export const together = functions["together"]!;
