import { z } from "zod";

export const guideSchema = z.array(
  z.object({
    name: z.string(),
    title: z.string(),
    text: z.string(),
    entries: z.array(
      z.object({
        name: z.string(),
        signatures: z.array(z.string()),
        text: z.string(),
        examples: z.array(z.string()),
      }),
    ),
  }),
);
export type Guide = z.infer<typeof guideSchema>;
