import { z } from "zod";
import {
  axis,
  bounds as boundsShape,
  count as countShape,
  lineShape,
  pathShape,
  place as placeShape,
  places as placesShape,
  type Box,
  type Place,
} from "@oxtrum/core/sampling";
import { dictionary } from "../../dictionary.js";
import { boundArg, type Bound } from "../arguments.js";
import { plain } from "../parameters/kinds.js";
import type { Parameter } from "../parameters/parameter.js";
import type { ParameterKind } from "../parameters/form.js";
import { Mistake } from "../values.js";

/** A parameter that names no columns. */
export const shape = <T>(schema: z.ZodType<T>, type: string, kind?: ParameterKind): Parameter<T> =>
  plain(schema, type, undefined, kind);

export const place = (): Parameter<Place> => shape(placeShape, "Place");
export const places = (least?: number): Parameter<readonly Place[]> => shape(placesShape(least), "Place[]");
export const bounds = (): Parameter<Box> => shape(boundsShape as unknown as z.ZodType<Box>, "Bounds");
export const count = (): Parameter<number> => shape(countShape, "number");
export const words = (): Parameter<readonly string[]> => shape(z.array(z.string()), "string[]");
/** One number or several. */
export const numbers = (): Parameter<readonly number[]> =>
  shape<readonly number[]>(z.array(z.number()), "number", "list");
/** An amount whose unit is known with the field only. */
export const rawAmount = (): Parameter<Bound> => shape<Bound>(boundArg, "Amount", "amount");

/** A table beside the runs, as it is read. */
export const placesFile = z.strictObject({
  study: z.string(),
  file: z.string(),
  options: dictionary(z.unknown()).optional(),
});
type PlacesFile = z.infer<typeof placesFile>;
/** A list of places, or a table that holds them. */
export const placesOrTable = (): Parameter<readonly Place[] | PlacesFile> =>
  shape<readonly Place[] | PlacesFile>(
    z.unknown().transform((given, context) => {
      const schema = Array.isArray(given) ? placesShape() : placesFile;
      const read = schema.safeParse(given);
      if (read.success) return read.data;
      for (const i of read.error.issues) context.addIssue({ code: "custom", message: i.message, path: i.path });
      return z.NEVER;
    }) as unknown as z.ZodType<readonly Place[] | PlacesFile>,
    "Place[] | Table<C>",
    "places",
  );

const alongShape = z.union([axis, z.strictObject(pathShape)]);
/** An axis, or a path. */
export const along = (): Parameter<z.infer<typeof alongShape>> =>
  shape(alongShape, '"x" | "y" | "z" | { through: Place[]; spline?: boolean }');

const stationLineShape = z.strictObject({ ...lineShape, count: countShape.optional(), step: z.number().optional() });
export const stationLine = (): Parameter<z.infer<typeof stationLineShape>> =>
  shape(stationLineShape, "{ from: Place; to: Place } & Spacing");

/** How many places lie along a path: said, or from the distance between them; 100 when neither is given. */
export function placesAlong(
  what: string,
  { count, step }: { readonly count?: number | undefined; readonly step?: number | undefined },
  through: readonly Place[],
): number {
  if (step === undefined) return count ?? 100;
  if (count !== undefined) throw new Mistake(`${what}: give count or step, not both`);
  if (!(step > 0)) throw new Mistake(`${what}: the step has to be more than 0`);
  let length = 0;
  for (let k = 1; k < through.length; k++) length += Math.hypot(...through[k]!.map((v, d) => v - through[k - 1]![d]!));
  return Math.max(2, Math.round(length / step) + 1);
}
