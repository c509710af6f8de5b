import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "./server";

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

for (const theme of ["light", "dark"] as const)
  test(`nothing serious stands in the way on any page, ${theme}`, async ({ page }) => {
    await page.addInitScript((t) => localStorage.setItem("oxtrum.theme", t), theme);
    for (const [name, address, ready] of pages) {
      await page.goto(address);
      await expect(page.getByText(ready).or(page.getByLabel(ready)).first()).toBeVisible();
      // The pages have no frames: they are looked at where they are, which takes half as long.
      const builder = new AxeBuilder({ page }).exclude(".cm-editor").setLegacyMode(true);
      // The themes differ in nothing but their colours.
      if (theme === "dark") builder.withRules(["color-contrast", "link-in-text-block"]);
      const { violations } = await builder.analyze();

      const serious = violations
        .filter((v) => v.impact === "serious" || v.impact === "critical")
        .map(
          (v) =>
            `${v.id}: ${v.nodes
              .map((n) => n.html.slice(0, 120))
              .slice(0, 3)
              .join(" | ")}`,
        );
      expect.soft([name, serious]).toEqual([name, []]);
    }
  });
