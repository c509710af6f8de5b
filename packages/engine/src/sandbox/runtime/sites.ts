import { argumentsOf } from "./arguments.js";
import { libraryForms } from "./record.js";

/** Where to sample: plain data that verbs of a field take. */
export interface Site {
  readonly at: string;
  readonly [option: string]: unknown;
}

/** Sites by name, from their forms. */
export const at: Readonly<Record<string, (...given: unknown[]) => Site>> = {};

for (const form of libraryForms.sites) {
  const name = form.name.slice("at.".length);
  Object.defineProperty(at, name, {
    enumerable: true,
    value: (...given: unknown[]): Site => ({ at: name, ...argumentsOf(form, given).args }),
  });
}
Object.freeze(at);
