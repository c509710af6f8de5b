import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { expect, test, type Page } from "./server";

/** Puts a text in place of what the editor holds. */
async function write(page: Page, text: string): Promise<void> {
  const editor = page.locator(".cm-content");
  await editor.click();
  await page.keyboard.press("Control+a");
  await page.keyboard.insertText(text);
}

async function newScript(page: Page, name: string, text: string): Promise<void> {
  await page.goto("/scripts?new");
  await page.getByPlaceholder("recovery.ts").fill(name);
  await page.getByRole("button", { name: "Start" }).click();
  await expect(page).toHaveURL(new RegExp(`/scripts/${name}`));
  await expect(page.locator(".cm-content")).toBeVisible();
  await write(page, text);
}

test("from the first start to downloaded tables and plots", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("link", { name: "coldstore-doors" }).click();
  await expect(page.getByRole("heading", { name: "22 runs" })).toBeVisible();
  await expect(page.getByText("T_mean in °C here, K elsewhere")).toBeVisible();
  await page.goto("/scripts");
  await page.getByRole("link", { name: "hall-recovery.ts" }).click();
  await page.getByRole("button", { name: /^Try/ }).click();
  const margin = page.getByRole("region", { name: "Results" });
  await expect(margin.getByText("chart · 1 of 9 runs")).toBeVisible();
  await expect(margin.getByText("hall air", { exact: true })).toBeVisible();
  await page.getByRole("button", { name: /Run on all/ }).click();
  await expect(page).toHaveURL(/\/jobs\/\d+/);
  await expect(page.getByRole("heading", { name: "Done" })).toBeVisible();
  await expect(
    page.getByRole("gridcell", { name: /^075_080_none, line \d+: (?:done|from cache)$/ }).first(),
  ).toBeVisible();
  const fetchFile = async (output: string, kind: string): Promise<Buffer> => {
    const waiting = page.waitForEvent("download");
    await page
      .getByRole("article", { name: output, exact: true })
      .getByRole("link", { name: kind, exact: true })
      .click();
    return readFileSync(await (await waiting).path());
  };
  const csv = (await fetchFile("peaks", "csv")).toString("utf8").trim().split("\n");
  expect(csv[0]).toMatch(/^run,fan \[%\],open \[s\],peak \[degC\],peak\.diff \[K\]/);
  expect(csv).toHaveLength(10);
  const png = await fetchFile("hall air", "png");
  expect([png.subarray(1, 4).toString(), png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual(["PNG", 1600, 900]);
  const zip = page.waitForEvent("download");
  await page.getByRole("link", { name: "Archive" }).click();
  expect((await zip).suggestedFilename()).toMatch(/^hall-recovery-job-\d+\.zip$/);
  await page.getByRole("button", { name: "Verify" }).click();
  await expect(page.getByText(/all 6 outputs have the same bytes/)).toBeVisible();
});

test("a wrong name is underlined, explained and put right", async ({ page }) => {
  await newScript(
    page,
    "mend.ts",
    'import { study, emit } from "oxtrum";\nemit.table("warm", ' +
      'study("coldstore-doors").runs.rows((run) => ({ t: run.table("monitors/hall.csv").max("T_maen") ' +
      "})));\n",
  );
  const margin = page.getByRole("region", { name: "Results" });
  await expect(page.locator(".cm-lintRange-error")).toHaveText('"T_maen"');
  await expect(
    margin.getByText(/"T_maen" is not found in any run: monitors\/hall\.csv has no such column/),
  ).toBeVisible();
  await margin.getByRole("button", { name: '"T_mean"' }).click();
  await expect(page.locator(".cm-content")).toContainText('max("T_mean")');
  await expect(page.locator(".cm-lintRange-error")).toHaveCount(0);
  await page.keyboard.press("Control+Enter");
  await expect(margin.getByText("table · 1 of 22 runs")).toBeVisible();
});

test("names of this study are offered while typing", async ({ page }) => {
  await newScript(
    page,
    "offer.ts",
    'import { study } from "oxtrum";\nconst t = study("coldstore-doors").runs.map((run) => run.table("monitors/hall.csv"));\n',
  );
  await page.keyboard.press("Control+End");
  await page.keyboard.type('t.map((x) => x.max("', { delay: 20 });
  const offers = page.locator(".cm-tooltip-autocomplete");
  await expect(offers.getByText("coil_duty")).toBeVisible();
  await expect(offers.getByText("kW").first()).toBeVisible();
});

test("a job is stopped", async ({ page }) => {
  await newScript(page, "endless.ts", 'import { emit } from "oxtrum";\nfor (;;) {}\nemit.text("a", "b");\n');
  await page.getByRole("button", { name: /Run on all/ }).click();
  await expect(page.getByRole("heading", { name: "Running" })).toBeVisible();
  await page.getByRole("button", { name: "Stop" }).click();
  await expect(page.getByRole("heading", { name: "Stopped" })).toBeVisible();
  await expect(page.getByText("This job made no outputs.")).toBeVisible();
});

test("preflight says what each run is asked for, and what is missing", async ({ page }) => {
  await page.goto("/scripts/loggers.ts");
  await write(
    page,
    'import { study, emit } from "oxtrum";\nemit.table("s", study("coldstore-doors").runs.rows((run) ' +
      '=> ({ t: run.table("monitors/sensors.dat").max("S1_low") })));\n',
  );
  await page.getByRole("button", { name: "Check inputs" }).click();
  const panel = page.getByRole("region", { name: "Check inputs" });
  await expect(panel.getByText("22 runs, 1 file each at most, 1 missing")).toBeVisible();
  await expect(
    panel.getByRole("row", { name: /090_120_none/ }).getByText("there is no monitors/sensors.dat in this run"),
  ).toBeVisible();
});

test("dark and light, kept over a reload", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("button", { name: "Dark page" }).click();
  await expect(page.locator("html")).toHaveAttribute("data-theme", "dark");
  await page.reload();
  await expect(page.locator("html")).toHaveAttribute("data-theme", "dark");
  await page.keyboard.press("Control+k");
  // The first of all until words are typed; letters strewn over a name do not match.
  const taken = page.locator("[cmdk-item][data-selected=true]");
  await expect(taken).toContainText("aisle-profile.ts");
  await page.keyboard.press("ArrowDown");
  await expect(taken).toContainText("anchor-bolts.ts");
  await page.keyboard.type("ligh");
  await expect(taken).toHaveText("Light page");
  await page.keyboard.press("Enter");
  await expect(page.locator("html")).toHaveAttribute("data-theme", "light");
});

