import { expect, type Page } from "@playwright/test";
import { test } from "./demo";

const answered = (page: Page) => page.waitForResponse((r) => r.url().includes("/api/practice") && r.ok());

/** Does what the plan says until it is through. */
async function follow(page: Page) {
  const does = page.getByRole("button", { name: "Do it" });
  await does.waitFor();
  for (let i = 0; i < 300 && (await does.isVisible()); i++) {
    const taken = answered(page);
    await does.click();
    await taken;
    await expect(page.getByText("Way out:")).toBeHidden();
  }
}

for (const family of ["pod_reservoir", "drip"])
  test(`a whole clean is practised in fast time: ${family}`, async ({ page }) => {
    await page.goto(`/practice?family=${family}`);
    await page.getByRole("button", { name: "60×" }).click();
    await expect(page.getByText("The clock runs 60 times as fast")).toBeVisible();
    await follow(page);
    await expect(page.getByRole("heading", { name: "The whole clean is done" })).toBeVisible();
  });

test("a mug that is not emptied overflows, and emptying it is the way out", async ({ page }) => {
  await page.goto("/practice?way=alone");
  const press = async (name: string) => {
    const taken = answered(page);
    await page.getByRole("button", { name, exact: true }).click();
    await taken;
  };
  for (const name of ["Open the lid", "Take the pod out", "Close the lid", "Fill with water"]) await press(name);
  await press("Empty the vessel, put it back");
  await press("Press for a cup");
  await press("Press for a cup");
  await expect(page.getByText("The vessel overflows, near boiling.")).toBeVisible();
  await press("Empty the vessel, put it back");
  await press("Press for a cup");
  await expect(page.getByText("The vessel overflows, near boiling.")).toBeHidden();
});

test("a fault is found by looking, and its remedy clears it", async ({ page }) => {
  await page.goto("/practice?way=fault&seed=2");
  await page.getByRole("button", { name: /Look: .*white chips/ }).click();
  await expect(page.getByRole("listitem").filter({ hasText: "white chips" })).toContainText("Yes");
  await page.getByRole("button", { name: "Clear the needles", exact: true }).last().click();
  await expect(page.getByText("That did not help")).toBeVisible();
  await page.getByRole("button", { name: "Descale it" }).click();
  await expect(page.getByText("That was it: chalk (scale)")).toBeVisible();
});

test("five hundred presses in any order neither stick nor throw", async ({ page }) => {
  const thrown: Error[] = [];
  page.on("pageerror", (error) => thrown.push(error));
  await page.goto("/practice?way=alone&family=coded_capsule");
  const buttons = page.getByRole("group", { name: "The brewer's buttons" });
  await buttons.getByRole("button").first().waitFor();
  for (let round = 0; round < 20; round++) {
    const taken = answered(page);
    await buttons.evaluate((group, from) => {
      const all = [...group.querySelectorAll("button")];
      // The same ones each time: a step that is prime to their number visits all of them.
      for (let i = 0; i < 25; i++) all[((from + i) * 7) % all.length]?.click();
    }, round * 25);
    await taken;
  }
  await expect(page.getByRole("status").first()).not.toBeEmpty();
  await page.getByRole("button", { name: "Begin anew" }).click();
  await expect(page.getByText(/Plugged in and switched on/)).toBeVisible();
  expect(thrown).toEqual([]);
});
