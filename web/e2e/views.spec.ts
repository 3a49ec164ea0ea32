import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "@playwright/test";

const views = [
  "/",
  "/brewers/lamp",
  "/brewers/new",
  "/brewers/wheel/edit",
  "/brewers/duo/edit",
  "/brewers/duo",
  "/brewers/galley-cup/plan?work=needles",
  "/brewers/lamp/plan",
  "/cleans/demo-half-done",
  "/cleans/demo-finished",
  "/cleans/demo-unclogged",
  "/mix",
  "/waters",
  "/trouble?brewer=lamp&slow=yes",
  "/log",
  "/household",
  "/nowhere",
];

for (const view of views) {
  test(`${view} is accessible in light and dark, without errors, and not wider than the screen`, async ({ page }) => {
    const errors: string[] = [];
    page.on("console", (message) => message.type() === "error" && errors.push(message.text()));
    page.on("pageerror", (error) => errors.push(error.message));
    await page.goto(view);
    await page.getByRole("heading", { level: 1 }).first().waitFor();
    for (const colorScheme of ["light", "dark"] as const) {
      await page.emulateMedia({ colorScheme });
      // Legacy mode spares a second page for each look; there are no frames here that it would miss.
      const { violations } = await new AxeBuilder({ page })
        .setLegacyMode(true)
        .withTags(["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa"])
        .analyze();
      const found = violations.map((v) => `${colorScheme} ${v.id}: ${v.nodes.map((n) => n.html).join(" ")}`);
      expect(found).toEqual([]);
    }
    expect(errors).toEqual([]);
    expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
  });
}
