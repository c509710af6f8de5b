import { z } from "zod";
import { valid } from "../answers.js";

/** The number of a job in an address. */
export const idParam = valid(
  "param",
  z
    .object({
      id: z.coerce
        .number()
        .int()
        .min(1)
        .max(2 ** 50),
    })
    .loose(),
);
export const idOf = (text: string): number => Number(text);
