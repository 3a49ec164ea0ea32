import { expect } from "@playwright/test";
import { test } from "./demo";
import { changeIt, takeVinegar } from "./steps";

test("the Counter shows what wants to be done today, then the brewers by home with picture, window and reason", async ({
  page,
}) => {
  await page.goto("/");
  const todo = page.getByRole("region", { name: "Today" }).getByRole("listitem");
  await expect(todo.first()).toContainText("ACID INSIDE. Do not brew. Plugged in and in its cleaning mode");
  await expect(todo.first().getByRole("timer")).toBeVisible();
  await expect(todo.nth(1)).toContainText("Descale Galley one-cup");
  await expect(todo.nth(1)).toContainText(/Overdue: about .+ due already/);

  const cards = page
    .getByRole("listitem")
    .filter({ has: page.getByRole("img", { name: /of the limit/ }) })
    .filter({ has: page.getByRole("heading") });
  await expect(cards).toHaveCount(10);
  const galley = cards.filter({ hasText: "Galley one-cup" });
  await expect(galley).toContainText("Overdue");
  await expect(galley).toContainText(/of very hard water since/);
  await expect(page.getByRole("region", { name: "Own kitchen" }).getByRole("listitem").first()).toContainText(
    "Clean is running",
  );

  await page.getByLabel("Find a brewer").fill("studio");
  await expect(cards).toHaveCount(4);
  await page.getByRole("heading", { level: 1 }).click();
  await page.keyboard.press("5");
  await expect(page.getByRole("heading", { level: 1, name: "Log" })).toBeVisible();
});

test("a plan is recomputed with every choice and refuses what does not fit", async ({ page }) => {
  await page.goto("/brewers/lamp/plan");
  await expect(page.getByText(/Murlo would take: Citric acid powder, 20 g/)).toBeVisible();
  await expect(page.getByText(/\$\d+\.\d\d a clean, about/)).toBeVisible();
  await takeVinegar(page);
  await expect(page.getByText("2 cups of white vinegar and 2 cups of water")).toBeVisible();
  await page.getByLabel("Recipe").click();
  await page.getByRole("option", { name: "neat" }).click();
  await expect(page.getByText("4 cups of white vinegar, neat")).toBeVisible();
  await page.getByLabel("Bath", { exact: true }).fill("90 cups");
  await page.keyboard.press("Enter");
  await expect(page.getByText(/the reservoir holds 48 fl oz/)).toBeVisible();
  await expect(page.getByRole("button", { name: "Start the clean" })).toBeDisabled();
  await page.getByLabel("Bath", { exact: true }).fill("3 cups");
  await page.keyboard.press("Enter");
  await expect(page.getByText("3 cups of white vinegar, neat")).toBeVisible();
  await page.getByRole("button", { name: "Take Citric acid powder, 35 g in each litre" }).click();
  await expect(page.getByText(/^34 g .* of citric acid powder in 4 cups/)).toBeVisible();
  await page.getByRole("button", { name: "Show the working" }).click();
  await expect(page.getByText(/Plummer & Busenberg/).first()).toBeVisible();
});

test("a programme is run by hand where the brewer does not offer it", async ({ page }) => {
  await page.goto("/brewers/office-coded/plan");
  await expect(page.getByText(/Run the cleaning programme, 20 min/)).toBeVisible();
  await changeIt(page);
  await page.getByRole("button", { name: "By hand" }).click();
  await expect(page.getByText(/Run the cleaning programme, 20 min/)).toHaveCount(0);
  await page.getByLabel("Soak, minutes").fill("20");
  await page.keyboard.press("Enter");
  await expect(page.getByText(/Let it soak, 20 min/)).toBeVisible();
});

test("deleting can be undone", async ({ page }) => {
  await page.goto("/brewers/galley/how-it-works");
  await page.getByRole("button", { name: "Put away" }).click();
  await expect(page.getByText("Galley drip was put away")).toBeVisible();
  await expect(page.getByRole("link", { name: "Galley drip" })).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("link", { name: "Galley drip" })).toBeVisible();
});

test("a mix is computed without a brewer, and its link gives the same again", async ({ page }) => {
  await page.goto("/mix");
  await expect(page.getByText("1½ cups of white vinegar, 2½ cups of water")).toBeVisible();
  await page.getByLabel("Measure with").click();
  await page.getByRole("option", { name: "The carafe's marks" }).click();
  await page.getByLabel("All of it").fill("11 marks");
  await expect(page.getByText("4 carafe marks of white vinegar, 7 carafe marks of water")).toBeVisible();
  await page.goto(page.url());
  await expect(page.getByText("4 carafe marks of white vinegar, 7 carafe marks of water")).toBeVisible();
  await page.getByLabel("All of it").fill("a lot");
  await expect(page.getByText(/is not a unit of volume/)).toBeVisible();

  await page.getByLabel("Level after").fill("3 cups");
  await expect(page.getByText("about 3.0 %, between 2.4 and 3.7 %")).toBeVisible();
});

test("a small job is ticked off today's list, and the tick taken back", async ({ page }) => {
  await page.goto("/");
  const list = page.getByRole("region", { name: "Today" });
  await list.getByRole("button", { name: /^Show \d+ more/ }).click();
  const line = list.getByRole("listitem").filter({ hasText: "Water filter" });
  const name = /Water filter: Lamp-room pod/;
  await line.filter({ hasText: name }).getByRole("button", { name: "Fitted today" }).click();
  await expect(line.filter({ hasText: name })).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(line.filter({ hasText: name })).toBeVisible();
});

test("what is worth a look is asked once, in seconds, and says what it would change", async ({ page }) => {
  await page.goto("/");
  const todo = page.getByRole("region", { name: "Today" });
  await todo.getByRole("button", { name: /^Show \d+ more/ }).click();
  const look = todo.getByRole("listitem").filter({ hasText: "Lamp-room pod: Time the largest cup" });
  await expect(look).toContainText(
    /Due about .+ as it stands; about .+ if it is as quick as ever, .+ if a third slower/,
  );
  await look.getByRole("textbox", { name: "Seconds" }).fill("ninety");
  await look.getByRole("button", { name: /Write down the seconds/ }).click();
  await expect(look.getByRole("alert")).toContainText("not a number");
  const due = page
    .getByRole("region", { name: "Lamp keeper's cottage" })
    .getByText(/^Descale about .*due already/)
    .first();
  const before = await due.textContent();
  await look.getByRole("textbox", { name: "Seconds" }).fill("30");
  await look.getByRole("button", { name: /Write down the seconds/ }).click();
  await expect(look).toBeHidden();
  await expect(due).not.toHaveText(before ?? "");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(look).toBeVisible();
});
