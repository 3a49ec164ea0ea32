import { readFileSync } from "node:fs";
import { expect } from "@playwright/test";
import { test } from "./demo";
import { Household } from "./server";

test("everything is exported, and an empty household takes it in whole", { tag: "@core" }, async ({ page }) => {
  const home = new Household();
  await home.start();
  try {
    await page.goto("/household");
    const download = page.waitForEvent("download");
    await page.getByRole("link", { name: "Export everything" }).click();
    const file = await (await download).path();

    await page.goto(`${home.url}/household`);
    const chooser = page.getByLabel("Import a file");
    await chooser.setInputFiles({
      name: "broken.json",
      mimeType: "application/json",
      buffer: readFileSync(file).subarray(0, 900),
    });
    await expect(page.getByText(/not a whole JSON document/).first()).toBeVisible();
    await chooser.setInputFiles(file);
    await expect(page.getByText("The file was taken in, whole.")).toBeVisible();
    const again = await page.request.get(`${home.url}/api/export`);
    expect(await again.text()).toBe(readFileSync(file, "utf8"));
  } finally {
    await home.kill();
  }
});
