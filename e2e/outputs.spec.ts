import { readFileSync } from "node:fs";
import { expect, test, type Page } from "./server";
import { unzipSync } from "fflate";

const SCRIPT = `import { study, at, chart, emit, picture } from "oxtrum";
const runs = study("coldstore-doors").runs.where({ curtain: "none", doorOpen: 80 });
const air = runs.map((run) => run.table("monitors/hall.csv").to("T_mean", "degC"));
const peaks = air.rows((t, run) => ({ fan: run.params.fan, peak: t.max("T_mean") }));
emit.chart("air", chart.lines(air, { x: "time", y: "T_mean", color: "fan", title: "Hall air" }), { formats: ["svg", "pdf", "csv"] });
emit.chart("by fan", chart.lines(air, { x: "time", y: "T_mean", panels: "fan", title: "By fan" }), { formats: ["png"] });
emit.table("peaks", peaks, { formats: ["csv", "xlsx"] });
emit.value("warmest", peaks.max("peak"));
emit.check("cold enough", peaks.max("peak"), { below: "5 degC" });
const aisle = runs.map((run) => run.field("fields/hall").at("last").surface(at.plane({ y: 6 }), { color: "temperature" }));
emit.picture("aisle", picture.panels(aisle.get("075_080_none"), { title: "Aisle" }));
emit.report("hand over", { title: "Doors", notes: "The most is **{{warmest}}**.", formats: ["html"] });
`;

async function runJob(page: Page, name: string, text: string): Promise<number> {
  const started = await page.request.post("/api/jobs", { data: { script: name, text, mode: "run" } });
  const { id } = (await started.json()) as { id: number };
  await page.goto(`/jobs/${id}`);
  await expect(page.getByRole("heading", { name: "Done" })).toBeVisible();
  return id;
}

let made: number | undefined;
/** The job that several of these tests look at; made once. */
async function theJob(page: Page): Promise<number> {
  if (made === undefined) return (made = await runJob(page, "outputs.ts", SCRIPT));
  await page.goto(`/jobs/${made}`);
  await expect(page.getByRole("heading", { name: "Done" })).toBeVisible();
  return made;
}

const outputs = (page: Page) => page.getByRole("region", { name: "Outputs" });
const piece = (page: Page, name: string) => outputs(page).getByRole("article", { name, exact: true });

