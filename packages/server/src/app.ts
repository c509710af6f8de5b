import fs from "node:fs";
import path from "node:path";
import { serveStatic } from "@hono/node-server/serve-static";
import { zValidator } from "@hono/zod-validator";
import { Hono } from "hono";
import { HTTPException } from "hono/http-exception";
import { streamSSE } from "hono/streaming";
import { engineVersion } from "@oxtrum/engine";
import { libraryGuide } from "@oxtrum/engine/check";
import { Checker } from "./checks/checker.js";
import { Differ } from "./jobs/differ.js";
import { Jobs } from "./jobs/jobs.js";
import { References } from "./jobs/references.js";
import { JobProcesses } from "./jobs/process.js";
import { Looks } from "./looks/looks.js";
import { jobRoutes } from "./routes/job-routes.js";
import { lookRoutes } from "./routes/look-routes.js";
import { scriptRoutes } from "./routes/script-routes.js";
import { studyRoutes } from "./routes/study-routes.js";
import { surveyRoutes } from "./routes/survey-routes.js";
import { Scripts } from "./scripts.js";
import { Store } from "./store/database.js";
import { Settings, settingsSchema } from "./settings.js";
import { Studies } from "./studies.js";
import { Surveyor } from "./survey/surveyor.js";

export interface ServerOptions {
  readonly dataFolder: string;
  /** The built web application, when it is to be served. */
  readonly webFolder?: string | undefined;
  /** Names under which the server may be called; others are refused, so that no web page can reach it by another name. */
  readonly hosts: readonly string[];
  /** Asked of every request when the server can be reached from other machines. */
  readonly token?: string | undefined;
}

export interface Server {
  readonly app: Hono;
  readonly studies: Studies;
  readonly scripts: Scripts;
  readonly jobs: Jobs;
  readonly checker: Checker;
  close(): void;
}

/** Puts the server together. Nothing listens yet: tests call `app.request`. */
export async function makeServer(options: ServerOptions): Promise<Server> {
  const store = await Store.open(options.dataFolder);
  const watchers = new Set<(m: object) => void>();
  const studies = new Studies(store, options.dataFolder, (study, done, total) =>
    watchers.forEach((w) => w({ study, done, total })),
  );
  const scripts = new Scripts(store);
  const checker = new Checker();
  const settings = new Settings(store);
  const surveyor = new Surveyor();
  const differ = new Differ();
  const processes = new JobProcesses();
  const jobs = new Jobs(store, options.dataFolder, studies, scripts, checker, settings, processes);
  const looks = new Looks(options.dataFolder, studies, scripts, settings, processes);
  await jobs.recover();
  jobs.listen((m) => {
    if (m.state !== undefined) watchers.forEach((w) => w({ job: m.job, state: m.state }));
  });

  const app = new Hono();
  app.use("/api/*", async (c, next) => {
    const host = (c.req.header("host") ?? "").replace(/:\d+$/, "").replace(/^\[|\]$/g, "");
    if (!options.hosts.includes("*") && !options.hosts.includes(host))
      throw new HTTPException(403, { message: "This server is not to be called by that name." });
    const origin = c.req.header("origin");
    if (c.req.method !== "GET" && origin !== undefined && new URL(origin).host !== c.req.header("host"))
      throw new HTTPException(403, { message: "Another page may not change anything here." });
    if (
      options.token !== undefined &&
      c.req.header("authorization") !== `Bearer ${options.token}` &&
      c.req.query("token") !== options.token
    )
      throw new HTTPException(403, { message: "This server asks for its token." });
    await next();
  });
  app.onError((e, c) => {
    if (e instanceof HTTPException) return c.json({ error: e.message }, e.status);
    process.stderr.write(`${c.req.method} ${c.req.path}: ${e.stack ?? e.message}\n`);
    return c.json({ error: e.message }, 500);
  });
  app.get("/api/health", (c) => c.json({ ok: true, version: engineVersion() }));
  app.get("/api/guide", (c) => c.json(libraryGuide()));
  app.get("/api/settings", async (c) => c.json(await settings.get()));
  app.put("/api/settings", zValidator("json", settingsSchema), async (c) =>
    c.json(await settings.set(c.req.valid("json"))),
  );
  app.route("/api/studies", studyRoutes(studies, looks));
  app.route("/api/studies", surveyRoutes(studies, surveyor));
  app.route("/api/scripts", scriptRoutes(scripts, studies, checker, jobs));
  app.route("/api/jobs", jobRoutes(jobs, studies, new References(store), differ));
  app.route("/api/looks", lookRoutes(looks));
  app.get("/api/events", (c) =>
    streamSSE(c, async (stream) => {
      const tell = (m: object): void => void stream.writeSSE({ data: JSON.stringify(m) });
      watchers.add(tell);
      stream.onAbort(() => void watchers.delete(tell));
      await stream.writeSSE({ data: JSON.stringify({ hello: true }) });
      while (!stream.aborted) {
        await stream.sleep(15_000);
        await stream.writeSSE({ event: "beat", data: "" });
      }
      watchers.delete(tell);
    }),
  );
  app.all("/api/*", (c) => c.json({ error: "There is nothing here." }, 404));
  if (options.webFolder !== undefined && fs.existsSync(options.webFolder)) {
    const root = path.relative(process.cwd(), options.webFolder) || ".";
    app.use(
      "/assets/*",
      serveStatic({ root, onFound: (_, c) => c.header("cache-control", "public, max-age=31536000, immutable") }),
    );
    app.use("*", serveStatic({ root }));
    const index = path.join(options.webFolder, "index.html");
    app.get("*", (c) => c.html(fs.readFileSync(index, "utf8")));
  }
  return {
    app, studies, scripts, jobs, checker,
    close: () => {
      jobs.close();
      processes.close();
      checker.close();
      surveyor.close();
      differ.close();
      store.close();
    },
  }; // prettier-ignore
}
