import { expect, test } from "@playwright/test";
import { Household } from "./server";
import { answer, press, seedDrip, startClean, upToQuestions } from "./steps";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

test("a clean that went well is kept as our way; the next plan is that, is shown to somebody, changed, and taken elsewhere", async ({
  page,
}) => {
  await seedDrip(page, home.url, "Ola's drip");
  const brewer = page.url();
  await startClean(page);
  await upToQuestions(page);
  await answer(page);
  await press(page, "All in place");
  await press(page, "Finish and log it");
  // The first coffee comes later that day: one touch, and the Counter asks for it too.
  await page.goto(home.url);
  const asked = page.getByRole("listitem").filter({ hasText: "How was the first coffee" });
  await asked.getByRole("button", { name: "Sour" }).click();
  await expect(page.getByText(/rinsed out longer here/)).toBeVisible();
  await expect(asked).toHaveCount(0);
  await page.goBack();
  await expect(page.getByRole("region", { name: "First coffee" })).toHaveCount(0);
  const kept = page.getByRole("region", { name: "Our way" });
  await kept.getByLabel("Name of this way").fill("");
  await expect(kept.getByRole("button", { name: "Keep this as our way" })).toBeDisabled();
  await kept.getByLabel("Name of this way").fill("How Ola does it");
  await kept.getByRole("button", { name: "Keep this as our way" }).click();
  await expect(page.getByText("Kept as “How Ola does it”.")).toBeVisible();

  await page.goto(`${brewer}/plan`);
  const whose = page.getByRole("region", { name: "Whose way" });
  await expect(whose.getByRole("button", { name: "How Ola does it" })).toHaveAttribute("aria-pressed", "true");
  await expect(whose.getByText(/^Leaves /)).toBeVisible();
  await expect(page.getByText(/was sour here once: 1 more rinse than reckoned/)).toBeVisible();
  const glance = page.getByRole("region", { name: "The clean at a glance" });
  await expect(glance).toContainText("of white vinegar and");
  await whose.getByRole("button", { name: "As Murlo advises" }).click();
  await expect(whose.getByText(/^Leaves /)).toHaveCount(0);
  await whose.getByRole("button", { name: "How Ola does it" }).click();
  await expect(whose.getByText(/^Leaves /)).toBeVisible();

  // Whoever changes the bath leaves the way by it, and may keep that as it is done from now on.
  await page.getByRole("button", { name: "Change it" }).click();
  const soak = page.getByLabel("Soak, minutes");
  await soak.fill("45");
  await soak.press("Enter");
  await expect(whose.getByRole("button", { name: "As Murlo advises" })).toHaveAttribute("aria-pressed", "true");
  await expect(glance).toContainText("of white vinegar");
  await page.getByRole("button", { name: "“How Ola does it” is this from now on" }).click();
  await expect(page.getByText("Kept as “How Ola does it”.")).toBeVisible();

  await page.getByRole("link", { name: "See it" }).last().click();
  const way = page.getByRole("region", { name: "How Ola does it" });
  await expect(way.getByText("Soak 45 min")).toBeVisible();
  await way.getByRole("button", { name: "What it was before" }).click();
  await expect(way.getByText(/from a clean/)).toBeVisible();
  const file = page.waitForEvent("download");
  await way.getByRole("link", { name: "As a file" }).click();
  const saved = await (await file).path();

  await way.getByRole("link", { name: "Show somebody how" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Ola's drip: How Ola does it" })).toBeVisible();
  const steps = page.getByRole("list", { name: "What to do" });
  await expect(steps.getByText(/Mix the bath/)).toBeVisible();
  await expect(steps.getByText(/near boiling/).first()).toBeVisible();

  await page.goto(`${brewer}/ways`);
  await way.getByRole("button", { name: "Put away" }).click();
  await expect(page.getByText("No way is kept yet.")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(way).toBeVisible();

  await seedDrip(page, home.url, "Their drip");
  await page.getByRole("link", { name: "Our ways" }).click();
  await page
    .getByLabel("File of a way")
    .setInputFiles({ name: "notes.json", mimeType: "application/json", buffer: Buffer.from("hello") });
  await expect(page.getByText(/notes.json cannot be read/)).toBeVisible();
  await page.getByLabel("File of a way").setInputFiles(saved);
  await expect(way.getByText("Soak 45 min")).toBeVisible();
  await expect(way.getByText(/from a file/)).toBeVisible();
});
