import { expect, test } from "@playwright/test";
import { expectAccessible } from "./axe";
import { Household } from "./server";
import { seedDrip } from "./steps";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

test("a home is paid for as was agreed there: one price, and what is done besides", async ({ page }) => {
  await seedDrip(page, home.url, "Paid drip");
  await page.goto(`${home.url}/round`);
  const open = page.getByRole("region", { name: "The weeks ahead" }).getByRole("button", { name: "Home", exact: true });
  await open.click();
  await page.getByRole("button", { name: "Add a room" }).click();
  await page.getByRole("textbox", { name: "Room 1", exact: true }).fill("Kitchen");
  await page.getByLabel("How you are paid there").click();
  await page.getByRole("option", { name: "One price, however long" }).click();
  await page.getByRole("textbox", { name: "The price of a visit" }).fill("-1");
  await page.getByRole("textbox", { name: "Each descaling besides" }).fill("30");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText(/give a number from 0/)).toBeVisible();
  await page.getByRole("textbox", { name: "The price of a visit" }).fill("55,50");
  await expectAccessible(page);
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("dialog")).toBeHidden();
  await open.click();
  await expect(page.getByRole("textbox", { name: "The price of a visit" })).toHaveValue("55.5");
  await page.getByRole("button", { name: "Not now" }).click();

  // Only the room, so that nothing else is to be paid.
  await page.getByRole("link", { name: "Plan a visit" }).click();
  const todo = page.getByRole("region", { name: "What to do" });
  await expect(todo.getByRole("checkbox", { name: /Kitchen/ })).toBeChecked();
  for (;;) {
    const all = await todo.getByRole("checkbox", { checked: true }).all();
    const names = await Promise.all(all.map((box) => box.evaluate((one) => one.closest("label")?.textContent ?? "")));
    const other = all[names.findIndex((name) => !/Kitchen/.test(name))];
    if (!other) break;
    await other.uncheck();
  }
  await page.getByRole("button", { name: "Start now" }).click();
  await page.getByRole("button", { name: "Kitchen is done" }).click();
  await page.getByRole("button", { name: "Close the visit" }).click();
  await expect(page.getByRole("textbox", { name: "Line 1", exact: true })).toHaveValue("Fixed price");
  await expect(page.getByRole("textbox", { name: /^Amount of line 1/ })).toHaveValue("55.5");
  await expect(page.getByRole("textbox", { name: "Line 2", exact: true })).toHaveCount(0);
  await page.getByRole("button", { name: "Close the visit" }).click();
  await expect(page.getByRole("region", { name: "Price" })).toContainText("55.50");
});
