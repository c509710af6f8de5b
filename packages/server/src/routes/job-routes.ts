import { Hono } from "hono";
import { startJobSchema } from "@oxtrum/contract";
import { valid } from "../answers.js";
import type { Jobs } from "../jobs/jobs.js";
import type { References } from "../jobs/references.js";
import { liveStream } from "../live-streams.js";
import type { News } from "../news.js";
import { problem } from "../store/problem.js";
import type { JobFiles } from "./job-file-routes.js";
import { idOf, idParam } from "./job-id.js";

/** Jobs: begun, stopped, listed, removed, made the reference of their script. */
export function jobRoutes(jobs: Jobs, references: References, files: JobFiles, news: News): Hono {
  return new Hono()
    .get("/", async (c) => {
      const pinned = await references.all();
      return c.json(
        (await jobs.list(Object.values(pinned), c.req.query("tries") === "true")).map((j) => ({
          ...j,
          ...(pinned[j.script] === j.id && { pinned: true }),
        })),
      );
    })
    .post("/", valid("json", startJobSchema), async (c) => c.json(await jobs.start(c.req.valid("json")), 201))
    .get("/:id", idParam, async (c) => {
      const id = idOf(c.req.param("id"));
      const head = await jobs.get(id);
      const reference = (await references.all())[head.script];
      const { runs, files } = await jobs.request(id);
      return c.json({
        ...head,
        live: jobs.live(id),
        runsAsked: runs ?? null,
        files,
        ...(reference !== undefined && { reference }),
      });
    })
    .delete("/:id", idParam, async (c) => {
      const id = idOf(c.req.param("id"));
      const head = await jobs.get(id);
      if ((await references.all())[head.script] === id)
        throw problem(409, `Job ${id} is the reference of ${head.script}: take that back first.`);
      await jobs.remove(id);
      return c.body(null, 204);
    })
    .post("/:id/stop", idParam, async (c) => {
      await jobs.stop(idOf(c.req.param("id")));
      return c.body(null, 202);
    })
    .get("/:id/events", idParam, (c) => {
      const id = idOf(c.req.param("id"));
      return liveStream(c, news, (m) => "resync" in m || ("job" in m && m.job === id));
    })
    .put("/:id/pin", idParam, async (c) => {
      const id = idOf(c.req.param("id"));
      files.finished(id);
      await references.pin((await jobs.get(id)).script, id);
      news.changed("job", id, Date.now());
      return c.body(null, 204);
    })
    .delete("/:id/pin", idParam, async (c) => {
      const id = idOf(c.req.param("id"));
      await references.pin((await jobs.get(id)).script, undefined);
      news.changed("job", id, Date.now());
      return c.body(null, 204);
    });
}
