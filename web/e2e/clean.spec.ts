import { expect, test } from "@playwright/test";
import { expectAccessible } from "./axe";
import { Household } from "./server";
import { addDrip, answer, fillDay, look, press, seedDrip, startClean, upToQuestions } from "./steps";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

test("a new household adds a drip brewer, cleans it and sees when next", { tag: "@core" }, async ({ page }) => {
  await page.goto(home.url);
  await expect(page.getByRole("heading", { name: "Which of these is yours?" })).toBeVisible();
  await page.goto(`${home.url}/brewers/new/sheet`);
  await page.getByRole("button", { name: "Add this brewer" }).click();
  await expect(page.getByText("give a name of 1 to 80 characters")).toBeVisible();

  await addDrip(page, home.url, "Shelf drip");
  const due = await page.getByRole("heading", { level: 2, name: /^Descale/ }).textContent();
  await startClean(page);
  await fillDay(page, "It came on", "10112026");
  const light = page.getByRole("region", { name: "Its light" });
  await light.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByText("Descaling light lit up on 10 Nov, written down.")).toBeVisible();
  await upToQuestions(page);
  await expectAccessible(page);
  await answer(page, ["smell"]);
  await press(page, /Rinse \d more/);
  await expect(page.getByRole("heading", { level: 1, name: "Rinse" })).toBeVisible();
  await press(page, /Carafe poured away/);
  await press(page, "Rinsed – go on");
  await answer(page);
  await press(page, "All in place");
  await press(page, "Finish and log it");
  await expect(page.getByText("Done and logged")).toBeVisible();
  await expect(page.getByText("Smell: nobody notices acid, by a second person")).toBeVisible();
  await expect(page.getByText(/What was learned: Descaling light lit up/)).toBeVisible();

  await page.getByRole("link", { name: "See when it is due next" }).click();
  await expect(page.getByRole("heading", { level: 2, name: /^Descale/ })).not.toHaveText(due ?? "");
  await page.goto(`${home.url}/log`);
  await expect(page.getByRole("listitem").filter({ hasText: "Shelf drip" })).toContainText("White vinegar, 2.0 %");
});

test("a clean stands where it was after reload, a killed server and in a second window", { tag: "@core" }, async ({
  page,
  context,
}) => {
  await seedDrip(page, home.url, "Second drip");
  await startClean(page);
  await page.getByRole("button", { name: "Note" }).click();
  await page.getByLabel("Note", { exact: true }).fill("lid is cracked");
  await press(page, "Keep the note");
  await page.reload();
  await expect(page.getByText("Note: lid is cracked")).toBeVisible();

  await home.kill();
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: "Send again" })).toBeVisible();
  await home.start();
  // The act was kept on this device, so it outlives the page as well.
  await page.reload();
  await expect(page.getByRole("heading", { level: 1, name: "Make ready" })).toBeVisible();

  const second = await context.newPage();
  await second.goto(page.url());
  await press(second, "Unplugged and empty");
  await expect(page.getByRole("heading", { level: 1, name: "Wash the loose parts" })).toBeVisible();
  await press(page, "Undo");
  await expect(second.getByRole("heading", { level: 1, name: "Make ready" })).toBeVisible();
  await page.getByRole("button", { name: "Mishap" }).click();
  await page.getByRole("button", { name: "The power went" }).click();
  await expect(page.getByText(/Every act that was acknowledged here/)).toBeVisible();
  await page.getByRole("button", { name: "Back to the clean" }).click();
  await press(page, "Stop here");
  await expect(second.getByText(/Plain water inside/)).toBeVisible();
});

test("chips after the bath lead to another one, planned there and rinsed out once", async ({ page }) => {
  await seedDrip(page, home.url, "Furred drip");
  await startClean(page);
  for (const act of ["Seen it", "Unplugged and empty", "Parts are washed", "It is mixed", "Half is through"])
    await press(page, new RegExp(act));
  for (const act of [/Start the timer/, "Soak is over", "It has run through"]) await press(page, act);
  await page.getByRole("group", { name: /chips/ }).getByRole("button", { name: "Some" }).click();
  await look(page, "A lot");
  await expect(page.getByText(/Chips mean that chalk is still moving/)).toBeVisible();
  await press(page, /Mix the same bath/);
  await expect(page.getByRole("heading", { level: 1, name: "Mix the bath – bath 2" })).toBeVisible();
  await press(page, "Undo");
  await expect(page.getByText(/Chips mean that chalk is still moving/)).toBeVisible();
  await press(page, /Mix the same bath/);
  await page.reload();
  for (const act of ["It is mixed", /Half is through/, /Start the timer/, "Soak is over", "It has run through"])
    await press(page, act);
  await look(page, "Nothing to see");
  await expect(page.getByRole("heading", { level: 1, name: "Wipe the body" })).toBeVisible();
});

test("two people count at once, and each count is kept as it was meant", async ({ page, context }) => {
  await seedDrip(page, home.url, "Third drip");
  await startClean(page);
  for (const act of ["Seen it", "Unplugged and empty", "Parts are washed", "It is mixed", "Half is through"])
    await press(page, new RegExp(act));
  for (const act of [/Start the timer/, "Soak is over", "It has run through"]) await press(page, act);
  await look(page, "A little");
  for (const act of ["Body is clean", "Parts are washed", "Reservoir is washed"]) await press(page, act);
  const second = await context.newPage();
  await second.goto(page.url());
  await expect(second.getByRole("button", { name: "Carafe poured away – 1 of 2" })).toBeVisible();
  await Promise.all([press(page, /Carafe poured away/), press(second, /Carafe poured away/)]);
  for (const window of [page, second])
    await expect(window.getByRole("button", { name: "Rinsed – go on" })).toBeVisible();

  await page.getByRole("button", { name: "Mishap" }).click();
  await page.getByRole("button", { name: "The count is lost" }).click();
  await page.getByLabel("How many still count").fill("1");
  await page.getByRole("button", { name: "Count on from 1" }).click();
  await expect(second.getByRole("button", { name: "Carafe poured away – 2 of 2" })).toBeVisible();
});

test("without the network the clean opens, acts wait on the device, and arrive in order", async ({ browser }) => {
  const context = await browser.newContext({ serviceWorkers: "allow" });
  const page = await context.newPage();
  await seedDrip(page, home.url, "Far drip");
  await startClean(page);
  await page.evaluate(() => navigator.serviceWorker.ready);
  // The worker answers from the next opening on.
  await page.reload();
  await expect(page.getByRole("heading", { level: 1, name: "Look at the first glass" })).toBeVisible();
  await context.setOffline(true);
  await page.reload();
  await expect(page.getByRole("heading", { level: 1, name: "Look at the first glass" })).toBeVisible();
  await page.keyboard.press("Space");
  await expect(page.getByText(/1 waiting to be sent/)).toBeVisible();
  await context.setOffline(false);
  await expect(page.getByRole("heading", { level: 1, name: "Make ready" })).toBeVisible();
  await expect(page.getByText(/waiting to be sent/)).toBeHidden();
  // What an act came to is kept too: opened without a line, the page does not show what was before, and says how old it is.
  await press(page, "Unplugged and empty");
  await expect(page.getByRole("heading", { level: 1, name: "Wash the loose parts" })).toBeVisible();
  await context.setOffline(true);
  await page.reload();
  await expect(page.getByRole("heading", { level: 1, name: "Wash the loose parts" })).toBeVisible();
  await expect(page.getByText(/As it was at \d/)).toBeVisible();
  await context.close();
});
