import { z } from "zod";

/** A number, or null where it is missing. */
export const numberOrNull = z.number().nullable();

/** Where in which file something is wrong, and how to fix it. */
export const faultShape = {
  file: z.string().optional(),
  line: z.number().optional(),
  /** The byte, in binary files. */
  offset: z.number().optional(),
  hint: z.string().optional(),
};

/** A run that a result excludes, and why. */
export const excludedRunSchema = z.object({ run: z.string(), reason: z.string(), ...faultShape });
export type ExcludedRun = z.infer<typeof excludedRunSchema>;

/** A text with its level, and the file and line that it belongs to. */
export const messageSchema = z.object({ level: z.enum(["note", "warning", "error"]), text: z.string(), ...faultShape });
