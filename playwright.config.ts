import { mkdtempSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { defineConfig } from "@playwright/test";

const port = 4488;
const scratch = (process.env["OXTRUM_E2E"] ??= mkdtempSync(path.join(os.tmpdir(), "oxtrum-e2e-")));

export default defineConfig({
  testDir: "e2e",
  timeout: 60_000,
  expect: { timeout: 20_000 },
  workers: 1,
  retries: 0,
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env["CHROMIUM_BIN"] ?? "/usr/bin/chromium",
      args: [
        "--no-sandbox",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        // Three dimensions are drawn by the processor.
        "--use-angle=swiftshader",
        "--enable-unsafe-swiftshader",
        "--ignore-gpu-blocklist",
      ],
    },
  },
  webServer: {
    command: "node packages/server/dist/main.js",
    url: `http://127.0.0.1:${port}/api/health`,
    env: { PORT: String(port), OXTRUM_DATA: path.join(scratch, "data"), OXTRUM_DEMO: path.resolve("demo") },
    reuseExistingServer: false,
    stdout: "ignore",
  },
});
