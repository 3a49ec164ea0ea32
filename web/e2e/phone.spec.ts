import { expect, test } from "@playwright/test";

test("the acts of a running clean are large enough for a wet thumb", async ({ page }) => {
  await page.goto("/cleans/demo-half-done");
  await expect(page.getByRole("timer")).toBeVisible();
  for (const name of ["Soak is over", "Undo", "Note", "Stop here"]) {
    const box = await page.getByRole("button", { name }).boundingBox();
    expect(box?.height).toBeGreaterThanOrEqual(56);
  }
});