test("outputs are filtered by kind, name and run, listed, and opened large", async ({ page }) => {
  await theJob(page);
  await expect(outputs(page).getByRole("article")).toHaveCount(7);
  await outputs(page).getByRole("button", { name: "chart 2" }).click();
  await expect(outputs(page).getByRole("article")).toHaveCount(2);
  await outputs(page).getByRole("button", { name: "chart 2" }).click();
  await outputs(page).getByLabel("Part of the name").fill("pea");
  await expect(outputs(page).getByRole("article")).toHaveCount(1);
  await outputs(page).getByLabel("Part of the name").fill("");
  await outputs(page).getByLabel("Outputs that hold a run").fill("075_080_none");
  await expect(piece(page, "aisle")).toHaveCount(0);
  await expect(piece(page, "peaks")).toBeVisible();
  await outputs(page).getByLabel("Outputs that hold a run").fill("");
  await outputs(page).getByRole("radio", { name: "List" }).click();
  await expect(outputs(page).getByRole("row")).toHaveCount(8);
  await outputs(page).getByRole("button", { name: "air", exact: true }).click();

  const large = page.getByRole("dialog", { name: "air" });
  await expect(large.getByText("coldstore-doors: monitors/hall.csv")).toBeVisible();
  await expect(large.getByText(/^emit\.chart\("air"/)).toBeVisible();
  await large.getByText(/^Numbers: \d+/).click();
  await expect(large.getByRole("columnheader", { name: "T_mean" })).toBeVisible();
  // A click on an entry of the legend takes its lines away, another one brings them back.
  const canvas = large.getByRole("img").first();
  const seen = (): Promise<string> => canvas.evaluate((c) => (c as HTMLCanvasElement).toDataURL());
  await expect.poll(async () => (await seen()).length).toBeGreaterThan(10_000);
  const whole = await seen();
  await canvas.click({ position: { x: 50, y: 41 } });
  await expect.poll(seen).not.toBe(whole);
  await canvas.click({ position: { x: 50, y: 41 } });
  await page.mouse.move(900, 500);
  // On with the keyboard: panels, a picture and the report.
  await page.keyboard.press("ArrowRight");
  await expect(page.getByRole("dialog", { name: "by fan" }).getByRole("img", { name: /fan 75/ })).toBeVisible();
  await page.keyboard.press("ArrowRight");
  const picture = page.getByRole("dialog", { name: "aisle" }).getByRole("img", { name: "aisle" });
  await expect.poll(() => picture.evaluate((i) => (i as HTMLImageElement).naturalWidth)).toBe(1600);
  await page.keyboard.press("Escape");
  await outputs(page).getByRole("button", { name: "hand over", exact: true }).click();
  await expect(page.frameLocator('iframe[title="hand over"]').getByText(/^The most is [\d.]+ °C\.$/)).toBeVisible();
});

test("a page on which nothing happens is not drawn again", async ({ page, context }) => {
  await theJob(page);
  await expect(piece(page, "air").getByRole("img")).toBeVisible();
  const browser = await context.newCDPSession(page);
  await browser.send("Performance.enable");
  const drawn = async (): Promise<number> => {
    const { metrics } = await browser.send("Performance.getMetrics");
    return metrics.find((m) => m.name === "RecalcStyleCount")!.value;
  };
  // What moves in steps may do so; an animation that never ends is drawn sixty times a second.
  const least = async (): Promise<number> => {
    const before = await drawn();
    await page.waitForTimeout(600);
    return (await drawn()) - before;
  };
  await expect.poll(least).toBeLessThan(12);
  await browser.detach();
});

test("numbers are copied, and the archive holds all that it takes to run again", async ({ page, context }) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  const id = await theJob(page);
  await piece(page, "air").getByRole("button", { name: "Open air large" }).click();
  await page.getByRole("button", { name: "Copy the numbers" }).click();
  await expect(page.getByText("Numbers copied")).toBeVisible();
  const copied = (await page.evaluate(() => navigator.clipboard.readText())).split("\n");
  expect(copied[0]).toBe("series\tquantity\tunit\ttime [s]\tT_mean [degC]");
  await page.getByRole("button", { name: "Copy as a picture" }).click();
  await expect(page.getByText("Picture copied")).toBeVisible();
  await page.keyboard.press("Escape");
  const waiting = page.waitForEvent("download");
  await page.getByRole("link", { name: "Archive" }).click();
  const download = await waiting;
  expect(download.suggestedFilename()).toBe(`outputs-job-${id}.zip`);
  const files = Object.keys(unzipSync(new Uint8Array(readFileSync(await download.path()))));
  for (const f of [
    "manifest.json",
    "script/outputs.ts",
    "outputs/hand-over.html",
    "outputs/air.pdf",
    "outputs/peaks.xlsx",
  ])
    expect(files).toContain(f);
});

