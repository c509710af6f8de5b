import { Hono } from "hono";
import { previewRequestSchema } from "@oxtrum/contract";
import { valid } from "../answers.js";
import type { Previews } from "../previews/previews.js";

export function previewRoutes(previews: Previews): Hono {
  return new Hono().post("/", valid("json", previewRequestSchema), async (c) =>
    c.json(await previews.preview(c.req.valid("json"))),
  );
}
