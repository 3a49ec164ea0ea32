import AxeBuilder from "@axe-core/playwright";
import { expect, type Page } from "@playwright/test";

/** Nothing on screen breaks WCAG 2.2 AA, in light or dark, and nothing is wider than the screen. */
export async function expectAccessible(page: Page) {
  await page.addStyleTag({
    content: "*, ::before, ::after { transition: none !important; animation: none !important; }",
  });
  for (const colorScheme of ["light", "dark"] as const) {
    await page.emulateMedia({ colorScheme });
    await settled(page);
    // Legacy mode spares a second page for each look; there are no frames here that it would miss.
    const look = new AxeBuilder({ page }).setLegacyMode(true);
    // In the dark only colours are others.
    if (colorScheme === "light") look.withTags(["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa"]);
    else look.withRules(["color-contrast", "link-in-text-block"]);
    const { violations } = await look.analyze();
    const found = violations.map((v) => `${colorScheme} ${v.id}: ${v.nodes.map((n) => n.html).join(" ")}`);
    expect(found).toEqual([]);
  }
  const width = page.viewportSize()?.width;
  expect(await isWiderThanTheScreen(page), `scrolled sideways at ${width} px`).toBe(false);
}

/** Drawn as it will be: nothing fades, because half-way through a fade colours are not what they will be. */
const settled = (page: Page) =>
  page.evaluate(() => new Promise<void>((done) => requestAnimationFrame(() => requestAnimationFrame(() => done()))));

const isWiderThanTheScreen = (page: Page) =>
  page.evaluate(() => document.documentElement.scrollWidth > window.innerWidth);

/** The same on small phones, and on what is left of a laptop's screen at 200 %; usual phones have a project of their own. */
export async function expectAccessibleWhenSmall(page: Page) {
  for (const [width, height] of [
    [640, 400],
    [320, 640],
  ] as const) {
    await page.setViewportSize({ width, height });
    await expectAccessible(page);
  }
}
