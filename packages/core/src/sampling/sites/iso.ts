import { z } from "zod";
import { displayUnit } from "../../tables/units.js";
import { quantityIn } from "../../tables/quantity.js";
import { TableError, type UnitSymbol } from "../../tables/table.js";
import { askedColumns } from "../field-set.js";
import { isoPieces } from "../pieces.js";
import { partsOf } from "./parts.js";
import { block, siteKind } from "./site-kind.js";

const value = z.union([z.number(), z.object({ value: z.number(), unit: z.string().nullable() })]);
const schema = z.strictObject({ ...block, kind: z.literal("iso"), field: z.string(), value });

/** The value as a number in the field's unit. @throws TableError where only one of the two units is known */
function valueIn(given: z.infer<typeof value>, unit: UnitSymbol): number {
  if (typeof given === "number") return given;
  if (given.unit === null || (unit === null && given.unit === "1")) return given.value;
  if (unit === null)
    throw new TableError(
      `at.iso: ${given.value} ${displayUnit(given.unit)} is given, but the field's unit is unknown; declare it in the study's definition`,
    );
  return quantityIn(given, unit).value;
}

/** The surface on which a field has a value. */
export const iso = siteKind<z.infer<typeof schema>>({
  kind: "iso",
  schema,
  parts: (f, s) => {
    const asked = askedColumns(f.fields, [s.field]);
    if (asked.length !== 1)
      throw new TableError(`"${s.field}" is a vector: name one of its components, as in "${s.field}.mag"`);
    const at = valueIn(s.value, asked[0]!.field.unit);
    return partsOf(
      f.blocks.filter((b) => b.has(asked[0]!.field)),
      (b) => isoPieces(b, asked[0]!, at),
    );
  },
  highestBlocks: true,
  ofCells: true,
  staysOverTime: false,
  picture: {},
});
