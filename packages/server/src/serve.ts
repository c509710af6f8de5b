import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { serve } from "@hono/node-server";
import { diskReason, isDiskError } from "@oxtrum/engine";
import { makeServer, type Server } from "./app.js";
import { inBackground, report } from "./background.js";
import { DataFolderError } from "./store/data-folder.js";
import { databaseReason, isDatabaseError } from "./store/database.js";

const port = Number(process.env["PORT"] ?? 4477);
const host = process.env["HOST"] ?? "127.0.0.1";
const local = host === "127.0.0.1" || host === "localhost" || host === "::1";
const token = process.env["OXTRUM_TOKEN"];
const dataFolder = path.resolve(process.env["OXTRUM_DATA"] ?? path.join(os.homedir(), ".oxtrum"));

if (!local && (token === undefined || token.length < 16)) {
  process.stderr.write(
    "To be reached from other machines, the server needs OXTRUM_TOKEN with at least 16 characters.\n",
  );
  process.exit(1);
}

/** Registers the demo studies and example scripts, where they are not there yet. */
async function offerDemo(server: Server, demo: string): Promise<void> {
  const there = new Set((await server.studies.list()).map((s) => s.name));
  // Finished studies, and one that is being computed.
  for (const data of [path.join(demo, "data"), path.join(demo, "live")])
    for (const name of fs.existsSync(data) ? fs.readdirSync(data).sort() : [])
      if (!there.has(name) && !name.endsWith(".part") && !name.startsWith("."))
        await server.studies.add(name, path.join(data, name));
  const scripts = new Set((await server.scripts.list()).map((s) => s.name));
  const folder = path.join(demo, "scripts");
  for (const name of fs.readdirSync(folder).sort())
    if (name.endsWith(".ts") && !scripts.has(name))
      await server.scripts.save(name, fs.readFileSync(path.join(folder, name), "utf8"));
}

/** The server with its data; ends the process with one sentence where it cannot be. */
async function opened(): Promise<Server> {
  try {
    const server = await makeServer({
      dataFolder,
      webFolder: fileURLToPath(new URL("../../web/dist", import.meta.url)),
      hosts: local ? ["127.0.0.1", "localhost", "::1"] : ["*"],
      ...(token !== undefined && { token }),
    });
    const demo = process.env["OXTRUM_DEMO"];
    if (demo !== undefined) await offerDemo(server, demo);
    return server;
  } catch (e) {
    const known = e instanceof DataFolderError || isDatabaseError(e) || isDiskError(e);
    const text =
      e instanceof DataFolderError
        ? e.message
        : isDatabaseError(e)
          ? `The database in ${dataFolder} cannot be used: ${databaseReason(e)}.`
          : `The server cannot start: ${diskReason(e)}.`;
    process.stderr.write(`${known ? text : ((e as Error).stack ?? String(e))}\n`);
    process.exit(1);
  }
}

/** Scans the studies and loads the checker before anyone asks. */
async function warmUp(server: Server): Promise<void> {
  const all = await server.studies.all();
  const types = Object.fromEntries(all.map((s) => [s.name, s.types]));
  await server.checker.check({ "warm.ts": 'import { q } from "oxtrum";\nq("1 s");\n' }, types);
}

async function start(): Promise<void> {
  const server = await opened();
  const listener = serve({ fetch: server.app.fetch, port, hostname: host }, (info) => {
    const address = `http://${local ? "localhost" : host}:${info.port}`;
    process.stdout.write(`Oxtrum is at ${address}\n`);
    if (token !== undefined)
      process.stdout.write(
        `Sign in once with the token, or by this link: ${address}/#token=${encodeURIComponent(token)}\n`,
      );
    inBackground("warming up", warmUp(server));
  });

  listener.on("error", (e: NodeJS.ErrnoException) => {
    process.stderr.write(
      e.code === "EADDRINUSE"
        ? `Something else is already listening on port ${port}. Stop it, or set another: PORT=${port + 1}.\n`
        : `The server cannot listen on ${host}:${port}: ${e.message}\n`,
    );
    server.close();
    process.exit(1);
  });

  const end = (): void => {
    server.close();
    listener.close();
    process.exit(0);
  };
  process.on("SIGINT", end);
  process.on("SIGTERM", end);
}

// Every promise has an owner; should one be forgotten, that ends nothing.
process.on("unhandledRejection", (e) => report("in the background", e));
void start();
