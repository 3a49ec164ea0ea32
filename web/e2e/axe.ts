import AxeBuilder from "@axe-core/playwright";
import { expect, type Page } from "@playwright/test";

/** Nothing on screen breaks WCAG 2.2 AA, in light or dark, and nothing is wider than the screen. */
export async function expectAccessible(page: Page) {
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
  expect(await isWiderThanTheScreen(page)).toBe(false);
}

const isWiderThanTheScreen = (page: Page) =>
  page.evaluate(() => document.documentElement.scrollWidth > window.innerWidth);

/** On phones, small ones too, and on what is left of a laptop's screen at 200 %, nothing has to be scrolled sideways. */
export async function expectFits(page: Page) {
  for (const [width, height] of [
    [640, 400],
    [390, 844],
    [320, 640],
  ] as const) {
    await page.setViewportSize({ width, height });
    expect(await isWiderThanTheScreen(page), `${width} px wide`).toBe(false);
  }
}
