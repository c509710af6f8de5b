import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { test as plain } from "@playwright/test";

export { expect, type Page, type Response } from "@playwright/test";

/** A server of its own for each process of tests: what one does, no other one sees. */
interface OwnServer {
  readonly port: number;
  /** A folder for what tests write; the server's data lie in it. */
  readonly scratch: string;
  /** Ends it at once, as a crash does. */
  kill(): Promise<void>;
  /** Starts it again, on the same port and data. */
  start(): Promise<void>;
}

const FIRST_PORT = 4488;

async function answers(url: string): Promise<void> {
  for (;;) {
    try {
      if ((await fetch(url)).ok) return;
    } catch {
      // Not yet.
    }
    await new Promise((later) => setTimeout(later, 50));
  }
}

export const test = plain.extend<{ scratch: string }, { server: OwnServer }>({
  server: [
    async ({}, use, info) => {
      const port = FIRST_PORT + info.parallelIndex;
      const scratch = mkdtempSync(path.join(os.tmpdir(), "oxtrum-e2e-"));
      let stop: (signal: NodeJS.Signals) => Promise<void>;
      const start = async (): Promise<void> => {
        const child = spawn(process.execPath, ["packages/server/dist/main.js"], {
          env: {
            ...process.env,
            PORT: String(port),
            OXTRUM_DATA: path.join(scratch, "data"),
            OXTRUM_DEMO: path.resolve("demo"),
          },
          stdio: "ignore",
        });
        const ended = new Promise<void>((done) => child.once("exit", () => done()));
        stop = (signal) => {
          child.kill(signal);
          return ended;
        };
        await answers(`http://127.0.0.1:${port}/api/health`);
      };
      await start();
      await use({ port, scratch, start, kill: () => stop("SIGKILL") });
      await stop!("SIGTERM");
      rmSync(scratch, { recursive: true, force: true });
    },
    { scope: "worker", auto: true },
  ],
  baseURL: async ({ server }, use) => use(`http://127.0.0.1:${server.port}`),
  scratch: async ({ server }, use) => use(server.scratch),
});
