import fs from "node:fs/promises";
import path from "node:path";
import { serveStatic as serveFiles } from "@hono/node-server/serve-static";
import type { Context, Hono } from "hono";
import { serveStatic } from "hono/serve-static";
import { errorAnswer } from "./store/problem.js";

/**
 * The web application, as it was built. What lies in `assets` has the hash of its contents in its name, so it is read
 * once and kept, here and in the browser: a page asks for thirty such files.
 *
 * The page itself says after which message of the live stream it was served: all that it shows is asked for later, so
 * it has to ask again only for what messages since then tell.
 *
 * @param folder where the build has put it
 * @param lastNews the id of the live stream's last message
 */
export function serveWebFiles(app: Hono, folder: string, lastNews: () => string): void {
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
  const page = async (c: Context): Promise<Response> => {
    const html = await fs.readFile(path.join(folder, "index.html"), "utf8");
    return c.html(html.replace("</head>", `<meta name="oxtrum-news" content="${lastNews()}" /></head>`));
  };
  app.get("/", page);
  app.use("*", serveFiles({ root, precompressed: true }));
  app.get("*", page);
}
