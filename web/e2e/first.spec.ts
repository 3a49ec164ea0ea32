import { expect, type Page, test } from "@playwright/test";
import { expectAccessible } from "./axe";
import { Household } from "./server";
import { press } from "./steps";

test.use({ viewport: { width: 390, height: 844 } });

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

const reading = (page: Page) => page.getByRole("region", { name: "So far" });
/** What the drawn result says now: chalk and time. */
const said = async (page: Page) => {
  const bore = await reading(page)
    .getByRole("img", { name: /of the limit/ })
    .first()
    .getAttribute("aria-label");
  return `${bore} ${await reading(page)
    .getByText(/of your hands/)
    .textContent()}`;
};

test("from an empty household to step one in nine touches, nothing typed, each answer changing the plan", {
  tag: "@core",
}, async ({ page }) => {
  await page.goto(home.url);
  let touches = 0;
  const touch = async (name: string | RegExp) => {
    await page.getByRole("button", { name, exact: typeof name === "string" }).click();
    touches += 1;
  };
  await expect(page.getByRole("heading", { name: "Which of these is yours?" })).toBeVisible();
  await expectAccessible(page);
  await touch(/^One-cup pod brewer/);
  await expect(page.getByRole("heading", { name: "What goes in?" })).toBeVisible();
  await expect(reading(page).getByText(/of your hands/)).toBeVisible();
  let before = await said(page);
  const changes = async () => {
    await expect.poll(() => said(page)).not.toBe(before);
    before = await said(page);
  };
  await touch(/^A white crust/);
  await changes();
  await touch("Half a year ago");
  await changes();
  await touch("Cups a day: one more");
  await changes();
  await touch("Slow or short cups");
  await changes();
  await expectAccessible(page);
  await touch("Next");
  await touch("White vinegar");
  await expect(
    reading(page)
      .getByText(/vinegar/i)
      .first(),
  ).toBeVisible();
  await touch("Start");
  await expect(page).toHaveURL(/\/cleans\//);
  await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
  await expect(page.getByRole("button", { name: "More", exact: true })).toBeVisible();
  expect(touches).toBeLessThanOrEqual(9);
});

test("the answers go back and forth, survive a reload, and the whole sheet gives the same estimate", async ({
  page,
}) => {
  await page.goto(`${home.url}/brewers/new`);
  await page.getByRole("button", { name: /^Drip brewer/ }).click();
  await page.getByRole("button", { name: /^A faint film/ }).click();
  await page.getByRole("button", { name: "Never", exact: true }).click();
  await page.getByRole("button", { name: "One to three years" }).click();
  await page.getByRole("button", { name: "Back" }).click();
  await expect(page.getByRole("button", { name: /^A faint film/ })).toHaveAttribute("aria-pressed", "true");
  await page.reload();
  await page.getByRole("button", { name: "Skip" }).click();
  await expect(page.getByRole("button", { name: "Never", exact: true })).toHaveAttribute("aria-pressed", "true");
  await page.getByRole("button", { name: "Next" }).click();
  await page.getByRole("button", { name: "Nothing yet" }).click();
  await expect(reading(page).getByText("To buy for this clean, one of:")).toBeVisible();
  await expect(reading(page).getByText(/Citric acid powder, \d+ g: grocery/)).toBeVisible();
  await page.getByRole("button", { name: "Keep it for later" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Drip brewer" })).toBeVisible();
  const bores = page.getByRole("img", { name: /of the limit/ });
  const byTouch = await bores.first().getAttribute("aria-label");

  await page.goto(`${home.url}/brewers/new/sheet`);
  await page.getByRole("button", { name: "Drip brewer", exact: true }).click();
  await page.getByLabel("Nickname").fill("By the sheet");
  await page.getByLabel("Water it is filled with").click();
  await page.getByRole("option", { name: /moderately hard/ }).click();
  await page.getByLabel("Last descaled").click();
  await page.getByRole("option", { name: "Never" }).click();
  await page.getByLabel("How long in use").click();
  await page.getByRole("option", { name: "One to three years" }).click();
  await page.getByRole("button", { name: "Add this brewer" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "By the sheet" })).toBeVisible();
  expect(await bores.first().getAttribute("aria-label")).toBe(byTouch);
});

test("nothing comes: straight to the needles", async ({ page }) => {
  await page.goto(`${home.url}/brewers/new?question=1`);
  await page.getByRole("button", { name: /^Pod brewer with reservoir/ }).click();
  await page.getByRole("button", { name: "Don’t know" }).click();
  await page.getByRole("button", { name: "Nothing", exact: true }).click();
  await page.getByRole("button", { name: "Clear the needles now" }).click();
  await expect(page).toHaveURL(/\/cleans\//);
  await expect(page.getByRole("heading", { level: 1, name: "Time a cup as it is" })).toBeVisible();
  // What its needles look like is asked at the needles, by a touch, and not again.
  await press(page, "Go on");
  await press(page, "Start the timer: 8 min");
  await press(page, "It has cooled");
  await press(page, "Unplugged and empty");
  await expect(page.getByText("0 of 6 clear")).toBeVisible();
  const asked = page.getByRole("region", { name: "What is yours like" });
  await expectAccessible(page);
  await asked.getByRole("button", { name: "Ring of small ones" }).click();
  await expect(page.getByText("0 of 10 clear")).toBeVisible();
  await expect(asked).toHaveCount(0);
  const clean = page.url();
  // Its own page, not its clean among those that run.
  await page.getByRole("main").locator('a[href^="/brewers/"]').first().click();
  await page.getByRole("link", { name: "How it works" }).click();
  await expect(page.getByRole("group", { name: /Lid needle, Small needle 1/ })).toBeVisible();
  await page.goto(clean);
  await expect(page.getByText("0 of 10 clear")).toBeVisible();
});

test("somebody who cannot tell is led by what is seen", async ({ page }) => {
  await page.goto(`${home.url}/brewers/new?question=1`);
  await page.getByRole("button", { name: "I cannot tell" }).click();
  await page.getByRole("button", { name: "A carafe stands in it", exact: true }).click();
  await expect(page.getByRole("heading", { name: "What goes in?" })).toBeVisible();
  await page.getByRole("button", { name: "Back" }).click();
  await expect(page.getByRole("button", { name: /^Drip brewer/ })).toHaveAttribute("aria-pressed", "true");
});

test("a light asks now, for the side it belongs to; a button and any strength of vinegar are told", async ({
  page,
}) => {
  await page.goto(`${home.url}/brewers/new`);
  const touch = (name: string | RegExp) => page.getByRole("button", { name, exact: typeof name === "string" }).click();
  await touch(/^Drip-and-pod combination/);
  await touch(/^Clean/);
  await touch("Lately");
  await touch("A light asks for it");
  await page.getByRole("group", { name: "Which side does the light ask for?" }).getByText("Carafe side").click();
  await page.getByRole("group", { name: "Has it a button or a setting for cleaning?" }).getByText("Yes").click();
  await expect(
    reading(page)
      .getByText(/its light came on/)
      .first(),
  ).toBeVisible();
  await expectAccessible(page);
  await touch("Next");
  await touch("White vinegar");
  await page.getByRole("textbox", { name: "Another strength, %" }).fill("12.5");
  await expect(
    reading(page)
      .getByText(/vinegar/i)
      .first(),
  ).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("textbox", { name: "Another strength, %" }).fill("250");
  await expect(page.getByText(/250/).first()).toBeVisible();
});

test("its name is always there, is refused where it stands, and empty it is that of its kind", async ({ page }) => {
  await page.goto(`${home.url}/brewers/new?question=4`);
  await page.getByRole("button", { name: /^Drip brewer/ }).click();
  await page.goto(`${home.url}/brewers/new?question=4`);
  const name = page.getByRole("textbox", { name: "Its name" });
  await expect(name).toHaveValue(/^Drip brewer/);
  // Digits are no way to a place while one types.
  await name.fill("");
  await name.pressSequentially("Kitchen 2");
  await expect(name).toHaveValue("Kitchen 2");
  await expect(page).toHaveURL(/question=4/);
  await name.fill("x".repeat(82));
  await expect(page.getByText("name has 82 characters: give at most 80")).toBeVisible();
  await expect(name).toHaveAttribute("aria-invalid", "true");
  await name.fill("");
  await expect(page.getByText("Empty: it is called as its kind is")).toBeVisible();
  await page.getByRole("button", { name: "Keep it for later" }).click();
  await expect(page.getByRole("heading", { level: 1, name: /^Drip brewer/ })).toBeVisible();
});
