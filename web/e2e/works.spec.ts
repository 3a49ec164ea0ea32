import { expect, type Page } from "@playwright/test";
import { expectAccessible } from "./axe";
import { test } from "./demo";
import { Household } from "./server";
import { changeIt, fillDay, press, seedDrip } from "./steps";

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
    .filter({ hasText: /small works?/, has: page.getByRole("button", { name: "Show them" }) })
    .first();
  await line.getByRole("button", { name: "Show them" }).click();
  const work = list.getByRole("listitem").filter({ hasText: "Rinse pod:" }).first();
  const what = await work.locator("strong").innerText();
  await work.getByRole("button", { name: "Run today" }).click();
  await expect(list.getByText(what)).toBeHidden();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(list.getByText(what)).toBeVisible();
});

/** Does the one next act until there is none; gives what they were called. */
async function toItsEnd(page: Page) {
  const act = page.getByRole("region", { name: "Acts" }).locator(".MuiButton-contained");
  const heading = page.getByRole("heading", { level: 1 });
  const shown = async () => `${await heading.textContent()}: ${await act.textContent()}`;
  const done: string[] = [];
  for (let last = ""; ; ) {
    // The answer is there before the page shows it; a moment after a press nothing is pressed.
    await expect.poll(shown).not.toBe(last);
    await expect(act).toBeEnabled();
    last = await shown();
    const label = (await act.textContent()) ?? "";
    await press(page, label);
    done.push(label);
    if (label === "Finish and log it") return done;
  }
}

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

test("going away: what to do before, quiet meanwhile; how often is one's own choice", async ({ page }) => {
  await seedDrip(page, home.url, "Shelf drip");
  await seedDrip(page, home.url, "Back shelf drip");
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

  // The day after they are back: what stood is poured away first.
  await home.kill();
  await home.start("here", "2026-12-11T10:30:00Z");
  await page.goto(home.url);
  const back = page.getByRole("listitem").filter({ hasText: "Fresh water after being away: Shelf drip" });
  await expect(back).toContainText(/stood/);
  await back.getByRole("button", { name: /Guide me/ }).click();
  await toItsEnd(page);
  await page.getByRole("link", { name: "Back to today's list" }).click();
  await expect(page.getByRole("region", { name: "Today" })).toBeVisible();
  await expect(back).toHaveCount(0);
});

test("a new filter is guided by the keyboard alone to its log, and is not asked for again", async ({ page }) => {
  await page.goto("/brewers/lamp");
  const guide = page.getByRole("button", { name: "Guide me: Water filter" });
  await guide.focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1, name: "Set the new filter to soak" })).toBeVisible();
  const sure = page.getByRole("button", { name: "Yes, go on now" });
  const act = page.getByRole("region", { name: "Acts" }).locator(".MuiButton-contained");
  for (let label = ""; label !== "Finish and log it"; ) {
    // A moment after a press nothing is pressed.
    await expect(act).toBeEnabled();
    label = (await act.textContent()) ?? "";
    const taken = page.waitForResponse((r) => r.url().includes("/events") && r.ok());
    await page.locator("body").press("Space");
    await Promise.race([taken, sure.waitFor()]);
    if (await sure.isVisible()) {
      await expect(sure).toBeEnabled();
      await sure.press("Enter");
    }
    await taken;
  }
  await expect(page.getByText(/Water filter good until about/)).toBeVisible();
  await page.goto("/log?brewer=lamp");
  await expect(page.getByRole("listitem").first()).toContainText("Water filter");
  await page.goto("/brewers/lamp");
  const works = page.getByRole("region", { name: "Small works" });
  await expect(works.getByText(/Water filter good until about/)).toBeVisible();
});

test("washing only goes to its end on a phone, parts, body and two cups", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto("/brewers/duo");
  const guide = page.getByRole("button", { name: "Guide me: Wash only" });
  const more = page.getByRole("button", { name: /more, for when they are wanted/ });
  await guide.or(more).first().waitFor();
  if (!(await guide.isVisible())) await more.click();
  await guide.click();
  const steps = await toItsEnd(page);
  expect(steps.length).toBeGreaterThan(5);
  await expect(page.getByText(/Last done/)).toBeVisible();
});

test("slime that was scrubbed off leads to a clean for dirt", async ({ page }) => {
  await page.goto("/brewers/studio-pod");
  await page.getByRole("button", { name: /more, for when they are wanted/ }).click();
  await page.getByRole("button", { name: "Guide me: Mould or slime" }).click();
  await toItsEnd(page);
  await page.getByRole("link", { name: "Plan a clean for dirt" }).click();
  await changeIt(page);
  await expect(page.getByRole("button", { name: "For dirt only" })).toHaveAttribute("aria-pressed", "true");
});
