import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { Hono } from "hono";
import { z } from "zod";
import { startJobSchema, toleranceSchema } from "@oxtrum/contract";
import { inside, safeName } from "@oxtrum/engine";
import { download, outputPolicy, valid } from "../answers.js";
import { liveStream } from "../live-streams.js";
import { streamFile } from "../stream-file.js";
import type { Differ } from "../jobs/differ.js";
import type { Jobs } from "../jobs/jobs.js";
import type { References } from "../jobs/references.js";
import type { News } from "../news.js";
import type { Reading } from "../reading/reading.js";
import { problem } from "../store/problem.js";
import type { Studies } from "../studies.js";

const idParam = valid(
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
const idOf = (text: string): number => Number(text);

const kinds: Readonly<Record<string, string>> = {
  ".svg": "image/svg+xml",
  ".png": "image/png",
  ".csv": "text/csv; charset=utf-8",
  ".json": "application/json",
  ".txt": "text/plain; charset=utf-8",
  ".tsv": "text/tab-separated-values; charset=utf-8",
  ".md": "text/markdown; charset=utf-8",
  ".tex": "text/plain; charset=utf-8",
  ".html": "text/html; charset=utf-8",
  ".xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
  ".parquet": "application/vnd.apache.parquet",
  ".pdf": "application/pdf",
};

export function jobRoutes(
  jobs: Jobs,
  studies: Studies,
  references: References,
  differ: Differ,
  reading: Reading,
  news: News,
): Hono {
  const folder = (id: number): string => {
    try {
      return jobs.folder(id);
    } catch {
      throw problem(404, `There is no job ${id}.`);
    }
  };
  const outputs = (id: number): string => path.join(folder(id), "outputs");
  const fileOf = (id: number, name: string): string => {
    let full: string;
    try {
      full = inside(outputs(id), name);
    } catch {
      throw problem(403, "That is not an output of this job.");
    }
    if (!fs.existsSync(full) || !fs.statSync(full).isFile()) throw problem(404, `Job ${id} has no output ${name}.`);
    return full;
  };
  const finished = (id: number): void => {
    if (!fs.existsSync(path.join(outputs(id), "manifest.json")))
      throw problem(404, `Job ${id} has no outputs: it has not run to its end.`);
  };
  const keptFile = (id: number, name: string, ending: string): string => {
    const file = path.join(folder(id), "views", `${safeName(name)}${ending}`);
    if (!fs.existsSync(file)) throw problem(404, `Job ${id} keeps nothing of "${name}".`);
    return file;
  };
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
    .post("/:id/verify", idParam, async (c) => {
      const manifest = path.join(outputs(idOf(c.req.param("id"))), "manifest.json");
      if (!fs.existsSync(manifest)) throw problem(404, "This job has no manifest: it has not run to its end.");
      const folders = Object.fromEntries((await studies.list()).map((s) => [s.name, s.folder]));
      return c.json(await reading.verify(manifest, folders));
    })
    .get("/:id/files/:name", idParam, (c) => {
      const file = fileOf(idOf(c.req.param("id")), c.req.param("name"));
      if (c.req.query("download") !== undefined) download(c, path.basename(file));
      c.header("content-security-policy", outputPolicy);
      return streamFile(c, file, kinds[path.extname(file)] ?? "application/octet-stream");
    })
    .get("/:id/zip", idParam, async (c) => {
      const id = idOf(c.req.param("id"));
      const head = await jobs.get(id);
      finished(id);
      // Packed in another thread into a file of its own, which goes when it has been sent.
      const folder = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-archive-"));
      const remove = (): void => fs.rmSync(folder, { recursive: true, force: true });
      const file = path.join(folder, "job.zip");
      try {
        await reading.archive(outputs(id), file);
      } catch (e) {
        remove();
        throw e;
      }
      download(c, `${head.script.replace(/\.ts$/, "")}-job-${id}.zip`);
      return streamFile(c, file, "application/zip", remove);
    })
    .get("/:id/pictures/:name", idParam, (c) =>
      streamFile(c, keptFile(idOf(c.req.param("id")), c.req.param("name"), ".png"), "image/png"),
    )
    .get("/:id/reports/:name", idParam, (c) => {
      c.header("content-security-policy", outputPolicy);
      return streamFile(c, keptFile(idOf(c.req.param("id")), c.req.param("name"), ".html"), "text/html; charset=utf-8");
    })
    .put("/:id/pin", idParam, async (c) => {
      const id = idOf(c.req.param("id"));
      finished(id);
      await references.pin((await jobs.get(id)).script, id);
      news.changed("job", id, Date.now());
      return c.body(null, 204);
    })
    .delete("/:id/pin", idParam, async (c) => {
      const id = idOf(c.req.param("id"));
      await references.pin((await jobs.get(id)).script, undefined);
      news.changed("job", id, Date.now());
      return c.body(null, 204);
    })
    .get(
      "/:id/diff/:then",
      valid("param", z.object({ id: z.coerce.number().int(), then: z.coerce.number().int() })),
      valid("query", toleranceSchema),
      async (c) => {
        const { id, then } = c.req.valid("param");
        finished(id);
        finished(then);
        return c.json(await differ.diff({ then: outputs(then), now: outputs(id), tolerance: c.req.valid("query") }));
      },
    )
    .get(
      "/:id/values/:name",
      idParam,
      valid("query", z.object({ from: z.coerce.number().optional(), to: z.coerce.number().optional() })),
      async (c) => {
        const { from, to } = c.req.valid("query");
        const file = keptFile(idOf(c.req.param("id")), c.req.param("name"), ".value");
        return c.body(await reading.value(file, from, to, 2000), 200, { "content-type": "application/json" });
      },
    );
}
