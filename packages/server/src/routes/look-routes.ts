import { Hono } from "hono";
import { z } from "zod";
import { valid } from "../answers.js";
import type { Looks } from "../looks/looks.js";

const lookSchema = z.object({
  text: z.string().max(200_000),
  script: z.string().max(200).optional(),
  lane: z.string().max(100),
});

export function lookRoutes(looks: Looks): Hono {
  return new Hono().post("/", valid("json", lookSchema), async (c) => c.json(await looks.look(c.req.valid("json"))));
}
