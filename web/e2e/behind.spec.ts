import { expect, type Page, test } from "@playwright/test";
import { expectAccessible } from "./axe";
import { Household } from "./server";
import { addDrip, answer, look, press, pressNext } from "./steps";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

const quay = "The harbour master's cottage by the lower quay, second floor";
const linen = "Beds, towels and linen of both rooms under the sloping roof";
const next = (page: Page) => page.getByRole("region", { name: "Next" });

test("two homes made through the pages: no bath is left behind, what is not done is moved", async ({ page }) => {
  test.setTimeout(240_000);
  await addDrip(page, home.url, "The drip brewer with the long name beside the bread bin here");
  await page.goto(`${home.url}/round`);
  await page.getByRole("button", { name: "Add a home" }).click();
  await page.getByRole("textbox", { name: "Its name" }).fill(quay);
  await page.getByRole("button", { name: "Add it" }).click();
  await page.getByRole("textbox", { name: /Minutes on the way/ }).fill("12");
  for (const [n, room, minutes] of [
    [1, linen, "20"],
    [2, "Hall", "6"],
  ] as const) {
    await page.getByRole("button", { name: "Add a room" }).click();
    await page.getByRole("textbox", { name: `Room ${n}`, exact: true }).fill(room);
    await page.getByRole("textbox", { name: `Minutes for room ${n}` }).fill(minutes);
  }
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("dialog")).toBeHidden();

  await page.getByRole("link", { name: "Plan a visit" }).click();
  await page.getByRole("group", { name: "Homes" }).getByRole("button", { name: quay }).click();
  const todo = page.getByRole("region", { name: "What to do" });
  await expect(todo.getByRole("checkbox", { name: new RegExp(linen) })).toBeChecked();
  const descale = todo.getByRole("checkbox", { name: /descale/ });
  if (!(await descale.isChecked())) await descale.check();
  for (const box of await todo.getByRole("checkbox", { checked: true }).all()) {
    const name = await box.evaluate((one) => one.closest("label")?.textContent ?? "");
    if (!/descale|Beds|Hall/.test(name)) await box.uncheck();
  }
  await expect(page.getByRole("heading", { name: /^Done about/ })).toBeVisible();
  await expectAccessible(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await page.getByRole("button", { name: "Start now" }).click();

  // The brewer's own home first, until a bath is inside.
  await expect(next(page)).toContainText("The drip brewer");
  await page.getByRole("button", { name: "Start it" }).click();
  for (const act of [/Seen it/, /Unplugged and empty/, /Parts are washed/, /It is mixed/]) await press(page, act);
  await expect(page.getByText(/acid is inside/)).toBeVisible();
  await expectAccessible(page);

  // Whoever must go now is shown the short way out.
  await page.getByRole("button", { name: "I must go: begin nothing more" }).click();
  await expect(page.getByRole("button", { name: /^Rinse The drip brewer .* out now, about \d+ min/ })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("button", { name: "Undo the last of the visit" }).click();
  await expect(page.getByRole("region", { name: "No time for it" })).toBeHidden();

  // Whoever closes now is asked, and may rinse it out.
  await page.getByRole("button", { name: "Close the visit early" }).click();
  const open = page.getByRole("region", { name: "Not done" });
  await expect(open.getByText("A bath is inside.")).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("button", { name: "Close the visit", exact: true }).click();
  await expect(page.getByText(/still has a bath inside: rinse it out first, about \d+ min/).first()).toBeVisible();
  await open.getByRole("button", { name: /^Rinse it out now, about/ }).click();
  await expect(open).toBeHidden();
  for (let n = 0; n < 20; n++) {
    const heading = await page.getByRole("heading", { level: 1 }).first().innerText();
    if (/^Go to/.test(heading)) break;
    if (/Is it done/.test(heading)) await answer(page);
    else if (/What did the bath bring/.test(heading)) await look(page, "Nothing");
    else await pressNext(page);
  }
  // Only now to the other home; there its rooms are next at once.
  await expect(next(page).getByRole("heading")).toHaveText(`Go to ${quay}`);
  await expectAccessible(page);
  await page.getByRole("button", { name: "I am there" }).click();
  await expect(next(page)).toContainText("Now");
  await page.getByRole("button", { name: /is done$/ }).click();
  const all = page.getByRole("region", { name: "In this visit" });
  await expect(all.getByText("done", { exact: true })).toHaveCount(2);

  // The client is back: what is left gets a day, and is proposed on it.
  await page.getByRole("button", { name: "I must go: begin nothing more" }).click();
  await expect(page.getByRole("region", { name: "No time for it" })).toBeVisible();
  await expect(page.getByRole("heading", { name: "Nothing more is begun" })).toBeVisible();
  await page.getByRole("button", { name: "Close the visit", exact: true }).click();
  const left = open.getByRole("group", { name: "Move it to" });
  await left.getByRole("spinbutton", { name: "Day" }).click();
  await page.keyboard.type("24122026");
  await page.getByRole("button", { name: "Close the visit", exact: true }).click();
  await expect(page.getByText("moved to 24 Dec")).toBeVisible();
  await page.goto(`${home.url}/round`);
  const moved = page.getByRole("region", { name: "Moved, not planned yet" });
  await expect(moved).toContainText("24 Dec");
  await expectAccessible(page);
  await moved.getByRole("link", { name: "Plan it" }).click();
  await expect(
    page.getByRole("group", { name: "Homes" }).getByRole("button", { name: quay, pressed: true }),
  ).toBeVisible();
});
