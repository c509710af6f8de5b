import fs from "node:fs";
import path from "node:path";
import { zValidator } from "@hono/zod-validator";
import { zipSync } from "fflate";
import { Hono } from "hono";
import { streamSSE } from "hono/streaming";
import { z } from "zod";
import { inside, safeName, unpackValue, verifyManifest, type Value } from "@oxtrum/engine";
import type { Jobs } from "../jobs/jobs.js";
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
};

export function jobRoutes(jobs: Jobs, studies: Studies): Hono {
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
  const viewOf = (id: number, name: string): Value => {
    const file = path.join(jobs.folder(id), "views", `${safeName(name)}.value`);
    if (!fs.existsSync(file)) throw problem(404, `Job ${id} keeps nothing of "${name}".`);
    return unpackValue(fs.readFileSync(file)) as Value;
  };
  return new Hono()
    .get("/", async (c) => c.json(await jobs.list()))
    .post("/", zValidator("json", startSchema), async (c) => c.json(await jobs.start(c.req.valid("json")), 201))
    .get("/:id", idParam, async (c) => {
      const id = idOf(c.req.param("id"));
      return c.json({ ...(await jobs.get(id)), live: jobs.live(id), runsAsked: (await jobs.request(id)).runs ?? null });
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
      const folder = outputs(id);
      if (!fs.existsSync(folder)) throw problem(404, "This job has no outputs yet.");
      const files: Record<string, [Uint8Array, { mtime: string }]> = {};
      for (const f of fs.readdirSync(folder).sort())
        files[f] = [new Uint8Array(fs.readFileSync(path.join(folder, f))), { mtime: "1980-01-01T00:00:00" }];
      const name = `${head.script.replace(/\.ts$/, "")}-job-${id}.zip`;
      return c.body(zipSync(files as never, { level: 6 }) as Uint8Array<ArrayBuffer>, 200, {
        "content-type": "application/zip",
        "content-disposition": `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      });
    })
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
