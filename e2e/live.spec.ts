import path from "node:path";
import { LiveHall } from "../demo/dist/live.js";
import { expect, test, type Page } from "./server";

/** The last value of a run's first curve, as the page shows it. */
const lasts = (page: Page): Promise<string[]> =>
  page.locator("b[data-last]").evaluateAll((all) => all.map((e) => e.getAttribute("data-last") ?? ""));

const stateOf = (page: Page, run: string) =>
  page.getByRole("table", { name: "Runs" }).getByRole("row").filter({ hasText: run });

async function addStudy(page: Page, name: string, folder: string): Promise<void> {
  const r = await page.request.post("/api/studies", { data: { name, folder } });
  expect(r.status()).toBe(201);
}

test("a study is followed while it is computed: curves grow, the zoom stays, states are told", async ({
  page,
  scratch,
}) => {
  const folder = path.join(scratch, "hall-1");
  const hall = new LiveHall(folder);
  hall.step();
  hall.step();
  await addStudy(page, "hall-1", folder);
  await page.goto("/studies/hall-1/live");
  await expect(page.getByRole("img", { name: /^T_mean/ })).toBeVisible();
  await expect(stateOf(page, "050_040_none")).toContainText("running");
  await expect.poll(async () => (await lasts(page)).length).toBe(1);
  const [before] = await lasts(page);
  for (let k = 0; k < 4; k++) hall.step();
  await expect.poll(async () => (await lasts(page))[0]).not.toBe(before);
  // A run that has begun since is found and drawn.
  await expect(stateOf(page, "050_160_none")).toBeVisible();
  await expect.poll(async () => (await lasts(page)).length).toBe(2);

  // Zoomed in, the chart stays where it is; the address has it; one click follows again.
  const box = (await page.getByRole("img", { name: /^T_mean/ }).boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.wheel(0, -400);
  const back = page.getByRole("button", { name: "Back to following" });
  await expect(back).toBeVisible();
  const zoomed = page.url();
  expect(decodeURIComponent(zoomed)).toContain('"range":[');
  const some = await lasts(page);
  for (let k = 0; k < 3; k++) hall.step();
  await expect.poll(() => lasts(page)).not.toEqual(some);
  expect(page.url()).toBe(zoomed);
  await back.click();
  await expect(back).toBeHidden();

  // The run that diverges is marked, then stopped; finished ones are told. It begins with the thirteenth step.
  let taken = 9;
  let more = true;
  const stepTo = (step: number): void => {
    for (; taken < step && more; taken++) more = hall.step();
  };
  stepTo(14);
  const odd = stateOf(page, "060_120_none");
  await expect(odd).toContainText("running");
  stepTo(34);
  // Several steps at once would pass the state by: a step a look.
  while (more && !(await odd.innerText()).includes("diverging")) {
    stepTo(taken + 1);
    await page.waitForTimeout(1500);
  }
  await expect(odd).toContainText("diverging");
  while (more) more = hall.step();
  await expect(odd).toContainText("failed");
  for (const run of ["050_040_none", "100_160_strip"]) await expect(stateOf(page, run)).toContainText("finished");
  await expect(page.getByRole("group", { name: "States" })).toContainText(/finished\s*5/);
});

test("values are taken from a line of a log, followed and put in a script", async ({ page }) => {
  await page.goto("/studies/coldstore-doors/live");
  await page.getByRole("button", { name: "Values from a log" }).click();
  await page.getByRole("listbox", { name: "Kinds of lines" }).getByRole("option").first().click();
  const numbers = page.getByLabel("Line", { exact: true }).getByRole("button");
  for (const k of [0, 2]) await numbers.nth(k).click();
  await page.getByLabel("name of number 1").fill("time");
  await expect(page.getByLabel("pattern")).toHaveValue(/^t \{time:s\} s \| it … \| dT \{dT\} \|$/);
  await expect(page.getByRole("status", { name: "Found" })).toContainText(/\d+ rows; \d+ matches, 0 misses/);
  // A pattern that fits part of its lines says which it misses.
  await page.getByLabel("pattern").fill("t {time:s} s | it 1 | dT {dT}");
  await expect(page.getByRole("status", { name: "Found" })).toContainText(/line \d+ begins like it but does not match/);
  await page.getByRole("button", { name: "Follow dT" }).click();
  await expect(page.getByRole("img", { name: /^dT: dT over time \(s\)/ })).toBeVisible();
  await page.getByRole("button", { name: "Remove T_mean" }).click();
  await page.getByRole("button", { name: "Put in script" }).click();
  await expect(page).toHaveURL(/scripts\/live-dT\.ts/);
  await expect(page.locator(".cm-content")).toContainText('.read("t {time:s} s | it 1 | dT {dT}")');
  await page.getByRole("button", { name: /^Try/ }).click();
  await expect(page.getByRole("status")).toContainText(/tried on .*, [\d.]+ s/);
});

test("a followed script evaluates what changed; its outputs are those of a run on the finished study", async ({
  page,
  scratch,
}) => {
  const folder = path.join(scratch, "hall-2");
  const hall = new LiveHall(folder);
  for (let k = 0; k < 62; k++) hall.step();
  await addStudy(page, "hall-2", folder);
  const text =
    'import { study, emit } from "oxtrum";\nconst runs = study("hall-2").runs.finished;\n' +
    'const peaks = runs.rows((run) => ({ peak: run.table("monitors/hall.csv").max("T_mean") }));\n' +
    'emit.table("peaks", peaks);\nemit.check("cold", peaks.max("peak"), { below: "290 K" });\n';
  await page.request.put("/api/scripts/followed.ts", { data: { text } });
  // No evaluation is asked for values that it does not have yet.
  const missing: string[] = [];
  page.on("response", (r) => void (r.status() === 404 && missing.push(r.url())));
  await page.goto("/scripts/followed.ts");
  await page.getByRole("button", { name: "Follow" }).click();
  const margin = page.getByRole("region", { name: "Results" });
  await expect(margin).toContainText("1 of 6 runs");
  await expect(margin).toContainText("undecided");
  while (hall.step());
  await expect(margin).toContainText("5 of 6 runs");
  await expect(margin.getByRole("table").first()).toContainText("075_080_strip");
  const shown = await margin.getByRole("table").first().innerText();
  await page.getByRole("button", { name: "Follow" }).click();
  await page.getByRole("button", { name: /^Run on all/ }).click();
  await expect(page).toHaveURL(/\/jobs\/\d+/);
  const job = /jobs\/(\d+)/.exec(page.url())![1]!;
  await expect
    .poll(async () => ((await (await page.request.get(`/api/jobs/${job}`)).json()) as { state: string }).state)
    .toBe("done");
  await page.goto("/scripts/followed.ts");
  await expect(margin).toContainText("5 of 6 runs");
  await expect.poll(() => margin.getByRole("table").first().innerText()).toBe(shown);
  expect(missing).toEqual([]);
});
