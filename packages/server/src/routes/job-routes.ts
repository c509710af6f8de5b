import fs from "node:fs";
import path from "node:path";
import { zValidator } from "@hono/zod-validator";
import { Hono } from "hono";
import { streamSSE } from "hono/streaming";
import { z } from "zod";
import { archiveJob, inside, safeName, unpackValue, verifyManifest, type Value } from "@oxtrum/engine";
import type { Differ } from "../jobs/differ.js";
import type { Jobs } from "../jobs/jobs.js";
import type { References } from "../jobs/references.js";
import { wireOf } from "../jobs/wire.js";
import { problem } from "../store/problem.js";
import type { Studies } from "../studies.js";

const startSchema = z.object({
  script: z.string(),
  text: z.string().max(1_000_000),
  mode: z.enum(["run", "try"]),
  tryRuns: z.record(z.string(), z.string()).optional(),
  runs: z.string().max(10_000).optional(),
  inputs: z.record(z.string(), z.string()).optional(),
});
const idParam = zValidator("param", z.object({ id: z.coerce.number().int() }).loose());
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

export function jobRoutes(jobs: Jobs, studies: Studies, references: References, differ: Differ): Hono {
  const outputs = (id: number): string => path.join(jobs.folder(id), "outputs");
  const fileOf = (id: number, name: string): string => {
    let full: string;
    try {
      full = inside(outputs(id), name);
    } catch {
      throw problem(403, "That is no output of this job.");
    }
    if (!fs.existsSync(full) || !fs.statSync(full).isFile()) throw problem(404, `Job ${id} has no output ${name}.`);
    return full;
  };
  const finished = (id: number): void => {
    if (!fs.existsSync(path.join(outputs(id), "manifest.json")))
      throw problem(404, `Job ${id} has no outputs: it has not run to its end.`);
  };
  const keptFile = (id: number, name: string, ending: string): string => {
    const file = path.join(jobs.folder(id), "views", `${safeName(name)}${ending}`);
    if (!fs.existsSync(file)) throw problem(404, `Job ${id} keeps nothing of "${name}".`);
    return file;
  };
  const viewOf = (id: number, name: string): Value => {
    const file = path.join(jobs.folder(id), "views", `${safeName(name)}.value`);
    if (!fs.existsSync(file)) throw problem(404, `Job ${id} keeps nothing of "${name}".`);
    return unpackValue(fs.readFileSync(file)) as Value;
  };
  return new Hono()
    .get("/", async (c) => {
      const pinned = await references.all();
      return c.json((await jobs.list()).map((j) => ({ ...j, ...(pinned[j.script] === j.id && { pinned: true }) })));
    })
    .post("/", zValidator("json", startSchema), async (c) => c.json(await jobs.start(c.req.valid("json")), 201))
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
    .post("/:id/stop", idParam, async (c) => {
      await jobs.stop(idOf(c.req.param("id")));
      return c.body(null, 202);
    })
    .get("/:id/events", idParam, (c) =>
      streamSSE(c, async (stream) => {
        const id = idOf(c.req.param("id"));
        const unlisten = jobs.listen((m) => {
          if (m.job === id) void stream.writeSSE({ data: JSON.stringify(m) });
        });
        stream.onAbort(() => unlisten());
        await stream.writeSSE({ data: JSON.stringify({ job: id, hello: true }) });
        while (!stream.aborted) {
          await stream.sleep(15_000);
          await stream.writeSSE({ event: "beat", data: "" });
        }
        unlisten();
      }),
    )
    .post("/:id/verify", idParam, async (c) => {
      const manifest = path.join(outputs(idOf(c.req.param("id"))), "manifest.json");
      if (!fs.existsSync(manifest)) throw problem(404, "This job has no manifest: it has not run to its end.");
      const folders = Object.fromEntries((await studies.list()).map((s) => [s.name, s.folder]));
      return c.json(await verifyManifest(manifest, folders, {}));
    })
    .get("/:id/files/:name", idParam, (c) => {
      const file = fileOf(idOf(c.req.param("id")), c.req.param("name"));
      const download = c.req.query("download") !== undefined;
      return c.body(new Uint8Array(fs.readFileSync(file)), 200, {
        "content-type": kinds[path.extname(file)] ?? "application/octet-stream",
        "content-security-policy": "default-src 'none'; style-src 'unsafe-inline'",
        ...(download && {
          "content-disposition": `attachment; filename*=UTF-8''${encodeURIComponent(path.basename(file))}`,
        }),
      });
    })
    .get("/:id/zip", idParam, async (c) => {
      const id = idOf(c.req.param("id"));
      const head = await jobs.get(id);
      finished(id);
      const name = `${head.script.replace(/\.ts$/, "")}-job-${id}.zip`;
      return c.body(archiveJob(outputs(id)) as Uint8Array<ArrayBuffer>, 200, {
        "content-type": "application/zip",
        "content-disposition": `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      });
    })
    .get("/:id/pictures/:name", idParam, (c) =>
      c.body(new Uint8Array(fs.readFileSync(keptFile(idOf(c.req.param("id")), c.req.param("name"), ".png"))), 200, {
        "content-type": "image/png",
      }),
    )
    .get("/:id/reports/:name", idParam, (c) =>
      c.body(new Uint8Array(fs.readFileSync(keptFile(idOf(c.req.param("id")), c.req.param("name"), ".html"))), 200, {
        "content-type": "text/html; charset=utf-8",
        "content-security-policy":
          "default-src 'none'; img-src data:; font-src data:; style-src 'unsafe-inline'; sandbox",
      }),
    )
    .put("/:id/pin", idParam, async (c) => {
      const id = idOf(c.req.param("id"));
      finished(id);
      await references.pin((await jobs.get(id)).script, id);
      return c.body(null, 204);
    })
    .delete("/:id/pin", idParam, async (c) => {
      await references.pin((await jobs.get(idOf(c.req.param("id")))).script, undefined);
      return c.body(null, 204);
    })
    .get(
      "/:id/diff/:then",
      zValidator("param", z.object({ id: z.coerce.number().int(), then: z.coerce.number().int() })),
      zValidator(
        "query",
        z.object({ absolute: z.coerce.number().min(0).default(0), relative: z.coerce.number().min(0).default(0) }),
      ),
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
      zValidator("query", z.object({ from: z.coerce.number().optional(), to: z.coerce.number().optional() })),
      (c) => {
        const { from, to } = c.req.valid("query");
        const v = viewOf(idOf(c.req.param("id")), c.req.param("name"));
        // A chart's range is of its axis, a table's of its rows.
        if (v.kind !== "table") return c.json(wireOf(v, from, to) as object);
        const first = from ?? 0;
        return c.json(wireOf(v, first, Math.min(to ?? 200, first + 2000)) as object);
      },
    );
}
