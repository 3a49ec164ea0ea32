import { expect } from "@playwright/test";
import { test } from "./demo";
import { changeIt } from "./steps";

test("a sign is told on the Counter with two touches, changes the estimate, and can be taken back", async ({
  page,
}) => {
  await page.goto("/");
  const card = page.getByRole("listitem").filter({ has: page.getByRole("link", { name: "Kiln drip" }) });
  await card.getByRole("button", { name: "I notice something" }).click();
  await page.getByRole("button", { name: "Since today" }).click();
  await page.getByRole("menuitem", { name: "A cooler cup" }).click();
  await expect(page.getByText("A cooler cup: written down")).toBeVisible();
  await page.goto("/brewers/kiln/learned");
  await expect(page.getByText(/^Cooler cups on .*: chalk grows \d+ % faster than reckoned before/)).toBeVisible();
  await page.getByRole("link", { name: "History" }).click();
  await page
    .getByRole("listitem")
    .filter({ hasText: /^Cooler cups on/ })
    .getByRole("button", { name: "Take back" })
    .click();
  await page.getByRole("link", { name: "Learned" }).click();
  await expect(page.getByText(/^Cooler cups on .*: chalk grows/)).toHaveCount(0);
});

test("a timed cup is written down and teaches", async ({ page }) => {
  await page.goto("/brewers/lamp/history");
  await page.getByLabel("What happened").click();
  await page.getByRole("option", { name: "A cup was timed" }).click();
  await page.getByLabel("Seconds of its largest cup").fill("0");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByText(/time of a cup/)).toBeVisible();
  await page.getByLabel("Seconds of its largest cup").fill("52");
  await page.getByRole("button", { name: "Write it down" }).click();
  await page.getByRole("link", { name: "Learned" }).click();
  await expect(page.getByText(/^A cup timed at 52 s on .*: chalk grows \d+ % faster/)).toBeVisible();
  await page.getByRole("link", { name: "History" }).click();
  await page
    .getByRole("listitem")
    .filter({ hasText: /^A cup timed at 52 s/ })
    .getByRole("button", { name: "Take back" })
    .click();
  await page.getByRole("link", { name: "Learned" }).click();
  await expect(page.getByText(/^A cup timed at 52 s on .*: chalk grows/)).toHaveCount(0);
});

test("a plan shows chalk before and after it, and a clean for dirt is milder", async ({ page }) => {
  await page.goto("/brewers/lamp/plan");
  const figure = page.getByRole("figure").filter({ hasText: "After it" });
  await expect(figure.getByRole("img", { name: /^Chalk: \d+ % of the limit/ })).toHaveCount(2);
  await expect(page.getByText(/It likely leaves \d+ % of the limit, between \d+ and \d+ %/)).toBeVisible();
  await expect(page.getByText("Murlo would take:")).toBeVisible();
  await changeIt(page);
  await page.getByLabel("Soak, minutes").fill("2");
  await page.keyboard.press("Enter");
  await expect(page.getByText(/This likely leaves .* of the limit in place. What would do better/)).toBeVisible();
  await page.getByRole("button", { name: "For dirt only" }).click();
  await expect(page.getByText(/it is for coffee oil and what grew in standing water/)).toBeVisible();
});

test("a remedy that did not help moves on to the next cause", async ({ page }) => {
  await page.goto("/trouble?brewer=lamp&white-chips=yes&lukewarm=yes&loud-rattling=yes");
  await expect(page.getByRole("status")).toContainText("Clear enough to act: chalk (scale)");
  await page.getByRole("button", { name: "Tried it: it did not help" }).click();
  await expect(page.getByText("Tried, and it did not help.")).toBeVisible();
  await expect(page.getByRole("status")).not.toContainText("Clear enough to act: chalk (scale)");
  await page.getByRole("button", { name: "Not tried after all" }).click();
  await expect(page.getByRole("status")).toContainText("Clear enough to act: chalk (scale)");
});
