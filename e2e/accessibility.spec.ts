import axeCore from "axe-core";
import { expect, test, type Page } from "./server";

declare const axe: typeof axeCore;
const axeSource = axeCore.source;

/** Every page, in both themes: nothing that keeps people from using it. */
const pages: readonly (readonly [name: string, address: string, ready: string])[] = [
  ["studies", "/", "coldstore-doors"],
  ["a study", "/studies/coldstore-doors", "22 runs"],
  ["compare", "/studies/coldstore-doors/compare", "Put in script"],
  ["survey", "/studies/coldstore-doors/survey", "Put in script"],
  ["live", "/studies/coldstore-doors/live", "Add quantity"],
  ["scripts", "/scripts", "hall-recovery.ts"],
  ["a script", "/scripts/hall-recovery.ts", "Run on all"],
  ["jobs", "/jobs", "Jobs"],
  ["guide", "/guide", "Find in the guide"],
  ["settings", "/settings", "Worker threads"],
];

/** What is serious on the page as it stands. */
async function serious(page: Page, rules?: string[]): Promise<string[]> {
  return page.evaluate(
    async ([only]) => {
      const { violations } = await axe.run(
        { exclude: [[".cm-editor"]] },
        // Said is what is wrong, not what is well: that takes half of the time.
        { ...(only && { runOnly: { type: "rule", values: only } }), resultTypes: ["violations"], preload: false },
      );
      return violations
        .filter((v) => v.impact === "serious" || v.impact === "critical")
        .map((v) => {
          const places = v.nodes.map((n) => n.html.slice(0, 120));
          return `${v.id}: ${places.slice(0, 3).join(" | ")}`;
        });
    },
    [rules] as const,
  );
}

// In two halves, which are looked at side by side. Each is loaded once: from page to page one goes inside of it.
for (const half of [0, 1])
  test(`nothing serious stands in the way on any page, light and dark (${half + 1} of 2)`, async ({ page }) => {
    await page.goto("/");
    await page.evaluate(axeSource);
    for (const [name, address, ready] of pages.filter((_, k) => k % 2 === half)) {
      await page.evaluate((to) => {
        history.pushState(null, "", to);
        dispatchEvent(new PopStateEvent("popstate", { state: null }));
      }, address);
      const own = page.getByRole("main");
      await expect(own.getByText(ready).or(own.getByLabel(ready)).first()).toBeVisible();
      expect.soft([name, await serious(page)]).toEqual([name, []]);
      // The themes differ in nothing but their colours.
      await page.getByRole("button", { name: "Dark page" }).click();
      await expect(page.locator("html")).toHaveAttribute("data-theme", "dark");
      const dark = await serious(page, ["color-contrast", "link-in-text-block"]);
      expect.soft([`${name}, dark`, dark]).toEqual([`${name}, dark`, []]);
      await page.getByRole("button", { name: "Light page" }).click();
      await expect(page.locator("html")).toHaveAttribute("data-theme", "light");
    }
  });
