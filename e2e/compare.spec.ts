import { expect, test, type Page, type Response } from "./server";

type Columns = Record<string, (number | string | null)[]>;

const byName = (columns: { name: string; values: (number | string | null)[] }[]): Columns =>
  Object.fromEntries(columns.map((c) => [c.name, c.values]));

/** The next answer to a look whose lines hold some words. */
const looked = (page: Page, words: string): Promise<Response> =>
  page.waitForResponse(
    (r) =>
      r.url().endsWith("/api/previews") &&
      (r.request().postDataJSON() as { text: string }).text.includes(words) &&
      r.status() === 200,
  );

/** A table that a look gave. */
async function tableOf(r: Response, ending: string): Promise<Columns> {
  const { outputs } = (await r.json()) as {
    outputs: { name: string; value: { columns: { name: string; values: number[] }[] } }[];
  };
  return byName(outputs.find((o) => o.name.endsWith(ending))!.value.columns);
}

/** Runs the open script on all runs, and gives its tables. */
async function ran(page: Page): Promise<(name: string) => Promise<Columns>> {
  await page.getByRole("button", { name: /Run on all/ }).click();
  await expect(page).toHaveURL(/\/jobs\/\d+/);
  await expect(page.getByRole("heading", { name: "Done" })).toBeVisible();
  const job = /jobs\/(\d+)/.exec(page.url())![1]!;
  return async (name) => {
    const r = await page.request.get(`/api/jobs/${job}/values/${encodeURIComponent(name)}`);
    return byName(((await r.json()) as { columns: { name: string; values: number[] }[] }).columns);
  };
}

test("a comparison clicked together, put in a script and run, gives the numbers that the page showed", async ({
  page,
}) => {
  await page.goto("/studies/coldstore-doors");
  await page.getByRole("link", { name: "Compare" }).click();
  await expect(page.getByRole("img", { name: /T_mean by run/ })).toBeVisible();
  await page.getByLabel("unit", { exact: true }).fill("degC");
  await page.keyboard.press("Enter");
  const where = (parameter: string): ReturnType<Page["getByRole"]> => page.getByRole("group", { name: parameter });
  await where("curtain").getByRole("button", { name: "none" }).click();
  await page.getByLabel("Accepted runs only").click();
  await expect(page).toHaveURL(/accepted=yes/);
  await page.getByRole("tab", { name: "By parameter" }).click();
  await page.getByLabel("x axis", { exact: true }).selectOption("doorOpen");
  const last = looked(page, "fit.linear");
  await page.getByLabel("fit", { exact: true }).selectOption("linear");
  const answer = await last;
  const shown = await tableOf(answer, "of each run");
  const law = await tableOf(answer, " fit");
  expect(shown["run"]).toHaveLength(10);
  await expect(page.getByRole("table", { name: "The fit" })).toContainText("doorOpen");
  // The state is in the address: who opens it sees the same.
  expect(new URL(page.url()).searchParams.getAll("where")).toEqual(["curtain:none"]);
  await page.getByRole("button", { name: "Put in script" }).click();
  await expect(page).toHaveURL(/\/scripts\/compare-T_mean-parameter\.ts/);
  await expect(page.locator(".cm-content")).toContainText("fit.linear(results");
  const table = await ran(page);
  expect(await table("T_mean max of each run")).toEqual(shown);
  expect(await table("T_mean max linear fit")).toEqual(law);
});

test("runs brushed in one view are marked in all", async ({ page }) => {
  await page.goto("/studies/coldstore-doors/compare?file=monitors/hall.csv&column=T_mean&unit=degC&where=curtain:none");
  const chart = page.getByRole("img", { name: /T_mean by run/ });
  await expect(chart).toBeVisible();
  const marked = page.getByRole("group", { name: "Runs", exact: true }).getByRole("button", { pressed: true });
  // On a slow machine the chart may still be drawn anew while one drags: then one drags again.
  await expect(async () => {
    const box = (await chart.boundingBox())!;
    // Only with the longest door the hall gets warmer than 5 °C: the top of the chart.
    await page.mouse.move(box.x + 60, box.y + 40);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width - 20, box.y + 0.235 * box.height, { steps: 5 });
    await page.mouse.up();
    await expect(page.getByText("3 runs marked")).toBeVisible({ timeout: 3000 });
  }).toPass({ timeout: 120_000 });
  expect((await marked.allTextContents()).sort()).toEqual(["050_160_none", "075_160_none", "100_160_none"]);
  await page.getByRole("tab", { name: "Ranking" }).click();
  const ranking = page.getByRole("table", { name: "Ranking" });
  await expect(ranking.locator("tr.bg-oxide-wash")).toHaveCount(3);
  await ranking.getByRole("row", { name: /050_040_none/ }).click();
  await expect(page.getByText("4 runs marked")).toBeVisible();
});

