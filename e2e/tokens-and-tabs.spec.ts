import { spawn, type ChildProcess } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { expect, test } from "./server";

const port = 4480;
const token = "0123456789abcdef-token";
const address = `http://127.0.0.1:${port}`;

test.describe("a server that is reached from other machines", () => {
  let server: ChildProcess;
  let data: string;
  test.beforeAll(async () => {
    data = mkdtempSync(path.join(os.tmpdir(), "oxtrum-remote-"));
    server = spawn(process.execPath, ["packages/server/dist/main.js"], {
      env: { ...process.env, HOST: "0.0.0.0", PORT: String(port), OXTRUM_TOKEN: token, OXTRUM_DATA: data },
      stdio: ["ignore", "pipe", "inherit"],
    });
    let said = "";
    await new Promise<void>((done) => {
      server.stdout!.on("data", (d: Buffer) => {
        said += d.toString();
        if (said.includes("#token=")) done();
      });
    });
  });
  test.afterAll(() => {
    server.kill();
    rmSync(data, { recursive: true, force: true });
  });

  test("asks for its token once, and takes no other", async ({ page }) => {
    await page.goto(address);
    await expect(page.getByRole("heading", { name: "Sign in" })).toBeVisible();
    await page.getByLabel("Token").fill("wrong");
    await page.getByRole("button", { name: "Sign in" }).click();
    await expect(page.getByRole("alert")).toHaveText("That is not this server's token.");
    await page.getByLabel("Token").fill(token);
    await page.keyboard.press("Enter");
    await expect(page.getByText("No studies yet")).toBeVisible();
    await page.reload();
    await expect(page.getByText("No studies yet")).toBeVisible();
    // What scripts of a page can read holds nothing of it.
    expect(await page.evaluate(() => document.cookie)).toBe("");
  });

  test("takes the token from the link that its terminal prints, and out of the address", async ({ page }) => {
    await page.goto(`${address}/#token=${token}`);
    await expect(page.getByText("No studies yet")).toBeVisible();
    expect(page.url()).toBe(`${address}/`);
  });
});

// A browser has six connections to a server.
test("seven tabs on one job are all alive", async ({ context, page }) => {
  const text = 'import { emit } from "oxtrum";\nemit.text("note", "a");\n';
  const started = await page.request.post("/api/jobs", { data: { script: "tabs.ts", text, mode: "run" } });
  const { id } = (await started.json()) as { id: number };
  const tabs = [page, ...(await Promise.all(Array.from({ length: 6 }, () => context.newPage())))];
  for (const tab of tabs) await tab.goto(`/jobs/${id}`);
  for (const tab of tabs) await expect(tab.getByRole("heading", { name: "Done" })).toBeVisible();
  // All share one stream: what happens next reaches the last tab as well.
  const other = await page.request.post("/api/jobs", { data: { script: "tabs.ts", text: `${text}\n`, mode: "run" } });
  await tabs[6]!.goto(`/jobs/${((await other.json()) as { id: number }).id}`);
  await expect(tabs[6]!.getByRole("heading", { name: "Done" })).toBeVisible();
});

test("a page asks for each thing once, and again for what has changed", async ({ context, page }) => {
  const asked: string[] = [];
  const tab = async (): Promise<void> => {
    const p = await context.newPage();
    p.on("request", (r) => r.method() === "GET" && r.url().includes("/api/") && asked.push(new URL(r.url()).pathname));
    await p.goto("/settings");
    await expect(p.getByLabel("Worker threads")).toBeVisible();
  };
  const settings = (): number => asked.filter((a) => a === "/api/settings").length;
  const change = async (): Promise<void> => {
    const now = await (await page.request.get("/api/settings")).json();
    expect((await page.request.put("/api/settings", { data: now })).ok()).toBe(true);
  };
  await tab();
  expect(settings()).toBe(1);
  await change();
  await expect.poll(settings).toBe(2);
  // One that comes later to the stream that all tabs share.
  await tab();
  expect(settings()).toBe(3);
  await change();
  await expect.poll(settings).toBe(5);
});
