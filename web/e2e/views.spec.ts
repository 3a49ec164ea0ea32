import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "@playwright/test";

const views = [
  "/",
  "/brewers/lamp",
  "/brewers/new",
  "/brewers/wheel/edit",
  "/brewers/lamp/plan",
  "/cleans/demo-half-done",
  "/cleans/demo-finished",
  "/mix",
  "/log",
  "/household",
  "/nowhere",
];

for (const colorScheme of ["light", "dark"] as const) {
  test.describe(colorScheme, () => {
    test.use({ colorScheme });
    for (const view of views) {
      test(`${view} is accessible, without errors, and not wider than the screen`, async ({ page }) => {
        const errors: string[] = [];
        page.on("console", (message) => message.type() === "error" && errors.push(message.text()));
        page.on("pageerror", (error) => errors.push(error.message));
        await page.goto(view);
        await page.getByRole("heading", { level: 1 }).first().waitFor();
        const { violations } = await new AxeBuilder({ page })
          .withTags(["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa"])
          .analyze();
        expect(violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html).join(" ")}`)).toEqual([]);
        expect(errors).toEqual([]);
        expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
      });
    }
  });
}
