import { z } from "zod";

const oneOrMore = z.union([z.string(), z.array(z.string())]);

/** Options that every kind of chart takes. */
export const layerShape = {
  x: z.string().optional(),
  y: oneOrMore.optional(),
  right: oneOrMore.optional(),
  color: z.string().optional(),
  colors: z.enum(["sequential", "categorical"]).optional(),
  dash: z.string().optional(),
  marker: z.string().optional(),
  name: z.string().optional(),
  swapAxes: z.boolean().optional(),
  faint: z.boolean().optional(),
  extremes: z.enum(["min", "max", "both"]).optional(),
};
/** The names of an option that takes one or several. */
export const many = (x: string | readonly string[] | undefined): readonly string[] =>
  x === undefined ? [] : typeof x === "string" ? [x] : x;

export type LayerOptions = z.infer<z.ZodObject<typeof layerShape>>;
