import { expect, test } from "@playwright/test";
import { Household } from "./server";
import { seedDrip, startClean } from "./steps";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

test("prices, smell and a rule of days reach the plan and the due date", async ({ page }) => {
  await seedDrip(page, home.url, "Shelf drip");
  await page.goto(`${home.url}/household`);
  await page.getByLabel("Money is written with").fill("$");
  await page.getByLabel("An hour of your work is worth").fill("lots");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText('"lots" is not a number: give one such as 12 or 2.5')).toBeVisible();
  await page.getByLabel("An hour of your work is worth").fill("12");
  await page.getByLabel("Avoid agents that smell").check();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("button", { name: "Save", exact: true })).toBeDisabled();

  await page.goto(`${home.url}/cupboard`);
  await page.getByRole("button", { name: "Change them" }).click();
  await page.getByRole("button", { name: "Prices" }).nth(1).click();
  await page.getByRole("button", { name: "Add a place that sells it" }).click();
  await page.getByLabel("Where it is sold").fill("Ferry pharmacy");
  await page.getByRole("button", { name: "Save Citric acid powder" }).click();
  await expect(page.getByText(/from 0\.1 to/).first()).toBeVisible();
  await page.getByLabel("Pack, mL or g").fill("250");
  await page.getByLabel("Price", { exact: true }).fill("4");
  await page.getByRole("button", { name: "Save Citric acid powder" }).click();
  await expect(page.getByRole("button", { name: "Prices (1)" })).toBeVisible();

  await page.getByRole("button", { name: "Add an agent" }).click();
  await page.getByLabel("Name of the agent").fill("Reef tablets");
  await page.getByLabel("What it is").click();
  await page.getByRole("option", { name: "Tablets" }).click();
  await page.getByLabel("Acid in one, g").fill("some");
  await page.getByLabel("Water for one, mL").fill("500");
  await page.getByRole("button", { name: "Add this agent" }).click();
  await expect(page.getByText(/"some" is not a number/)).toBeVisible();
  await page.getByLabel("Acid in one, g").fill("12");
  await page.getByRole("button", { name: "Add this agent" }).click();
  await page.getByRole("button", { name: "Put Reef tablets away" }).click();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("button", { name: "Put Reef tablets away" })).toBeVisible();

  await page.goto(home.url);
  await page.getByRole("link", { name: "Plan the clean" }).click();
  await expect(page.getByText(/Murlo would take: Citric acid powder/)).toBeVisible();
  await expect(page.getByText(/Citric acid powder, \d+ g, Ferry pharmacy/)).toBeVisible();
  await expect(page.getByRole("button", { name: /^Take White vinegar/ }).first()).toContainText(/\d+ %/);

  await page.getByRole("link", { name: "Counter" }).first().click();
  await page.getByRole("link", { name: "Shelf drip" }).click();
  await page.getByRole("link", { name: "How it works" }).click();
  await page.getByRole("link", { name: "Edit the whole sheet" }).click();
  await page.getByLabel("At least every so many days").fill("20");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText(/you clean every 20 days/).first()).toBeVisible();
});

test("what was put away stands in the household and comes back from there, also the next day", async ({ page }) => {
  await seedDrip(page, home.url, "Attic drip");
  await page.getByRole("link", { name: "How it works" }).click();
  await page.getByRole("button", { name: "Put away" }).click();
  await expect(page.getByText("Attic drip was put away")).toBeVisible();
  await home.kill();
  await home.start("here", "2026-11-26T08:00:00Z");
  await page.goto(`${home.url}/household`);
  await page.getByRole("button", { name: "Bring Attic drip back" }).click();
  await expect(page.getByRole("button", { name: "Bring Attic drip back" })).toHaveCount(0);
  await page.goto(home.url);
  await expect(page.getByRole("link", { name: "Attic drip" })).toBeVisible();
});

test("a brewer with a clean running is put away only when that is meant", async ({ page }) => {
  await seedDrip(page, home.url, "Busy drip");
  await startClean(page);
  await page.getByRole("link", { name: "Busy drip" }).first().click();
  await page.getByRole("link", { name: "How it works" }).click();
  await page.getByRole("button", { name: "Put away", exact: true }).click();
  await expect(page.getByText(/Not put away: a clean of it is not over/)).toBeVisible();
  await page.getByRole("link", { name: "See to it" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Look at the first glass" })).toBeVisible();
});
