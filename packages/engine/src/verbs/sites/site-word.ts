import { z } from "zod";
import { siteSchema, type Site } from "@oxtrum/core/sampling";
import { makeTable } from "@oxtrum/core/tables";
import { text } from "../parameters/kinds.js";
import type { Declared } from "../parameters/declaration.js";
import type { Given, Parameter, Parameters } from "../parameters/parameter.js";
import { Mistake } from "../values.js";
import { placesFile } from "./site-parameters.js";

const placesTable = placesFile.extend({
  columns: z.strictObject({ x: z.string(), y: z.string(), z: z.string(), name: z.string().optional() }),
});
/** A table beside the runs whose columns x, y and z are places. */
export type PlacesTable = z.infer<typeof placesTable>;
/** Places that stand in a table: they are read before the field is. */
export interface TabledSite {
  readonly kind: "points of a table";
  readonly table: PlacesTable;
  readonly block?: string | undefined;
}
const tabledSchema = z.strictObject({
  kind: z.literal("points of a table"),
  table: placesTable,
  block: z.string().optional(),
});

/** What a script can mean by a site. */
export type AskedSite = Site | TabledSite;

interface Definition<P extends Parameters> extends Declared {
  readonly parameters: P;
  /** The site that is meant. */
  site(given: Given<P>): AskedSite;
}

/** A word for a site: its form for the sandbox, its declaration, and what it means. */
export interface SiteWord extends Declared {
  readonly name: string;
  readonly parameters: Parameters;
  readonly schema: z.ZodType;
  site(args: Readonly<Record<string, unknown>>): AskedSite;
}

/** Makes a word for a site; `block` is an option of every one. */
export function siteWord<const P extends Parameters>(d: Definition<P>): SiteWord {
  const entries = Object.entries(d.parameters) as [string, Parameter<unknown>][];
  const parameters: Parameters = { ...d.parameters, block: text().option().optional() };
  const shapes = Object.entries(parameters).map(([name, p]) => p.shape(name));
  return {
    ...d,
    parameters,
    shared: { type: "InBlock", options: ["block"] },
    schema: z.strictObject(Object.assign({}, ...shapes) as z.ZodRawShape),
    site: (args) => {
      const scope = { verb: `at.${d.name}`, table: makeTable([]), args, inputs: [] };
      const given = Object.fromEntries(entries.map(([name, p]) => [name, p.resolve(name, scope)]));
      const site = d.site(given as Given<P>);
      return args["block"] === undefined ? site : { ...site, block: args["block"] as string };
    },
  };
}

const described = (given: unknown): AskedSite =>
  (given as { kind?: unknown } | null)?.kind === "points of a table"
    ? tabledSchema.parse(given)
    : siteSchema.parse(given);

/** A site as a script names it (`{ at: "line", … }`), or as core describes it; gives what core describes. */
export const siteArgument = (words: readonly SiteWord[]): z.ZodType<AskedSite> => {
  const byName = new Map(words.map((w) => [w.name, w]));
  return z.unknown().transform((given, context) => {
    const { at, ...args } = (given ?? {}) as { at?: unknown };
    const word = typeof at === "string" ? byName.get(at) : undefined;
    try {
      if (at !== undefined && !word) throw new Mistake(`there is no site at.${String(at)}`);
      return described(word ? word.site(word.schema.parse(args) as Record<string, unknown>) : given);
    } catch (e) {
      const issue = e instanceof z.ZodError ? e.issues[0]! : undefined;
      const where = issue && issue.path.length > 0 ? `, ${issue.path.join(".")}` : "";
      const message = issue ? `${word ? `at.${word.name}` : "site"}${where}: ${issue.message}` : (e as Error).message;
      context.addIssue({ code: "custom", message });
      return z.NEVER;
    }
  }) as unknown as z.ZodType<AskedSite>;
};
