import { expect, type Page, test } from "@playwright/test";
import { expectAccessible } from "./axe";
import { Household } from "./server";
import { press, seedDrip, startClean } from "./steps";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

/** Touches the strip at so much of its width and height. */
async function touch(page: Page, x: number, y = 0.5) {
  const strip = page.getByRole("group", { name: "Touch where it is" });
  const box = await strip.boundingBox();
  if (!box) throw new Error("the strip is not drawn");
  await page.mouse.click(box.x + x * box.width, box.y + y * box.height);
}

async function put(page: Page, kind: string, shape: string, word: string, x: number) {
  await page.getByRole("button", { name: kind, exact: true }).click();
  await page.getByRole("button", { name: shape, exact: true }).click();
  await touch(page, x);
  await page.getByLabel("Your word for it").fill(word);
}

test("buttons are taught by touching them, drawn in the clean, and corrected where they failed", async ({ page }) => {
  await page.clock.install();
  await seedDrip(page, home.url, "Kiln drip");
  await page.goto(`${page.url()}/how-it-works`);
  await page.getByRole("link", { name: "Show what you press" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Buttons of Kiln drip" })).toBeVisible();
  await put(page, "Button", "Round", "sun", 0.2);
  await put(page, "Button", "Wide", "moon", 0.5);
  await put(page, "Lamp", "Round", "drop", 0.85);
  await expectAccessible(page);
  await page.getByRole("button", { name: "That is all of it" }).click();

  // Held here as long as on the brewer; then a second one, which is a press.
  await expect(page.getByRole("heading", { name: "What did you press for one cup of it?" })).toBeVisible();
  const sun = await page.getByRole("button", { name: "Button sun" }).boundingBox();
  if (!sun) throw new Error("the button is not drawn");
  await page.mouse.move(sun.x + sun.width / 2, sun.y + sun.height / 2);
  await page.mouse.down();
  await page.clock.runFor(3_000);
  await page.mouse.up();
  await expect(page.getByLabel("Held, s")).toHaveValue("3");
  await page.getByRole("button", { name: "Button moon" }).click();
  await expect(page.getByLabel("Held, s").nth(1)).toHaveValue("");
  await page.getByRole("button", { name: "Take touch 2 out" }).click();
  await page.getByRole("button", { name: "Next" }).click();
  const water = page.getByRole("region", { name: "When it wants water, or the bath has ended" });
  await water.getByRole("button", { name: "Lamp drop" }).click();
  await water.getByRole("button", { name: "Lights" }).click();
  await expectAccessible(page);
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByText("the lamp ‘drop’ lights")).toBeVisible();
  await expect(page.getByText("Hold the button ‘sun’ for 3 s")).toBeVisible();

  await page.goto(page.url().replace("/how-it-works", ""));
  await startClean(page);
  for (const act of ["Seen it", "Unplugged and empty", "Parts are washed", "It is mixed"]) await press(page, act);
  const drawn = page.getByRole("region", { name: "Buttons" });
  await expect(drawn.getByRole("img", { name: "One press: Hold the button ‘sun’ for 3 s" })).toBeVisible();
  await expect(page.getByText("Start a brew (hold the button ‘sun’ for 3 s)")).toBeVisible();
  await expectAccessible(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await expectAccessible(page);

  await drawn.getByRole("link", { name: "That did nothing: what then?" }).click();
  await page.getByRole("button", { name: "Take touch 1 out" }).click();
  await page.getByRole("button", { name: "Button moon" }).click();
  await expectAccessible(page);
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(drawn.getByRole("img", { name: "One press: Press the button ‘moon’" })).toBeVisible();
  await expect(page.getByText("Start a brew (press the button ‘moon’)")).toBeVisible();
});
