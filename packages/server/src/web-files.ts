import fs from "node:fs/promises";
import path from "node:path";
import { serveStatic as serveFiles } from "@hono/node-server/serve-static";
import type { Hono } from "hono";
import { serveStatic } from "hono/serve-static";
import { errorAnswer } from "./store/problem.js";

/**
 * The web application, as it was built. What lies in `assets` has the hash of its contents in its name, so it is read
 * once and kept, here and in the browser: a page asks for thirty such files.
 *
 * @param folder where the build has put it
 */
export function serveWebFiles(app: Hono, folder: string): void {
  const root = path.relative(process.cwd(), folder) || ".";
  const kept = new Map<string, Uint8Array<ArrayBuffer>>();
  const bytesOf = async (file: string): Promise<Uint8Array<ArrayBuffer> | null> => {
    const known = kept.get(file);
    if (known) return known;
    // A name that is not there is not kept: anyone can ask for any number of them.
    const bytes = await fs.readFile(file).catch(() => undefined);
    if (bytes) kept.set(file, bytes);
    return bytes ?? null;
  };
  app.use(
    "/assets/*",
    serveStatic({
      root,
      join: path.join,
      getContent: bytesOf,
      precompressed: true,
      onFound: (_, c) => c.header("cache-control", "public, max-age=31536000, immutable"),
    }),
  );
  // One of an older build, that a page still asks for: not the page itself in its place.
  app.all("/assets/*", (c) => c.json(errorAnswer(404, "There is nothing here."), 404));
  app.use("*", serveFiles({ root, precompressed: true }));
  const index = path.join(folder, "index.html");
  app.get("*", async (c) => c.html(await fs.readFile(index, "utf8")));
}
