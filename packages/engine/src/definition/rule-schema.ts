import { z } from "zod";
import { parseQuantity } from "@oxtrum/core/tables";

/** A limit: a number in the value's own unit, or a quantity's text. */
export const limitSchema = z.unknown().transform((given, c): number | { value: number; unit: string | null } => {
  if (typeof given === "number") return given;
  const known = z.object({ value: z.number(), unit: z.string().nullable() }).safeParse(given);
  if (known.success) return known.data;
  try {
    const { value, unit } = parseQuantity(String(given));
    return { value, unit };
  } catch (e) {
    c.addIssue({ code: "custom", message: (e as Error).message });
    return z.NEVER;
  }
});

/** A rule that a run has to keep to count: a number of one of its tables or logs, and the limit for it. */
export const ruleSchema = z
  .object({
    table: z.string().optional(),
    lines: z.string().optional(),
    /** Patterns for `lines`. */
    read: z.array(z.string()).min(1).optional(),
    /** A formula of whole columns, such as `last(time)` or `range(T_mean)`. */
    value: z.string().min(1),
    /** Only the last so much of the axis. */
    over: limitSchema.optional(),
    /** Only rows that fulfil this formula. */
    where: z.string().optional(),
    below: limitSchema.optional(),
    above: limitSchema.optional(),
    within: z.tuple([limitSchema, limitSchema]).optional(),
  })
  .strict()
  .refine((r) => (r.table === undefined) !== (r.lines === undefined), "a rule reads a table or lines, one of the two")
  .refine((r) => r.lines === undefined || r.read !== undefined, 'a rule on lines needs the patterns in "read"')
  .refine(
    (r) => r.below !== undefined || r.above !== undefined || r.within !== undefined,
    "a rule needs a limit: below, above or within",
  );
