import { z } from "zod";

export const reportOptionsSchema = z.object({
  title: z.string().optional(),
  subtitle: z.string().optional(),
  /** Markdown; `{{name}}` on a line of its own puts that output there, within a line it is filled in. */
  notes: z.string().max(1_000_000).optional(),
  /** Markdown of the first page; `{{title}}`, `{{subtitle}}`, `{{study}}`, `{{runs}}`, `{{script}}` are filled in. */
  cover: z.string().max(100_000).optional(),
  /** Which outputs follow the notes, in this order; all that the notes do not show when not given. */
  outputs: z.array(z.string()).optional(),
  runs: z.boolean().default(true),
  script: z.boolean().default(true),
  formats: z
    .array(z.enum(["html", "pdf"]))
    .min(1)
    .default(["html", "pdf"]),
});
export type ReportOptions = z.infer<typeof reportOptionsSchema>;
