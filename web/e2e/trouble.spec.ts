import { expect } from "@playwright/test";
import { test } from "./demo";

test("signs lead by cheap tests to a cause and what to do, and danger stops it", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("link", { name: "What is wrong?" }).click();
  await page.getByLabel("Which brewer").click();
  await page.getByRole("option", { name: "Lamp-room pod" }).click();
  await page
    .getByRole("group", { name: /white chips/ })
    .getByRole("button", { name: "Yes" })
    .click();
  await page
    .getByRole("group", { name: /louder than it was/ })
    .getByRole("button", { name: "Yes" })
    .click();
  await page
    .getByRole("group", { name: /cooler than it was/ })
    .getByRole("button", { name: "Yes" })
    .click();
  await expect(page.getByRole("status")).toContainText("Clear enough to act: chalk (scale)");
  await expect(page.getByText(/Speaks for it: .*white chips come out\? Yes/).first()).toBeVisible();
  await expect(page.getByRole("button", { name: "Plan the clean" })).toBeVisible();
  await page.reload();
  await expect(page.getByRole("status")).toContainText("Clear enough to act");

  await page.getByRole("button", { name: "Plan the clean" }).click();
  await page.getByRole("button", { name: "Start the clean" }).click();
  await page.getByRole("button", { name: "Stop here" }).click();
  await page.getByRole("button", { name: "Give this clean up" }).click();
  await expect(page.getByText(/It began with: Something wrong on .*: .*chalk \(scale\)/)).toBeVisible();
  await page.goBack();
  await page.goBack();

  await page.getByRole("button", { name: "It smells burnt" }).click();
  await expect(page.getByRole("status")).toContainText("a qualified repairer has to look at it");
  await page.getByRole("button", { name: "Write it down for this brewer" }).click();
  await expect(page.getByText("Written down", { exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Begin again" }).click();
  await expect(page.getByText(/The next test, about/)).toBeVisible();
});

test("what costs nothing comes first, then at most six looks, then what is soonest tried", async ({ page }) => {
  await page.goto("/trouble?brewer=lamp");
  await page.getByRole("group", { name: "Is it slower than it was?" }).getByRole("button", { name: "Yes" }).click();
  await expect(page.getByText(/^First what costs nothing: switch off and pull the plug/)).toBeVisible();
  const next = page.getByRole("button", { name: "No", exact: true }).first();
  for (let n = 0; n < 6; n++) {
    const asked = await page.getByRole("status").textContent();
    expect(asked).toMatch(/^Perhaps/);
    const taken = page.waitForResponse((r) => r.url().endsWith("/api/trouble") && r.ok());
    await next.click();
    await taken;
  }
  await expect(page.getByRole("status")).toContainText(
    /Not certain. Do first what is soonest tried: .+ If that does not help/,
  );
  await expect(page.getByRole("button", { name: "Tried it: it did not help" })).toHaveCount(1);
  await page.goto("/trouble?brewer=lamp&slow=yes&well-after-reseating=yes");
  await expect(page.getByRole("status")).toContainText("It is well: air, a float that stuck, or a pod left in.");
});
