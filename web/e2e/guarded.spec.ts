import { expect, type Page, test } from "@playwright/test";
import { Household } from "./server";
import { answer, look, press, seedDrip, startClean } from "./steps";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

const at = (page: Page, title: string) => expect(page.getByRole("heading", { level: 1, name: title })).toBeVisible();

/** How many acts the household has of the clean on screen. */
async function steps(page: Page) {
  const id = page.url().split("/").pop();
  const clean = await (await page.request.get(`${home.url}/api/cleans/${id}`)).json();
  return clean.state.steps.filter((s: { standing: string }) => s.standing === "done").length;
}

test("a held key and a double tap are one act, and no key reaches through a list", { tag: "@core" }, async ({
  page,
}) => {
  await seedDrip(page, home.url, "Held drip");
  await startClean(page);
  const taken = page.waitForResponse((r) => r.url().includes("/events"));
  for (let i = 0; i < 30; i++) await page.keyboard.down(" ");
  await page.keyboard.up(" ");
  await taken;
  await at(page, "Make ready");
  expect(await steps(page)).toBe(1);

  await page.getByRole("button", { name: "Unplugged and empty" }).dblclick();
  await at(page, "Wash the loose parts");
  await expect.poll(() => steps(page)).toBe(2);

  await page.getByRole("button", { name: "Mishap" }).click();
  await page.getByRole("button", { name: "The power went" }).focus();
  await page.keyboard.press("Space");
  await expect(page.getByText("Still counts")).toBeVisible();
  await page.keyboard.press("Enter");
  await page.keyboard.press("4");
  await page.getByRole("button", { name: "Back to the clean" }).click();
  await at(page, "Wash the loose parts");
  await expect.poll(() => steps(page)).toBe(2);
});

test("a soak and a rinse that hardly began are asked about; ended so, the brewer stays marked", async ({ page }) => {
  await seedDrip(page, home.url, "Hasty drip");
  await startClean(page);
  for (const act of ["Seen it", "Unplugged and empty", "Parts are washed", "It is mixed", "Half is through"])
    await press(page, new RegExp(act));
  await press(page, /Start the timer/);
  // The second tap of the one that asks is no answer.
  await page.getByRole("button", { name: "Soak is over" }).dblclick();
  await expect(page.getByText(/of soak are planned/)).toBeVisible();
  // The safe way out has the focus.
  await expect(page.getByRole("button", { name: "Back to the step" })).toBeFocused();
  await page.keyboard.press("Enter");
  await at(page, "Let it soak");
  await page.getByRole("button", { name: "Soak is over" }).click();
  await press(page, "Yes, go on now");
  await press(page, "It has run through");
  await look(page, "Nothing to see");
  for (const act of ["Body is clean", "Parts are washed", "Reservoir is washed"]) await press(page, act);
  await at(page, "Rinse");
  // The last press still has the focus; a button answers keys itself.
  await page.getByRole("heading", { level: 1 }).click();
  await expect(page.getByRole("button", { name: /Carafe poured away/ })).toBeEnabled();
  await page.keyboard.press("Enter");
  await expect(
    page.getByText(/^0 of 2 rinses are done: about .* times what people notice is still inside/),
  ).toBeVisible();
  await press(page, "End the rinse here");
  await answer(page);
  await expect(page.getByText(/Only 0 of 2 rinses were done/)).toBeVisible();
  await press(page, "It is good enough: go on");
  await expect(page.getByRole("button", { name: "Rinse on first" })).toBeVisible();
  await page.getByRole("button", { name: "All in place" }).click();
  await press(page, "Leave the acid inside");
  await page.getByRole("button", { name: "Finish and log it" }).click();
  await press(page, "Leave the acid inside");
  await expect(page.getByText(/ACID INSIDE, about/)).toBeVisible();
  await expect(page.getByText(/hardly soaked/)).toBeVisible();

  await page.goto(home.url);
  const lines = page.getByRole("listitem").filter({ hasText: "Hasty drip" });
  await expect(lines.first()).toContainText("ACID INSIDE");
  await page.getByRole("link", { name: "What to do" }).first().click();
  await press(page, "Rinse it out now");
  await press(page, "Reservoir is washed");
  await press(page, /Carafe poured away/);
  await press(page, /Carafe poured away/);
  await press(page, "Rinsed – go on");
  await answer(page);
  await press(page, "All in place");
  await press(page, "Finish and log it");
  await page.goto(home.url);
  await expect(lines.first()).toBeVisible();
  await expect(lines.filter({ hasText: "ACID INSIDE" })).toHaveCount(0);
});
