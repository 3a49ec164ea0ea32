import { expect, test } from "@playwright/test";
import { expectAccessible } from "./axe";
import { Household } from "./server";
import { addDrip, changeIt, fillDay, press } from "./steps";

test("a small work is guided to its log and is not asked for again", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto("/brewers/galley-cup");
  await page.getByRole("button", { name: "Guide me: Drip tray and rim" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Wash drip tray and rim" })).toBeVisible();
  await expectAccessible(page);
  await press(page, "Tray is back");
  await press(page, "Finish and log it");
  await expect(page.getByText(/Last done .*next about .*every 7 days/)).toBeVisible();
  await page.getByRole("link", { name: "Back to today's list" }).click();
  await expect(page.getByRole("region", { name: "Today" })).toBeVisible();
});

test("the small works of a home are one line, ticked off with undo", async ({ page }) => {
  await page.goto("/");
  const list = page.getByRole("region", { name: "Today" });
  const more = list.getByRole("button", { name: /^Show \d+ more/ });
  await more.click();
  const line = list
    .getByRole("listitem")
    .filter({ hasText: /small works?/ })
    .first();
  await line.getByRole("button", { name: "Show them" }).click();
  const work = list.getByRole("listitem").filter({ hasText: "Rinse pod:" }).first();
  const what = await work.locator("strong").innerText();
  await work.getByRole("button", { name: "Run today" }).click();
  await expect(list.getByText(what)).toBeHidden();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(list.getByText(what)).toBeVisible();
});

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

test("going away: what to do before, quiet meanwhile; how often is one's own choice", async ({ page }) => {
  await addDrip(page, home.url, "Shelf drip");
  await addDrip(page, home.url, "Back shelf drip");
  const works = page.getByRole("region", { name: "Small works" });
  await works.getByRole("button", { name: "every 60 days" }).click();
  await works.getByRole("button", { name: "Wash only, days: one more" }).click();
  await works.getByRole("button", { name: "Ask for it so" }).click();
  await expect(works.getByRole("button", { name: "every 61 days" })).toBeVisible();

  await page.goto(home.url);
  await page.getByRole("button", { name: /^Away from/ }).click();
  await fillDay(page, "First day away", "26112026");
  await fillDay(page, "Last day away", "20112026");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByText("the last day away lies before the first: give a later one")).toBeVisible();
  await fillDay(page, "Last day away", "10122026");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByRole("listitem").filter({ hasText: "Empty it: Shelf drip" })).toContainText(
    "You are away from 26 Nov to 10 Dec: empty it before you go",
  );
});

test("slime that was scrubbed off leads to a clean for dirt", async ({ page }) => {
  await page.goto("/brewers/studio-pod");
  await page.getByRole("button", { name: /more, for when they are wanted/ }).click();
  await page.getByRole("button", { name: "Guide me: Mould or slime" }).click();
  const act = page.getByRole("region", { name: "Acts" }).locator(".MuiButton-contained");
  for (;;) {
    const label = (await act.textContent()) ?? "";
    await press(page, label);
    if (label === "Finish and log it") break;
  }
  await page.getByRole("link", { name: "Plan a clean for dirt" }).click();
  await changeIt(page);
  await expect(page.getByRole("button", { name: "For dirt only" })).toHaveAttribute("aria-pressed", "true");
});
