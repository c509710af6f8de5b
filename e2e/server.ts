import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { test as plain, expect as asked, type BrowserContext, type Locator, type Page } from "@playwright/test";

export type { Page, Response } from "@playwright/test";

/**
 * Waits until it holds, then asks. Asking alone has the browser describe the whole page each time that the answer is
 * not yet yes. What does not come is told by the question, in its better words.
 */
async function once(holds: Promise<unknown>, ask: () => Promise<void>): Promise<{ pass: true; message: () => string }> {
  await holds.catch(() => {});
  await ask();
  return { pass: true, message: () => "" };
}

export const expect = asked.extend({
  toBeVisible: (on: Locator, limit?: { timeout: number }) =>
    once(on.waitFor(limit), () => asked(on).toBeVisible(limit)),
  toBeHidden: (on: Locator) => once(on.waitFor({ state: "hidden" }), () => asked(on).toBeHidden()),
  toContainText: (on: Locator, text: string | RegExp) =>
    once(on.filter({ hasText: text }).waitFor({ state: "attached" }), () => asked(on).toContainText(text)),
  toHaveURL: (on: Page, url: RegExp) =>
    once(on.waitForURL(url, { waitUntil: "commit" }), () => asked(on).toHaveURL(url)),
});

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

/** What a test finds in the browser: nothing of the one before, but its process, which has the page's code already. */
interface Kept {
  readonly context: BrowserContext;
  page: Page;
}

async function forget({ context, page }: Kept, origin: string): Promise<void> {
  for (const other of context.pages()) if (other !== page) await other.close();
  await page.unrouteAll({ behavior: "ignoreErrors" });
  // Left first: a page that goes keeps what is typed in it. An answer of the same server keeps the process.
  await page.goto(`${origin}/api/health`);
  const browser = await context.newCDPSession(page);
  await browser.send("Storage.clearDataForOrigin", { origin, storageTypes: "all" });
  await browser.detach();
  await context.clearCookies();
  await context.clearPermissions();
}

export const test = plain.extend<{ scratch: string }, { server: OwnServer; kept: Kept }>({
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
  kept: [
    async ({ browser, server }, use) => {
      const context = await browser.newContext({
        baseURL: `http://127.0.0.1:${server.port}`,
        // What `playwright.config.ts` says of contexts holds for those of single tests only.
        viewport: { width: 1280, height: 800 },
      });
      await use({ context, page: await context.newPage() });
      await context.close();
    },
    { scope: "worker" },
  ],
  context: async ({ kept }, use) => use(kept.context),
  page: async ({ kept, server }, use) => {
    if (kept.page.isClosed()) kept.page = await kept.context.newPage();
    await use(kept.page);
    if (kept.page.isClosed()) kept.page = await kept.context.newPage();
    await forget(kept, `http://127.0.0.1:${server.port}`);
  },
  baseURL: async ({ server }, use) => use(`http://127.0.0.1:${server.port}`),
  scratch: async ({ server }, use) => use(server.scratch),
});
