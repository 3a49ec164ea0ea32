import { expect, test } from "@playwright/test";
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
