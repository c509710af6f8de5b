import { existsSync } from "node:fs";
import { defineConfig } from "@playwright/test";

/** Debian's Chromium without a window of its own, which takes half of the time; else the whole one. */
const browser = ["/usr/bin/chromium-headless-shell", "/usr/bin/chromium"].find((file) => existsSync(file));

export default defineConfig({
  testDir: "e2e",
  // What does not come ends a test; that a machine is slow does not.
  timeout: 600_000,
  expect: { timeout: 120_000 },
  // Each has a server of its own (`e2e/server.ts`); two would share cores with two browsers that draw in software.
  workers: 2,
  retries: 0,
  use: {
    launchOptions: {
      executablePath: process.env["CHROMIUM_BIN"] ?? browser ?? "/usr/bin/chromium",
      args: [
        "--no-sandbox",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        // Three dimensions are drawn by the processor.
        "--enable-unsafe-swiftshader",
        // Optimising what a test calls a few times takes longer than it saves.
        "--js-flags=--no-maglev --no-turbofan",
      ],
    },
  },
});
