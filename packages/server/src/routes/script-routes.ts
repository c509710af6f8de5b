import { Hono } from "hono";
import { z } from "zod";
import {
  additionRequestSchema,
  emittedRequestSchema,
  offsetSchema,
  renameScriptSchema,
  saveScriptSchema,
  textSchema,
} from "@oxtrum/contract";
import { valid } from "../answers.js";
import type { Checker } from "../checks/checker.js";
import type { Jobs } from "../jobs/jobs.js";
import type { Scripts } from "../scripts.js";
import type { Studies } from "../studies.js";

export function scriptRoutes(scripts: Scripts, studies: Studies, checker: Checker, jobs: Jobs): Hono {
  const material = async (
    name: string,
    t: string,
  ): Promise<{ files: Record<string, string>; types: Record<string, string> }> => ({
    files: await scripts.withSiblings(name, t),
    types: Object.fromEntries((await studies.all()).map((s) => [s.name, s.types])),
  });
  const at = async (kind: "complete" | "hover", file: string, place: z.infer<typeof offsetSchema>): Promise<object> =>
    (await checker.ask({ kind, ...(await material(file, place.text)), file, offset: place.offset })) as object;
  return new Hono()
    .get("/", async (c) => c.json(await scripts.list()))
    .get("/:name", async (c) => c.json(await scripts.get(c.req.param("name"))))
    .put("/:name", valid("json", saveScriptSchema), async (c) => {
      const { text, base, auto } = c.req.valid("json");
      return c.json(await scripts.save(c.req.param("name"), text, base, auto));
    })
    .post("/:name/rename", valid("json", renameScriptSchema), async (c) => {
      await scripts.rename(c.req.param("name"), c.req.valid("json").to);
      return c.body(null, 204);
    })
    .delete("/:name", async (c) => {
      await jobs.removeOf(c.req.param("name"));
      await scripts.remove(c.req.param("name"));
      return c.body(null, 204);
    })
    .get("/:name/revisions", async (c) => c.json(await scripts.revisions(c.req.param("name"))))
    .get(
      "/:name/revisions/:number",
      valid("param", z.object({ name: z.string(), number: z.coerce.number().int() })),
      async (c) => c.json({ text: await scripts.revision(c.req.valid("param").name, c.req.valid("param").number) }),
    )
    .post("/:name/check", valid("json", textSchema), async (c) => {
      const { files, types } = await material(c.req.param("name"), c.req.valid("json").text);
      const { diagnostics } = await checker.check(files, types, true);
      return c.json({ diagnostics });
    })
    .post("/:name/addition", valid("json", additionRequestSchema), async (c) =>
      c.json((await checker.ask({ kind: "addition", ...c.req.valid("json") })) as object),
    )
    .post("/:name/emitted", valid("json", emittedRequestSchema), async (c) =>
      c.json((await checker.ask({ kind: "emitted", ...c.req.valid("json") })) as object),
    )
    .post("/:name/preflight", valid("json", textSchema), async (c) =>
      c.json(await jobs.preflight(c.req.param("name"), c.req.valid("json").text)),
    )
    .post("/:name/complete", valid("json", offsetSchema), async (c) =>
      c.json(await at("complete", c.req.param("name"), c.req.valid("json"))),
    )
    .post("/:name/hover", valid("json", offsetSchema), async (c) =>
      c.json(await at("hover", c.req.param("name"), c.req.valid("json"))),
    );
}
