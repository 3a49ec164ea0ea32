import { expect, type Page, test } from "@playwright/test";
import { Household } from "./server";
import { addDrip, changeIt } from "./steps";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

/** Cups to measure with, ounces, gallons; cups that are drunk are meant otherwise. */
const american = /fl oz|gallon|\bgal\b|[\d½¼¾⅓⅔] cups? (of|water|\+)|[Mm]easuring cups/;

async function expectMetric(page: Page) {
  await page.getByRole("heading", { level: 1 }).first().waitFor();
  expect(await page.locator("body").innerText()).not.toMatch(american);
}

test("a metric household with euros reads litres and no cups to measure with", async ({ page }) => {
  await page.goto(`${home.url}/household`);
  await page.getByLabel("Units").click();
  await page.getByRole("option", { name: "Millilitres and litres" }).click();
  await page.getByLabel("Money is written with").fill("EUR");
  await page.getByLabel("An hour of your work is worth").fill("18,50");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("button", { name: "Save", exact: true })).toBeDisabled();

  await page.goto(`${home.url}/brewers/new`);
  await expectMetric(page);
  await page.goto(`${home.url}/brewers/new/sheet`);
  await expectMetric(page);
  await addDrip(page, home.url, "Küche");
  await expectMetric(page);
  for (const view of ["how-it-works", "learned", "over-time"]) {
    await page.goto(`${page.url().replace(/\/(how-it-works|learned|over-time)$/, "")}/${view}`);
    await expectMetric(page);
  }
  await page.goto(`${page.url().replace(/\/over-time$/, "")}/plan`);
  await expect(page.getByText(/\d\.\d\d EUR/).first()).toBeVisible();
  await changeIt(page);
  await page.getByLabel("Measure with").click();
  await expect(page.getByRole("option", { name: "Jug in mL" })).toBeVisible();
  await expect(page.getByRole("option", { name: "Measuring cups" })).toBeHidden();
  await page.keyboard.press("Escape");
  await expectMetric(page);
  await page.getByRole("button", { name: "Start the clean" }).click();
  await expectMetric(page);
  await expect(page.getByText(/\d [ap]m\b/i)).toHaveCount(0);
  for (const view of ["/mix", "/waters", "/practice", "/log", "/household", "/"]) {
    await page.goto(home.url + view);
    await expectMetric(page);
  }
});