test("then and now: a job is compared with the reference, output by output", async ({ page }) => {
  await runJob(page, "since.ts", SCRIPT);
  await page.getByRole("button", { name: "Make reference" }).click();
  await expect(page.getByRole("button", { name: "Reference", exact: true })).toBeVisible();
  await runJob(
    page,
    "since.ts",
    SCRIPT.replace('t.max("T_mean")', 't.max("T_mean").plus("0.1 K")')
      .replace('"5 degC"', '"4 degC"')
      .replace('at("last")', 'at("first")'),
  );
  await page.getByRole("link", { name: "Compare with job" }).click();
  await expect(page.getByText("5 of 7 outputs changed")).toBeVisible();
  const list = page.getByRole("navigation", { name: "Outputs" });
  await expect(list.getByRole("button", { name: /cold enough check, changed *passed then, failed now/ })).toBeVisible();
  await expect(list.getByRole("button", { name: /air chart, same bytes/ })).toBeVisible();
  await expect(page.getByText(/plus\("0\.1 K"\)/)).toBeVisible();
  await list.getByRole("button", { name: /peaks table, changed/ }).click();
  const moved = page.getByRole("article", { name: "peaks" });
  await expect(moved.getByRole("row")).toHaveCount(4);
  await expect(moved.getByRole("cell", { name: "+0.1", exact: true }).first()).toBeVisible();
  await list.getByRole("button", { name: /aisle picture, changed/ }).click();
  await expect(page.getByRole("img", { name: "aisle, the difference" })).toBeVisible();
  await page.getByLabel("absolute tolerance").fill("0.2");
  await page.getByLabel("absolute tolerance").press("Enter");
  await expect(list.getByRole("button", { name: /peaks table, within tolerance/ })).toBeVisible();
  await expect(page).toHaveURL(/absolute=0\.2/);
});

test("the house style is kept and goes into new charts", async ({ page }) => {
  await page.goto("/settings");
  await page.getByLabel(/^Lines/).fill("5");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Saved. Jobs take it from their start.")).toBeVisible();
  const chart = SCRIPT.split("\n").slice(0, 5).join("\n").replace("at, chart, emit, picture", "chart, emit");
  const id = await runJob(page, "style.ts", chart);
  const svg = await (await page.request.get(`/api/jobs/${id}/files/air.svg`)).text();
  expect(svg).toContain('stroke-width="5"');
  await page.goto("/settings");
  await page.getByLabel(/^Lines/).fill("");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Saved. Jobs take it from their start.")).toBeVisible();
});

test("the screen and the file show the same chart", async ({ page }) => {
  await theJob(page);
  await piece(page, "air").getByRole("button", { name: "Open air large" }).click();
  const canvas = page.getByRole("dialog", { name: "air" }).getByRole("img").first();
  await expect.poll(() => canvas.evaluate((c) => (c as HTMLCanvasElement).width)).toBeGreaterThan(300);
  const [width, height] = await canvas.evaluate((c) => [
    (c as HTMLCanvasElement).width,
    (c as HTMLCanvasElement).height,
  ]);
  const screen = await canvas.evaluate((c) => (c as HTMLCanvasElement).toDataURL());
  const sized = SCRIPT.split("\n")
    .slice(0, 5)
    .join("\n")
    .replace("at, chart, emit, picture", "chart, emit")
    .replace('title: "Hall air" })', `title: "Hall air", size: [${width}, ${height}], resolution: 96 })`)
    .replace('"svg", "pdf", "csv"', '"png"');
  const id = await runJob(page, "same-size.ts", sized);
  // Means over blocks of both pictures, on white: letters may be smoothed otherwise, nothing may stand elsewhere.
  const apart = await page.evaluate(
    async ([a, b]) => {
      const read = async (src: string): Promise<Uint8ClampedArray> => {
        const image = new Image();
        image.src = src;
        await image.decode();
        const c = document.createElement("canvas");
        [c.width, c.height] = [Math.round(image.width / 8), Math.round(image.height / 8)];
        const ctx = c.getContext("2d")!;
        ctx.fillStyle = "#fff";
        ctx.fillRect(0, 0, c.width, c.height);
        ctx.imageSmoothingQuality = "high";
        ctx.drawImage(image, 0, 0, c.width, c.height);
        return ctx.getImageData(0, 0, c.width, c.height).data;
      };
      const [x, y] = [await read(a!), await read(b!)];
      let far = 0;
      let ink = 0;
      for (let k = 0; k < x.length; k++) {
        if (Math.abs(x[k]! - y[k]!) > 24) far++;
        if (x[k]! < 235) ink++;
      }
      return { same: x.length === y.length, far: far / x.length, ink: ink / x.length };
    },
    [screen, `/api/jobs/${id}/files/air.png`],
  );
  expect(apart.same).toBe(true);
  expect(apart.ink).toBeGreaterThan(0.02);
  expect(apart.far).toBeLessThan(0.002);
});
