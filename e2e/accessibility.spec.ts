import AxeBuilder from "@axe-core/playwright";
import { expect, test, type Page } from "./server";

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
  // The pages have no frames: they are looked at where they are, which takes half as long. So does saying nothing of
  // what is well.
  const only = rules ? { runOnly: { type: "rule" as const, values: rules } } : {};
  const builder = new AxeBuilder({ page })
    .exclude(".cm-editor")
    .setLegacyMode(true)
    .options({ ...only, resultTypes: ["violations"], preload: false });
  const { violations } = await builder.analyze();
  return violations
    .filter((v) => v.impact === "serious" || v.impact === "critical")
    .map((v) => {
      const places = v.nodes.map((n) => n.html.slice(0, 120));
      return `${v.id}: ${places.slice(0, 3).join(" | ")}`;
    });
}

// In two halves, which are looked at side by side.
for (const half of [0, 1])
  test(`nothing serious stands in the way on any page, light and dark (${half + 1} of 2)`, async ({ page }) => {
    for (const [name, address, ready] of pages.filter((_, k) => k % 2 === half)) {
      await page.goto(address);
      await expect(page.getByText(ready).or(page.getByLabel(ready)).first()).toBeVisible();
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
