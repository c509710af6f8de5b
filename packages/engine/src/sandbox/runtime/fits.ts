import { argumentsOf } from "./arguments.js";
import { addMethods, Noun } from "./nouns.js";
import { libraryForms, ScriptError } from "./record.js";
import { Table } from "./tables.js";

/** A law fitted to a table: its constants, how good it is, and what it gives. Its methods come from their forms. */
export class Fit extends Noun {
  declare readonly terms: () => Table;
}
addMethods(Fit, libraryForms.methods.fit);

/** Kinds of fits, from their forms: `fit.linear(table, { y, x })`. */
export const fit: Readonly<Record<string, (table: unknown, ...given: unknown[]) => Fit>> = Object.fromEntries(
  libraryForms.fits.map((form) => [
    form.name.slice("fit.".length),
    (table: unknown, ...given: unknown[]): Fit => {
      if (!(table instanceof Table)) throw new ScriptError(`${form.name}: a table is needed first`);
      const { args } = argumentsOf(form, given);
      if (args["y"] === undefined) throw new ScriptError(`${form.name}: say which column is y`);
      return new Fit({ kind: form.name.slice("fit.".length), ...args }, [table.$id]);
    },
  ]),
);
