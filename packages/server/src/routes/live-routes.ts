import { Hono } from "hono";
import { liveRequestSchema, logMatchRequestSchema, logRequestSchema } from "@oxtrum/contract";
import { valid } from "../answers.js";
import type { Following } from "../following/following.js";

/** Runs as they are computed: states, quantities, and what patterns find in logs. */
export function liveRoutes(following: Following): Hono {
  return new Hono()
    .post("/:name/live", valid("json", liveRequestSchema), async (c) =>
      c.body(await following.read(c.req.param("name"), c.req.valid("json")), 200, {
        "content-type": "application/json",
      }),
    )
    .post("/:name/log/lines", valid("json", logRequestSchema), async (c) => {
      const { run, file } = c.req.valid("json");
      return c.json((await following.logLines(c.req.param("name"), run, file)) as object);
    })
    .post("/:name/log/match", valid("json", logMatchRequestSchema), async (c) => {
      const { run, file, patterns, options } = c.req.valid("json");
      return c.json((await following.logMatch(c.req.param("name"), run, file, patterns, options)) as object);
    });
}
