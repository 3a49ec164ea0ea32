import { expect, test } from "@playwright/test";
import { expectAccessible } from "./axe";
import { Household } from "./server";
import { seedDrip } from "./steps";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

test("with the vinegar already in, a new household is at the right step after a handful of touches, on a phone", async ({
  page,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(`${home.url}/brewers/new`);
  await page.getByRole("button", { name: "I have already begun" }).click();
  await page.getByRole("button", { name: /^Pod brewer with reservoir/ }).click();
  await expect(page.getByRole("heading", { level: 1, name: /^Begun already/ })).toBeVisible();
  await expectAccessible(page);
  await expect(page.getByRole("button", { name: "Carry on from here" })).toBeDisabled();
  await page.getByRole("button", { name: "White vinegar" }).click();
  await page.getByRole("button", { name: "1 : 1 with water" }).click();
  await page.getByRole("button", { name: "Half", exact: true }).click();
  await page.getByRole("button", { name: "Mugs: one more" }).click();
  await page.getByRole("button", { name: "It stands now" }).click();
  await page.getByRole("button", { name: "Carry on from here" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Let it soak" })).toBeVisible();
  await expect(page.getByRole("timer")).toBeVisible();
  await page.goto(home.url);
  await expect(page.getByText(/ACID INSIDE/).first()).toBeVisible();
});

test("more than the reservoir holds is refused where it was typed, and a brew goes on from its half", async ({
  page,
}) => {
  await seedDrip(page, home.url, "Half-way drip");
  await page.getByRole("link", { name: "I have begun already" }).click();
  await page.getByRole("button", { name: "Citric acid powder" }).click();
  await page.getByLabel("Or all that was poured in").fill("3 gal");
  await page.getByRole("button", { name: "About half" }).click();
  await page.getByRole("button", { name: "Carry on from here" }).click();
  await expect(page.getByText(/the reservoir holds .*: give at most that/)).toBeVisible();
  await page.getByLabel("Or all that was poured in").fill("8 marks");
  await page.getByLabel("Or all that was poured in").press("Enter");
  await page.getByRole("button", { name: "It stands now" }).click();
  await page.getByRole("button", { name: "Carry on from here" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Let it soak" })).toBeVisible();
});
