import { expect } from "@playwright/test";
import { expectAccessible, expectAccessibleWhenSmall } from "./axe";
import { test } from "./demo";
import { Household } from "./server";
import { seedDrip, takeVinegar } from "./steps";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

test("run short and buy: what was counted is what the plan reads, and the list says what to get", async ({ page }) => {
  await seedDrip(page, home.url, "Shelf drip");
  await page.goto(`${home.url}/cupboard`);
  await expect(page.getByText("Count what is there once")).toBeVisible();
  const vinegar = page.getByRole("listitem").filter({ has: page.getByRole("heading", { name: "White vinegar" }) });
  await vinegar.getByRole("button", { name: "Count or buy" }).click();
  await page.getByLabel("How much, mL").fill("some");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByText(/"some" is not a number/)).toBeVisible();
  await page.getByLabel("How much, mL").fill("-5");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByText(/from 0 to/)).toBeVisible();
  await page.getByLabel("How much, mL").fill("30");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(vinegar.getByText(/^Counted on 25 Nov/)).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(vinegar.getByText("Nobody has counted it yet")).toBeVisible();
  await vinegar.getByRole("button", { name: "Count or buy" }).click();
  await page.getByLabel("How much, mL").fill("30");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(vinegar.getByText(/^Counted on 25 Nov/)).toBeVisible();
  await expectAccessible(page);
  await expectAccessibleWhenSmall(page);
  await page.setViewportSize({ width: 1280, height: 800 });

  await page.getByRole("button", { name: "Add filters, rinse pods or another thing" }).click();
  await page.getByRole("button", { name: "Add it" }).click();
  await expect(page.getByRole("heading", { name: "Water filters" })).toBeVisible();

  // The plan knows that too little of it is there.
  await page.goto(home.url);
  await page.getByRole("link", { name: "Plan the clean" }).click();
  await takeVinegar(page);
  await expect(page.getByText(/more than is in the cupboard/).first()).toBeVisible();
});

test("a demo household reads what runs short, ticks it, and finds the other places behind More on a phone", async ({
  page,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto("/cupboard");
  const line = page.getByRole("checkbox", { name: /^Rinse pods: / });
  await line.check();
  await expect(line).toBeChecked();
  await page.getByRole("navigation", { name: "Places" }).getByRole("link", { name: "More" }).click();
  await page.getByRole("link", { name: "Waters" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Waters" })).toBeVisible();
});
