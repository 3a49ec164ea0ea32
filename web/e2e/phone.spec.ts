import { expect } from "@playwright/test";
import { test } from "./demo";

test("the acts of a running clean are large enough for a wet thumb", async ({ page }) => {
  await page.goto("/cleans/demo-half-done");
  await expect(page.getByRole("timer")).toBeVisible();
  for (const name of ["Soak is over", "Undo", "Stop here", "More"]) {
    const box = await page.getByRole("button", { name }).boundingBox();
    expect(box?.height).toBeGreaterThanOrEqual(56);
  }
});

test("at 200 % zoom what is fixed takes no more than a quarter of the height", async ({ page }) => {
  await page.setViewportSize({ width: 640, height: 400 });
  await page.goto("/cleans/demo-half-done");
  await expect(page.getByRole("timer")).toBeVisible();
  const fixed = await page.evaluate(() => {
    const boxes = [...document.querySelectorAll("body *")].filter((e) =>
      ["fixed", "sticky"].includes(getComputedStyle(e).position),
    );
    return boxes.reduce((sum, e) => sum + e.getBoundingClientRect().height, 0);
  });
  expect(fixed).toBeLessThanOrEqual(100);
});
