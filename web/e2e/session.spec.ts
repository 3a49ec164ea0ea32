import { expect, type Page, test } from "@playwright/test";
import { Household } from "./server";
import { press, seedDrip, startClean } from "./steps";

const home = new Household();
test.beforeAll(() => {
  home.setPasscode("salt and kelp");
  return home.start("others");
});
test.afterAll(() => home.kill());

const signIn = async (page: Page, passcode: string) => {
  await page.getByLabel("Passcode").fill(passcode);
  await page.getByRole("button", { name: "Sign this device in" }).click();
};

test("a session that ends in mid-clean is begun again there, and what was pressed meanwhile arrives", async ({
  page,
}) => {
  await page.goto(home.url);
  await signIn(page, "salt and kelp");
  await expect(page.getByRole("heading", { name: "Which of these is yours?" })).toBeVisible();
  await seedDrip(page, home.url, "Porch drip");
  await startClean(page);
  await press(page, "Seen it");
  await home.kill();
  await page.getByRole("button", { name: "Unplugged and empty" }).click();
  home.setPasscode("tar and oakum");
  await home.start("others");
  await signIn(page, "tar and oakum");
  await expect(page.getByRole("heading", { level: 1, name: "Wash the loose parts" })).toBeVisible();
  await expect(page.getByText(/waiting to be sent/)).toHaveCount(0);
});
