import fs from "node:fs";
import { Hono } from "hono";
import { bodyLimit } from "hono/body-limit";
import { z } from "zod";
import { engineVersion } from "@oxtrum/engine";
import { libraryGuide } from "@oxtrum/engine/check";
import { Access, type AccessOptions } from "./access.js";
import { MOST_BODY, onError, secureHeaders, valid } from "./answers.js";
import { Checker } from "./checks/checker.js";
import { Differ } from "./jobs/differ.js";
import { Jobs } from "./jobs/jobs.js";
import { References } from "./jobs/references.js";
import { JobProcesses } from "./jobs/process.js";
import { liveStream } from "./live-streams.js";
import { Previews } from "./previews/previews.js";
import { JobFiles, jobFileRoutes } from "./routes/job-file-routes.js";
import { jobRoutes } from "./routes/job-routes.js";
import { previewRoutes } from "./routes/preview-routes.js";
import { scriptRoutes } from "./routes/script-routes.js";
import { studyRoutes } from "./routes/study-routes.js";
import { liveRoutes } from "./routes/live-routes.js";
import { surveyRoutes } from "./routes/survey-routes.js";
import { Scripts } from "./scripts.js";
import { Reading } from "./reading/reading.js";
import { takeDataFolder } from "./store/data-folder.js";
import { Store } from "./store/database.js";
import { News } from "./news.js";
import { errorAnswer, problem } from "./store/problem.js";
import { Settings, settingsSchema } from "./settings.js";
import { Studies } from "./studies.js";
import { Following } from "./following/following.js";
import { Surveyor } from "./survey/surveyor.js";
import { serveWebFiles } from "./web-files.js";

/** What takes long to start, and can serve one server after the other. */
export interface Warm {
  readonly processes: JobProcesses;
  readonly checker: Checker;
  readonly reading: Reading;
}

export interface ServerOptions extends AccessOptions {
  readonly dataFolder: string;
  /** The built web application, when it is to be served. */
  readonly webFolder?: string | undefined;
  /** What is warm already and outlives this server; it starts its own otherwise. */
  readonly warm?: Warm;
}

export interface Server {
  readonly app: Hono;
  readonly studies: Studies;
  readonly scripts: Scripts;
  readonly jobs: Jobs;
  readonly checker: Checker;
  close(): void;
}

/** What holds for every request: headers, where it may come from, how large it may be, one shape for errors. */
function guard(app: Hono, access: Access): void {
  app.use("*", secureHeaders);
  app.onError(onError);
  app.use("/api/*", access.origin);
  app.use(
    "/api/*",
    bodyLimit({
      maxSize: MOST_BODY,
      onError: () => {
        throw problem(413, "That is more than the server takes at once (4 MB).");
      },
    }),
  );
}

/** Signing in and out of a server that asks for a token. */
const sessionRoutes = (access: Access): Hono =>
  new Hono()
    .get("/", (c) => c.json({ signedIn: access.signedIn(c), asksForToken: access.asksForToken }))
    .post("/", valid("json", z.object({ token: z.string().min(1).max(1000) })), (c) => {
      access.signIn(c, c.req.valid("json").token);
      return c.body(null, 204);
    })
    .delete("/", (c) => {
      access.signOut(c);
      return c.body(null, 204);
    });

const settingsRoutes = (settings: Settings, news: News): Hono =>
  new Hono()
    .get("/", async (c) => c.json(await settings.get()))
    .put("/", valid("json", settingsSchema), async (c) => {
      const now = await settings.set(c.req.valid("json"));
      news.changed("settings", "", Date.now());
      return c.json(now);
    });

/** The data folder, for this server alone, and its database. @throws DataFolderError */
async function openData(folder: string): Promise<{ data: ReturnType<typeof takeDataFolder>; store: Store }> {
  const data = takeDataFolder(folder);
  try {
    return { data, store: await Store.open(folder) };
  } catch (e) {
    data.release();
    throw e;
  }
}

/**
 * Puts the server together. Nothing listens yet: tests call `app.request`.
 *
 * @throws DataFolderError in one sentence when the data folder or its database cannot be used
 */
export async function makeServer(options: ServerOptions): Promise<Server> {
  const { data, store } = await openData(options.dataFolder);
  const news = new News();
  const warm = options.warm ?? { processes: new JobProcesses(), checker: new Checker(), reading: new Reading() };
  const { processes, checker, reading } = warm;
  const studies = new Studies(
    store,
    options.dataFolder,
    reading,
    (study, done, total) => news.publish({ study, done, total }),
    (study, version) => news.changed("study", study, version),
  );
  const scripts = new Scripts(store, (name, revision) => news.changed("script", name, revision));
  const settings = new Settings(store);
  const surveyor = new Surveyor();
  const following = new Following(studies, () => news.heard);
  const differ = new Differ();
  const jobs = new Jobs(store, options.dataFolder, studies, scripts, checker, settings, processes, news);
  const previews = new Previews(options.dataFolder, studies, scripts, settings, processes, checker, reading);
  await jobs.recover();

  const app = new Hono();
  const access = new Access(options);
  guard(app, access);
  app.get("/api/health", (c) => c.json({ ok: true, version: engineVersion() }));
  app.route("/api/session", sessionRoutes(access));
  app.use("/api/*", access.token);
  app.get("/api/guide", (c) => c.json(libraryGuide()));
  app.route("/api/settings", settingsRoutes(settings, news));
  app.route("/api/studies", studyRoutes(studies, previews, reading));
  app.route("/api/studies", surveyRoutes(studies, surveyor));
  app.route("/api/studies", liveRoutes(following));
  app.route("/api/scripts", scriptRoutes(scripts, studies, checker, jobs));
  const jobFiles = new JobFiles(jobs);
  app.route("/api/jobs", jobRoutes(jobs, new References(store), jobFiles, news));
  app.route("/api/jobs", jobFileRoutes(jobs, studies, jobFiles, differ, reading));
  app.route("/api/previews", previewRoutes(previews));
  // One stream for all tabs of a browser: what happens anywhere, and, where it is asked for, what jobs tell.
  app.get("/api/events", (c) => liveStream(c, news, (m) => c.req.query("jobs") === "all" || !("events" in m)));
  app.all("/api/*", (c) => c.json(errorAnswer(404, "There is nothing here."), 404));
  if (options.webFolder !== undefined && fs.existsSync(options.webFolder))
    serveWebFiles(app, options.webFolder, () => news.last);
  return {
    app,
    studies,
    scripts,
    jobs,
    checker,
    close: () => {
      jobs.close();
      if (!options.warm) Object.values(warm).forEach((part) => part.close());
      surveyor.close();
      following.close();
      differ.close();
      store.close();
      data.release();
    },
  };
}