test("a folder is added as a study, and forgotten again", async ({ page, scratch }) => {
  const folder = path.join(scratch, "my results");
  for (const [k, run] of ["a1", "b2", "c3"].entries()) {
    mkdirSync(path.join(folder, run), { recursive: true });
    writeFileSync(path.join(folder, run, "case.json"), JSON.stringify({ valve: { value: 10 * k, unit: "%" } }));
    writeFileSync(path.join(folder, run, "flow.csv"), `time [s],q [L/min]\n0,${k}\n1,${k + 1}\n2,${k}\n`);
  }
  await page.goto("/?add");
  await page.getByLabel("Folder on this machine, with the runs in it").fill("/nowhere/at/all");
  await page.getByRole("button", { name: "Add", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("There is no folder /nowhere/at/all");
  await page.getByLabel("Folder on this machine, with the runs in it").fill(folder);
  await expect(page.getByLabel("Name in scripts")).toHaveValue("my-results");
  await page.getByRole("button", { name: "Add", exact: true }).click();
  await expect(page.getByRole("heading", { name: "3 runs" })).toBeVisible();
  await expect(page.getByRole("button", { name: /^q\s*L\/min/ })).toBeVisible();
  await page.getByRole("button", { name: "draw all 3" }).click();
  await expect(page.getByRole("img", { name: /q: q \(L\/min\) over time \(s\)/ })).toBeVisible();
  await page.goto("/");
  const row = page.getByRole("row", { name: /my-results/ });
  await row.getByRole("button", { name: "Remove from list" }).click();
  await expect(row.getByText("Remove from the list? The files stay.")).toBeVisible();
  await row.getByRole("button", { name: "Remove", exact: true }).click();
  await expect(page.getByRole("link", { name: "my-results" })).toHaveCount(0);
});

test("a long table and a chart of many points stay whole when one looks closer", async ({ page, scratch }) => {
  const folder = path.join(scratch, "long");
  mkdirSync(path.join(folder, "r1"), { recursive: true });
  writeFileSync(path.join(folder, "r1", "case.json"), "{}");
  const rows = Array.from({ length: 100_000 }, (_, i) => `${i},${i === 50_123 ? 7 : (i % 100) / 100}`);
  writeFileSync(path.join(folder, "r1", "long.csv"), `time [s],x [m]\n${rows.join("\n")}\n`);
  await page.goto("/?add");
  await page.getByLabel("Folder on this machine, with the runs in it").fill(folder);
  await page.getByRole("button", { name: "Add", exact: true }).click();
  await expect(page.getByRole("heading", { name: "1 run", exact: true })).toBeVisible();
  await newScript(
    page,
    "long.ts",
    'import { study, chart, emit } from "oxtrum";\nconst t = study("long").runs.map((run) => ' +
      'run.table("long.csv")).get("r1");\nemit.table("rows", t);\nemit.chart("points", chart.lines(t, ' +
      '{ x: "time", y: "x" }));\n',
  );
  await page.keyboard.press("Control+Shift+Enter");
  await expect(page.getByRole("heading", { name: "Done" })).toBeVisible();
  const table = page.getByRole("article", { name: "rows", exact: true });
  await table.getByRole("button", { name: "Open rows large" }).click();
  const large = page.getByRole("dialog");
  await expect(large.getByText("100 000 rows")).toBeVisible();
  const body = large.getByRole("table").first();
  await body.evaluate((e) => e.scrollTo(0, e.scrollHeight));
  await expect(large.getByText("99 999", { exact: true })).toBeVisible();
  await page.keyboard.press("Escape");
  const closer = page.waitForRequest((r) => /values\/points\?from=/.test(r.url()));
  await page.getByRole("article", { name: "points", exact: true }).getByRole("img").hover();
  await page.mouse.wheel(0, -400);
  const asked = new URL((await closer).url());
  expect(Number(asked.searchParams.get("to")) - Number(asked.searchParams.get("from"))).toBeLessThan(99_999);
});

test("the guide is found by word, settings are kept", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("link", { name: "Guide" }).click();
  await page.getByLabel("Find in the guide").fill("trapezoidal");
  await expect(page.getByRole("heading", { name: "integral", exact: true })).toBeVisible();
  await expect(page.getByRole("heading", { name: "sortBy", exact: true })).toHaveCount(0);
  await page.keyboard.press("Control+k");
  await page.keyboard.type("change settings");
  await page.keyboard.press("Enter");
  const memory = page.getByLabel(/Array memory limit/);
  await memory.fill("many");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("a whole number")).toBeVisible();
  await memory.fill("3000");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Saved.")).toBeVisible();
  await page.reload();
  await expect(memory).toHaveValue("3000");
});
