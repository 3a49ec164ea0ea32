import { expect } from "@playwright/test";
import { test } from "./demo";

test("what happens between cleans is written down, teaches, and can be taken back", async ({ page }) => {
  await page.goto("/brewers/kiln/over-time");
  await expect(page.getByRole("img", { name: /^Chalk over time/ })).toBeVisible();
  await page.getByRole("link", { name: "History" }).click();
  await page.getByRole("button", { name: "+ 1 cup" }).click();
  const line = page.getByRole("listitem").filter({ hasText: /^1 cup on/ });
  await expect(line).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(line).toHaveCount(0);

  await page.goto("/brewers/lamp/learned");
  await expect(page.getByText(/Learned from 3 observations/)).toBeVisible();
  await page.getByRole("link", { name: "History" }).click();
  await page.getByLabel("What happened").click();
  await page.getByRole("option", { name: "It got slow, or cups came short" }).click();
  await page.getByRole("button", { name: "Write it down" }).click();
  await page.getByRole("link", { name: "Learned" }).click();
  await expect(page.getByText(/Learned from 4 observations/)).toBeVisible();
  await page.getByRole("button", { name: "Leave out" }).last().click();
  await expect(page.getByText(/Learned from 3 observations/)).toBeVisible();
  await page.getByRole("button", { name: "Count it again" }).click();
  await expect(page.getByText(/Learned from 4 observations/)).toBeVisible();

  await page.getByRole("link", { name: "History" }).click();
  await page.getByLabel("Bring counts from a CSV file").setInputFiles({
    name: "counts.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("day,cups\n2026-11-01,lots\n"),
  });
  await expect(page.getByText(/line 2: after the day/)).toBeVisible();

  await page.getByRole("link", { name: "Over time" }).click();
  await page.getByRole("button", { name: "Try another water, filter or habit" }).click();
  await page.getByRole("button", { name: "Larkwell, bottled" }).click();
  await expect(page.getByRole("img", { name: /^A year ahead/ })).toBeVisible();
  await expect(page.getByText(/days longer between cleans/)).toBeVisible();
});

test("a water is added by what is at hand, stands on the ruler, and shows what it would change", async ({ page }) => {
  await page.goto("/waters");
  await expect(page.getByRole("img", { name: /^Hardness ruler/ })).toBeVisible();
  await page.getByRole("button", { name: "Add a water" }).click();
  await page.getByLabel("Name of the water").fill("Jug");
  await page.getByLabel("How do you know it").click();
  await page.getByRole("option", { name: "Two waters poured together" }).click();
  await page.getByRole("button", { name: "Add water", exact: true }).click();
  await expect(page.getByText(/no such water/).first()).toBeVisible();
  for (const [label, name] of [
    ["One water", "Harbour mains"],
    ["The other", "Larkwell, bottled"],
  ] as const) {
    await page.getByLabel(label).click();
    await page.getByRole("option", { name }).click();
  }
  await page.getByLabel("Of the first, %").fill("25");
  await page.getByRole("button", { name: "Add water", exact: true }).click();
  await expect(page.getByRole("heading", { level: 2, name: "Jug" })).toBeVisible();
  await expect(page.getByText(/moderately hard, from a strip/)).toBeVisible();
  await expect(page.getByRole("columnheader", { name: "Jug" })).toBeVisible();
  await page.getByRole("button", { name: "Put away" }).click();
  await expect(page.getByRole("heading", { level: 2, name: "Jug" })).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("columnheader", { name: "Jug" })).toBeVisible();
});

test("a clean without Murlo is told with its baths, stands in the log of its brewer, and can be taken back", async ({
  page,
}) => {
  await page.goto("/brewers/kiln/history");
  await page.getByRole("button", { name: "I cleaned it without Murlo" }).click();
  await page.getByRole("combobox", { name: "With" }).click();
  await page.getByRole("option", { name: "White vinegar" }).click();
  // Half-typed, it is found again.
  await page.getByRole("link", { name: "Over time" }).click();
  await page.getByRole("link", { name: "History" }).click();
  await page.getByRole("button", { name: "I cleaned it without Murlo" }).click();
  await expect(page.getByText("What you had begun here is still there.")).toBeVisible();
  await page.getByLabel("How long it stood inside").click();
  await page.getByRole("option", { name: "About 20 minutes" }).click();
  await page.getByLabel("What else was done").fill("carafe too");
  await page.getByRole("button", { name: "Log it" }).click();
  const told = page.getByRole("listitem").filter({ hasText: "1 bath of white vinegar, stood 20 min. carafe too" });
  await expect(told).toBeVisible();

  await page.goto("/log");
  await page.getByRole("combobox", { name: "Home" }).click();
  await page.getByRole("option", { name: "Pottery studio" }).click();
  await page.getByRole("combobox", { name: "Brewer" }).click();
  await page.getByRole("option", { name: "Kiln drip" }).click();
  await page.getByRole("button", { name: /^2026: \d+ cleans?/ }).click();
  await expect(page).toHaveURL(/brewer=kiln.*year=2026/);
  await expect(told).toBeVisible();
  await expect(page.getByText("9 Dec 2025")).toHaveCount(0);
  await told.getByRole("button", { name: "Take out" }).click();
  await expect(told).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(told).toBeVisible();
  await told.getByRole("button", { name: "Take out" }).click();
  await expect(told).toHaveCount(0);
});
