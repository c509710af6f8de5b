import { expect, test, type Page } from "./server";

/** The values of a job's table by column, as the server has them. */
async function table(page: Page, job: string, name: string): Promise<Record<string, (number | string)[]>> {
  const r = await page.request.get(`/api/jobs/${job}/values/${encodeURIComponent(name)}`);
  const { columns } = (await r.json()) as { columns: { name: string; values: (number | string)[] }[] };
  return Object.fromEntries(columns.map((c) => [c.name, c.values]));
}

/** Tries the open script and gives its job's number. */
async function tried(page: Page): Promise<string> {
  const start = page.waitForResponse((r) => r.url().endsWith("/api/jobs") && r.request().method() === "POST");
  await page.getByRole("button", { name: /^Try/ }).click();
  const { id } = (await (await start).json()) as { id: number };
  await expect
    .poll(async () => ((await (await page.request.get(`/api/jobs/${id}`)).json()) as { state: string }).state)
    .toBe("done");
  return String(id);
}

const open = async (page: Page, study: string): Promise<void> => {
  await page.goto(`/studies/${study}`);
  await page.getByRole("link", { name: "Survey" }).click();
  await expect(page.getByRole("img", { name: "The domain with its sites" })).toBeVisible();
  await expect(page.getByRole("region", { name: "Values" }).locator("td[data-mean]")).toHaveText(/\d/);
};

/** The next answer about a site whose question fulfils a condition. */
const answer = (
  page: Page,
  kind: "sample" | "reduce",
  fits: (body: string) => boolean,
): Promise<{ columns: { name: string; values: number[] }[] }> =>
  page
    .waitForResponse((r) => r.url().endsWith(`/survey/${kind}`) && fits(r.request().postData() ?? ""))
    .then((r) => r.json() as Promise<{ columns: { name: string; values: number[] }[] }>);

test("a line moved with the mouse, put in a script, gives the values that the survey showed", async ({ page }) => {
  await open(page, "coldstore-doors");
  const from = page.getByLabel("from x");
  await expect(from).toHaveValue("12");
  // The line's start is the filled dot at the lower edge of the plane in the middle of the hall.
  const domain = (await page.getByRole("region", { name: "Domain" }).boundingBox())!;
  const moved = answer(page, "sample", (body) => !body.includes('"from":[12,'));
  await page.mouse.move(domain.x + 358, domain.y + 438);
  await page.mouse.down();
  await page.mouse.move(domain.x + 420, domain.y + 420, { steps: 6 });
  await page.mouse.up();
  await expect(from).not.toHaveValue("12");
  await moved;
  const x = await from.inputValue();
  const again = answer(page, "sample", (body) => body.includes('"count":23') && body.includes(`"from":[${x},`));
  await page.getByLabel("points").fill("23");
  const T = (await again).columns.find((c) => c.name === "temperature")!.values;
  expect(T).toHaveLength(23);
  await page.getByRole("button", { name: "Put in script" }).click();
  await expect(page).toHaveURL(/scripts\/survey-rake\.ts/);
  await expect(page.locator(".cm-content")).toContainText(`at.line([${x}, `);
  const script = await table(page, await tried(page), "rake");
  expect(script["temperature"]).toEqual(T);
});

test("a plane's mean over a chosen time, added to the open script", async ({ page }) => {
  await page.goto("/scripts");
  await page.getByRole("link", { name: "plane-speed.ts" }).click();
  await expect(page.locator(".cm-content")).toBeVisible();
  await page.getByRole("link", { name: "Scripts" }).click();
  // Within the application: the script that was open last is remembered.
  await page.getByRole("link", { name: "Studies" }).click();
  await page.getByRole("link", { name: "coldstore-doors" }).click();
  await page.getByRole("link", { name: "Survey" }).click();
  // The script's own sites are drawn by name.
  await expect(
    page.getByRole("list", { name: "Sites of the script" }).getByRole("button", { name: "middle" }),
  ).toBeVisible();
  await page.getByRole("button", { name: "aisle", exact: true }).click();
  await page.getByRole("slider", { name: "time" }).focus();
  for (let k = 0; k < 3; k++) await page.keyboard.press("ArrowLeft");
  await expect(page.getByText("K, at 900 s")).toBeVisible();
  const reduced = answer(page, "reduce", (body) => body.includes('"point":[0,4.5,0]'));
  await page.getByLabel("at", { exact: true }).fill("4.5");
  await expect(page.getByText("at.plane({ y: 4.5 })")).toBeVisible();
  const shown = (await reduced).columns.find((c) => c.name === "mean temperature")!.values[0]!;
  await expect(page.locator("td[data-mean]")).toHaveAttribute("data-mean", String(shown));
  await page.getByRole("button", { name: "Add to plane-speed.ts" }).click();
  await expect(page).toHaveURL(/scripts\/plane-speed\.ts/);
  const job = await tried(page);
  const own = await table(page, job, "aisle");
  expect([own["run"], own["mean"]]).toEqual([["050_040_none"], [shown]]);
});
