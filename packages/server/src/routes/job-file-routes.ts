import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { Hono } from "hono";
import { z } from "zod";
import { toleranceSchema } from "@oxtrum/contract";
import { inside, safeName } from "@oxtrum/engine";
import { download, outputPolicy, valid } from "../answers.js";
import { streamFile } from "../stream-file.js";
import type { Differ } from "../jobs/differ.js";
import type { Jobs } from "../jobs/jobs.js";
import type { Reading } from "../reading/reading.js";
import { problem } from "../store/problem.js";
import type { Studies } from "../studies.js";
import { idOf, idParam } from "./job-id.js";

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

/** Files of jobs: outputs as they were written, and what is kept of them to be looked at. */
export class JobFiles {
  constructor(private readonly jobs: Jobs) {}
  folder(id: number): string {
    try {
      return this.jobs.folder(id);
    } catch {
      throw problem(404, `There is no job ${id}.`);
    }
  }

  outputs(id: number): string {
    return path.join(this.folder(id), "outputs");
  }

  /** A file among a job's outputs. */
  output(id: number, name: string): string {
    let full: string;
    try {
      full = inside(this.outputs(id), name);
    } catch {
      throw problem(403, "That is not an output of this job.");
    }
    if (!fs.existsSync(full) || !fs.statSync(full).isFile()) throw problem(404, `Job ${id} has no output ${name}.`);
    return full;
  }

  /** The manifest of a job that has run to its end. */
  manifest(id: number): string {
    const file = path.join(this.outputs(id), "manifest.json");
    if (!fs.existsSync(file)) throw problem(404, "This job has no manifest: it has not run to its end.");
    return file;
  }

  finished(id: number): void {
    if (!fs.existsSync(path.join(this.outputs(id), "manifest.json")))
      throw problem(404, `Job ${id} has no outputs: it has not run to its end.`);
  }

  /** What is kept of an output for pages. */
  kept(id: number, name: string, ending: string): string {
    const file = path.join(this.folder(id), "views", `${safeName(name)}${ending}`);
    if (!fs.existsSync(file)) throw problem(404, `Job ${id} keeps nothing of "${name}".`);
    return file;
  }
}

/** A job's archive, packed in another thread into a file of its own, which goes when it has been sent. */
async function packed(reading: Reading, outputs: string): Promise<{ file: string; remove: () => void }> {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-archive-"));
  const remove = (): void => fs.rmSync(folder, { recursive: true, force: true });
  const file = path.join(folder, "job.zip");
  try {
    await reading.archive(outputs, file);
  } catch (e) {
    remove();
    throw e;
  }
  return { file, remove };
}

/** What jobs have made: files, archives, pictures, reports, values, and how they compare with another job's. */
export function jobFileRoutes(jobs: Jobs, studies: Studies, files: JobFiles, differ: Differ, reading: Reading): Hono {
  return new Hono()
    .post("/:id/verify", idParam, async (c) => {
      const manifest = files.manifest(idOf(c.req.param("id")));
      const folders = Object.fromEntries((await studies.list()).map((s) => [s.name, s.folder]));
      return c.json(await reading.verify(manifest, folders));
    })
    .get("/:id/files/:name", idParam, (c) => {
      const file = files.output(idOf(c.req.param("id")), c.req.param("name"));
      if (c.req.query("download") !== undefined) download(c, path.basename(file));
      c.header("content-security-policy", outputPolicy);
      return streamFile(c, file, kinds[path.extname(file)] ?? "application/octet-stream");
    })
    .get("/:id/zip", idParam, async (c) => {
      const id = idOf(c.req.param("id"));
      const head = await jobs.get(id);
      files.finished(id);
      const { file, remove } = await packed(reading, files.outputs(id));
      download(c, `${head.script.replace(/\.ts$/, "")}-job-${id}.zip`);
      return streamFile(c, file, "application/zip", remove);
    })
    .get("/:id/pictures/:name", idParam, (c) =>
      streamFile(c, files.kept(idOf(c.req.param("id")), c.req.param("name"), ".png"), "image/png"),
    )
    .get("/:id/reports/:name", idParam, (c) => {
      c.header("content-security-policy", outputPolicy);
      return streamFile(
        c,
        files.kept(idOf(c.req.param("id")), c.req.param("name"), ".html"),
        "text/html; charset=utf-8",
      );
    })
    .get(
      "/:id/diff/:then",
      valid("param", z.object({ id: z.coerce.number().int(), then: z.coerce.number().int() })),
      valid("query", toleranceSchema),
      async (c) => {
        const { id, then } = c.req.valid("param");
        files.finished(id);
        files.finished(then);
        return c.json(
          await differ.diff({ then: files.outputs(then), now: files.outputs(id), tolerance: c.req.valid("query") }),
        );
      },
    )
    .get(
      "/:id/values/:name",
      idParam,
      valid("query", z.object({ from: z.coerce.number().optional(), to: z.coerce.number().optional() })),
      async (c) => {
        const { from, to } = c.req.valid("query");
        const file = files.kept(idOf(c.req.param("id")), c.req.param("name"), ".value");
        return c.body(await reading.value(file, from, to, 2000), 200, { "content-type": "application/json" });
      },
    );
}
