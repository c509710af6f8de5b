import { expect, test, type Page } from "./server";

const line = (text: string): string => `// ${text}\n`;

async function create(page: Page, name: string, text: string): Promise<void> {
  const r = await page.request.put(`/api/scripts/${name}`, { data: { text } });
  expect(r.status()).toBe(200);
}
async function open(page: Page, name: string): Promise<void> {
  await page.goto(`/scripts/${name}`);
  await expect(page.locator(".cm-content")).toBeVisible();
}
async function write(page: Page, text: string): Promise<void> {
  await page.locator(".cm-content").click();
  await page.keyboard.press("Control+a");
  await page.keyboard.insertText(text);
}
/** As from the clipboard: the browser does not have to lay the text out as one line first. */
async function paste(page: Page, text: string): Promise<void> {
  await page.locator(".cm-content").click();
  await page.keyboard.press("Control+a");
  await page.locator(".cm-content").evaluate((editor, pasted) => {
    const clipboardData = new DataTransfer();
    clipboardData.setData("text/plain", pasted);
    editor.dispatchEvent(new ClipboardEvent("paste", { clipboardData, bubbles: true, cancelable: true }));
  }, text);
}
const textOf = async (page: Page, name: string): Promise<string> =>
  ((await (await page.request.get(`/api/scripts/${name}`)).json()) as { text: string }).text;

test("text that is typed survives leaving the page, a reload and a closed tab", async ({ page, context }) => {
  await create(page, "kept.ts", line("one"));
  await open(page, "kept.ts");
  await write(page, line("typed"));
  // Inside the application, without a word.
  await page.getByRole("link", { name: "Jobs", exact: true }).click();
  await expect(page.getByRole("heading", { name: "Jobs", exact: true })).toBeVisible();
  await page.goBack();
  await expect(page.locator(".cm-content")).toContainText("typed");
  await expect.poll(() => textOf(page, "kept.ts")).toBe(line("typed"));
  // More than a browser sends when it closes.
  const long = line("y".repeat(200)).repeat(500);
  await paste(page, long);
  await page.close({ runBeforeUnload: false });
  const again = await context.newPage();
  await open(again, "kept.ts");
  await expect(again.locator(".cm-content")).toContainText("yyyy");
  await expect.poll(() => textOf(again, "kept.ts")).toBe(long);
});

test("a server that is killed while one types: work goes on, and is saved when it is there again", async ({
  page,
  server,
}) => {
  await create(page, "offline.ts", line("before"));
  await open(page, "offline.ts");
  await server.kill();
  await write(page, line("typed while it was down"));
  await page.keyboard.press("Control+s");
  await expect(page.getByText("The server does not answer. Text that you type is kept")).toBeVisible();
  await expect(page.getByRole("button", { name: /draft, kept in this browser/ })).toBeVisible();
  await expect(page.locator(".cm-content")).toContainText("typed while it was down");
  await server.start();
  await expect(page.getByRole("button", { name: /revision 2, saved/ })).toBeVisible();
  await expect(page.getByText("The server does not answer. Text that you type is kept")).toBeHidden();
  expect(await textOf(page, "offline.ts")).toBe(line("typed while it was down"));
});

test("two tabs on one script: the second text meets the first, and both are kept", async ({ page, context }) => {
  await create(page, "two.ts", line("start"));
  const other = await context.newPage();
  await open(page, "two.ts");
  await open(other, "two.ts");
  // A tab whose text is unchanged follows.
  await write(page, line("from the first tab"));
  await page.keyboard.press("Control+s");
  await expect(other.locator(".cm-content")).toContainText("from the first tab");
  // Both change: the later one has to decide.
  await write(page, line("first again"));
  await write(other, line("second"));
  await page.keyboard.press("Control+s");
  await expect.poll(() => textOf(page, "two.ts")).toBe(line("first again"));
  const merge = other.getByRole("region", { name: "Two texts of one script" });
  await expect(merge.getByRole("heading", { name: /was saved elsewhere/ })).toBeVisible();
  await expect(merge.getByRole("textbox", { name: "Saved elsewhere" })).toContainText("first again");
  await expect(merge.getByRole("textbox", { name: "Your text" })).toContainText("second");
  await merge.getByRole("button", { name: "Save the right side" }).click();
  await expect(other.locator(".cm-content")).toContainText("second");
  await expect.poll(() => textOf(page, "two.ts")).toBe(line("second"));
  const revisions = (await (await page.request.get("/api/scripts/two.ts/revisions")).json()) as { number: number }[];
  const texts = await Promise.all(
    revisions.map(
      async (r) =>
        ((await (await page.request.get(`/api/scripts/two.ts/revisions/${r.number}`)).json()) as { text: string }).text,
    ),
  );
  expect(texts).toEqual(expect.arrayContaining([line("start"), line("first again"), line("second")]));
});

test("a newer Try ends the older one, and Stop ends the newest; a job that was under way is not running for ever", async ({
  page,
  server,
}) => {
  await create(page, "slow.ts", 'import { emit } from "oxtrum";\nfor (;;) {}\nemit.text("a", "b");\n');
  await open(page, "slow.ts");
  for (let k = 0; k < 4; k++) await page.getByRole("button", { name: /^Try/ }).click();
  // The server before may have left a connection that is closed as it is used.
  const states = async (): Promise<string[]> =>
    (
      (await (await page.request.get("/api/jobs?tries=true", { maxRetries: 3 })).json()) as {
        script: string;
        state: string;
      }[]
    )
      .filter((j) => j.script === "slow.ts")
      .map((j) => j.state);
  await expect.poll(states).toEqual(["running", "stopped", "stopped", "stopped"]);
  await page.getByRole("button", { name: "Stop" }).click();
  await expect.poll(states).toEqual(["stopped", "stopped", "stopped", "stopped"]);
  await page.getByRole("button", { name: /Run on all/ }).click();
  await expect(page.getByRole("heading", { name: "Running" })).toBeVisible();
  await server.kill();
  await server.start();
  await expect(page.getByRole("heading", { name: "Interrupted" })).toBeVisible();
});

test("jobs are found by script, and removed", async ({ page }) => {
  await create(page, "listed.ts", 'import { emit } from "oxtrum";\nemit.text("a", "b");\n');
  const r = await page.request.post("/api/jobs", {
    data: { script: "listed.ts", text: 'import { emit } from "oxtrum";\nemit.text("a", "b");\n', mode: "run" },
  });
  const { id } = (await r.json()) as { id: number };
  await page.goto("/jobs");
  await page.getByLabel("Script").selectOption("listed.ts");
  await expect(page).toHaveURL(/script=listed/);
  const row = page.getByRole("row", { name: new RegExp(`^${id} `) });
  await expect(row).toContainText("done");
  await row.getByRole("button", { name: "Remove" }).click();
  await row.getByRole("button", { name: "Remove job and outputs" }).click();
  await expect(row).toBeHidden();
  expect((await page.request.get(`/api/jobs/${id}`)).status()).toBe(404);
});
