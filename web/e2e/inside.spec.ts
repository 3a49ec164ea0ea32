import { expect, test } from "@playwright/test";
import { expectAccessible } from "./axe";
import { Household } from "./server";
import { answer, press, seedDrip, startClean } from "./steps";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

test("a bath that was given up keeps everything else from beginning until it is rinsed out", async ({ page }) => {
  await seedDrip(page, home.url, "Abandoned drip");
  await startClean(page);
  for (const act of ["Seen it", "Unplugged and empty", "Parts are washed", "It is mixed", "Half is through"])
    await press(page, new RegExp(act));
  await press(page, /Start the timer/);
  const clean = page.url();
  await press(page, "Stop here");
  await page.getByRole("button", { name: "Give this clean up" }).click();
  await press(page, "Leave the acid inside");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Ended with acid inside");
  await expect(page.getByText(/^Given up: White vinegar/)).toBeVisible();

  // Whoever comes next, for whatever work, is told first.
  await page.goto(home.url);
  const line = page.getByRole("listitem").filter({ hasText: "Abandoned drip: ACID INSIDE" });
  await expect(line).toBeVisible();
  const id = (await page.request.get(`${home.url}/api/counter`).then((r) => r.json())).brewers[0].id;
  await page.goto(`${home.url}/brewers/${id}/plan`);
  await expect(page.getByRole("region", { name: "Acid inside" })).toContainText("ACID INSIDE");
  await expect(page.getByRole("button", { name: "Start the clean" })).toBeDisabled();
  for (const options of [{}, { work: "rehearsal" }, { work: "upkeep", job: "wash" }]) {
    const data = { id: `more-${options.work}`, options };
    const refused = await page.request.post(`${home.url}/api/brewers/${id}/cleans`, { data });
    expect(refused.status()).toBe(409);
    expect(await refused.text()).toContain("rinse it out first");
  }

  await page.getByRole("link", { name: "Rinse it out first" }).click();
  await expect(page).toHaveURL(clean);
  await press(page, "Rinse it out now");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Empty it first");
  await press(page, "Reservoir is washed");
  await expect(page.getByText(/Acid left: about .* times what people notice/)).toBeVisible();
  await press(page, /Carafe poured away/);
  await press(page, /Carafe poured away/);
  await press(page, "Rinsed – go on");
  await answer(page);
  await press(page, "All in place");
  await press(page, "Finish and log it");
  await page.goto(`${home.url}/brewers/${id}/plan`);
  await expect(page.getByRole("button", { name: "Start the clean" })).toBeEnabled();
  await expect(page.getByRole("region", { name: "Acid inside" })).toHaveCount(0);
});

test("whoever comes to a brewer that was left is asked what is in it, in three touches", async ({ page, browser }) => {
  await seedDrip(page, home.url, "Left drip");
  await startClean(page);
  for (const act of ["Seen it", "Unplugged and empty", "Parts are washed", "It is mixed", "Half is through"])
    await press(page, new RegExp(act));
  await press(page, /Start the timer/);
  const clean = page.url();
  const asked = (at: typeof page) => at.getByRole("region", { name: "What is in it now" });
  await home.kill();
  await home.start("here", "2026-11-25T13:00:00Z");
  // Whoever started it knows; somebody else looks first.
  await page.goto(clean);
  await expect(page.getByRole("timer")).toHaveText("Over");
  await expect(asked(page)).toHaveCount(0);
  const other = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await other.goto(clean);
  await expect(asked(other)).toBeVisible();
  await expectAccessible(other);
  await expect(other.getByRole("button", { name: "Soak is over" })).toHaveCount(0);
  await other.getByRole("button", { name: "Sour, or like the agent" }).click();
  await other.getByRole("button", { name: "The bath: it smells, or is cloudy" }).click();
  await other.getByRole("button", { name: "Unplugged" }).click();
  await expect(asked(other)).toHaveCount(0);
  await expect(other.getByText("It is unplugged: plug it in first.")).toBeVisible();
  await expect(page.getByText("It is unplugged: plug it in first.")).toBeVisible();

  // One truth on every device: the bath is not in the reservoir any more.
  await page.getByRole("button", { name: "Mishap" }).click();
  await page.getByRole("button", { name: "I do not know what is in it" }).click();
  await page.getByRole("group", { name: "Sniff" }).getByRole("button", { name: "Nothing" }).click();
  await page.getByRole("button", { name: "Nothing is in it" }).click();
  await page.getByRole("button", { name: "Plugged in" }).click();
  await expect(page.getByText(/The bath is not where the water goes in any more/)).toBeVisible();
  await expect(other.getByText(/The bath is not where the water goes in any more/)).toBeVisible();
  // It is the one next act; whoever knows better still ends the step.
  const acts = page.getByRole("region", { name: "Acts" });
  await expect(acts.locator(".MuiButton-contained")).toHaveText("Rinse it out and end");
  await expect(acts.getByRole("button", { name: "Soak is over" })).toBeVisible();
  await press(page, "Rinse it out and end");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Empty it first");
  // After hours even who did the last act is asked, and may know it all the same.
  await home.kill();
  await home.start("here", "2026-11-25T19:00:00Z");
  await page.goto(clean);
  await expect(asked(page)).toBeVisible();
  await page.getByRole("button", { name: "I was here all the time" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Empty it first");
});
