import { expect, test } from "@playwright/test";
import { expectAccessible } from "./axe";
import { Household } from "./server";

/** One home too many, told through the page. */
const quay = "The quay house behind the old ropewalk";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

test("a home is erased for good, after it was said what goes; its way in alone before that", async ({ page }) => {
  await page.goto(`${home.url}/round`);
  await page.getByRole("button", { name: "Add a home" }).click();
  await page.getByRole("textbox", { name: "Its name" }).fill(quay);
  await page.getByRole("button", { name: "Add it" }).click();
  await page.getByRole("textbox", { name: "How one gets in" }).fill("The key is under the pot");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("dialog")).toBeHidden();
  await page.getByRole("button", { name: quay }).first().click();
  await page.getByRole("button", { name: /Erase the last three for good/ }).click();
  const asked = page.getByRole("dialog", { name: /Erase how one gets in/ });
  await expect(asked).toContainText("1 note will be gone, from 1 backup too. This cannot be undone.");
  await expectAccessible(page);
  await asked.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("textbox", { name: "How one gets in" })).toHaveValue("The key is under the pot");
  await page.getByRole("button", { name: /Erase the last three for good/ }).click();
  await asked.getByRole("button", { name: "Erase for good" }).click();
  await expect(page.getByRole("dialog", { name: "Erased" })).toContainText("Gone: 1 note.");
  await page.getByRole("button", { name: "Close" }).click();
  await page.getByRole("button", { name: quay }).first().click();
  await expect(page.getByRole("textbox", { name: "How one gets in" })).toHaveValue("");
  await page.getByRole("button", { name: `Erase: ${quay} and all that happened there` }).click();
  const whole = page.getByRole("dialog", { name: new RegExp(`Erase ${quay}`) });
  await expect(whole).toContainText("1 home will be gone");
  await whole.getByRole("button", { name: "Erase for good" }).click();
  await expect(page.getByRole("dialog", { name: "Erased" })).toContainText("Gone: 1 home.");
  await page.getByRole("button", { name: "Close" }).click();
  await expect(page.getByRole("button", { name: quay })).toHaveCount(0);

  // A name that stands nowhere is said to.
  await page.goto(`${home.url}/household`);
  await page.getByRole("textbox", { name: "The name, as it is written" }).fill("Ola Sund");
  await page.getByRole("button", { name: "Erase: the name Ola Sund" }).click();
  await expect(page.getByRole("dialog")).toContainText("nothing of that is kept here");
});
