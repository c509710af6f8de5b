import { Hono } from "hono";
import { lookRequestSchema } from "@oxtrum/contract";
import { valid } from "../answers.js";
import type { Looks } from "../looks/looks.js";

export function lookRoutes(looks: Looks): Hono {
  return new Hono().post("/", valid("json", lookRequestSchema), async (c) =>
    c.json(await looks.look(c.req.valid("json"))),
  );
}
