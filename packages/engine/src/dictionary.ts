import { z } from "zod";

/**
 * A schema for values by name, where names are data: parameters, columns, inputs, files. Unlike a plain record of the
 * schema library it keeps every name, `__proto__` too.
 *
 * @example dictionary(z.number()).parse({ fan: 50 })
 */
export const dictionary = <S extends z.ZodType>(
  value: S,
): z.ZodType<Record<string, z.output<S>>, Record<string, z.input<S>>> =>
  z
    .custom<Record<string, z.input<S>>>(
      (v) => v !== null && typeof v === "object" && !Array.isArray(v),
      "expected an object",
    )
    .transform((given, context) => {
      const entries: [string, z.output<S>][] = [];
      for (const [name, v] of Object.entries(given)) {
        const parsed = value.safeParse(v);
        if (parsed.success) entries.push([name, parsed.data]);
        else
          for (const issue of parsed.error.issues)
            context.addIssue({ code: "custom", message: issue.message, path: [name, ...issue.path] });
      }
      return Object.fromEntries(entries) as Record<string, z.output<S>>;
    });