test("differences to a baseline are taken from a common event on", async ({ page }) => {
  await page.goto(
    "/studies/coldstore-doors/compare?file=monitors/hall.csv&column=T_mean&where=curtain:strip&view=difference&base=075_080_strip",
  );
  await expect(page.getByRole("table", { name: "Differences" })).toBeVisible();
  const last = looked(page, ".since(t.max");
  await page.getByLabel("by", { exact: true }).selectOption("max");
  const shown = await tableOf(await last, "differences from 075_080_strip");
  // The chart of one view is not drawn in the size of another.
  for (const view of ["Overlay", "Difference", "By parameter", "Difference"]) {
    await page.getByRole("tab", { name: view, exact: true }).click();
    await expect
      .poll(() =>
        page
          .locator("canvas[role=img]")
          .first()
          .evaluate((c) => {
            const [own, frame] = [c.getBoundingClientRect(), c.parentElement!.getBoundingClientRect()];
            return Math.max(Math.abs(own.width - frame.width), Math.abs(own.height - frame.height)) < 2;
          }),
      )
      .toBe(true);
  }
  const own = shown["run"]!.indexOf("075_080_strip");
  expect([shown["max"]![own], shown["min"]![own]]).toEqual([0, 0]);
});

test("what a job made is compared with lines below its own script", async ({ page }) => {
  const own = `import { study, chart, emit, fit } from "oxtrum";
const runs = study("coldstore-doors").runs.where({ curtain: "none" });
const peaks = runs.rows((run) => ({ open: run.params.doorOpen, peak: run.table("monitors/hall.csv").max("T_mean") }));
emit.table("peaks", peaks);
emit.chart("own chart", chart.lines(runs.map((run) => run.table("monitors/hall.csv")), { x: "time", y: "T_mean" }));
emit.table("own fit", fit.linear(peaks, { y: "peak", x: "open" }));
`;
  await page.request.put("/api/scripts/own-peaks.ts", { data: { text: own } });
  const started = await page.request.post("/api/jobs", { data: { script: "own-peaks.ts", text: own, mode: "run" } });
  const { id } = (await started.json()) as { id: number };
  await page.goto(`/jobs/${id}`);
  await page.getByRole("article", { name: "peaks", exact: true }).getByRole("link", { name: "Compare" }).click();
  await page.getByLabel("quantity", { exact: true }).selectOption("peak");
  await page.getByLabel("x axis", { exact: true }).selectOption("open");
  const last = looked(page, "fit.power");
  await page.getByLabel("fit", { exact: true }).selectOption("power");
  const answer = await last;
  const law = await tableOf(answer, " power fit");
  expect(law["term"]).toEqual(["C", "open"]);
  // Of the job's 22 runs those that the output has.
  const runs = page.getByRole("group", { name: "Runs", exact: true }).getByRole("button");
  expect((await runs.allTextContents()).every((run) => run.endsWith("_none"))).toBe(true);
  await expect(runs).toHaveCount(11);
  // What the script itself draws is not what was asked.
  await expect(page.getByRole("img")).toHaveCount(1);
  await expect(page.getByRole("img", { name: "peak by open" })).toBeVisible();
  await expect(page.getByRole("table", { name: "The fit" })).toContainText("C");
  await page.getByRole("button", { name: "Put in script" }).click();
  await expect(page.locator(".cm-content")).toContainText('"peaks", compared');
  await expect(page.locator(".cm-content")).toContainText("fit.power(results");
  await expect(page.locator(".cm-content")).toContainText("const results = peaks;");
});

test("a site of the survey is compared in all runs", async ({ page }) => {
  await page.goto("/studies/coldstore-doors/survey");
  await expect(page.getByRole("img", { name: "The domain with its sites" })).toBeVisible();
  await page.getByRole("link", { name: "Compare the runs here" }).click();
  await expect(page.getByRole("img", { name: /temperature by run: temperature \(K\) over distance/ })).toBeVisible();
  await expect(page.getByText("22 of 22 runs")).toBeVisible();
});
