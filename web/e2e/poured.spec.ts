import { expect, test } from "@playwright/test";
import { Household } from "./server";
import { press, seedDrip, startClean } from "./steps";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

test("too much was poured: it is told on a phone, the rest and the log go by it, and what cannot be in is refused", async ({
  page,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await seedDrip(page, home.url, "Hasty pour");
  await startClean(page);
  for (const act of ["Seen it", "Unplugged and empty", "Parts are washed"]) await press(page, new RegExp(act));
  await page.getByRole("button", { name: "Poured otherwise" }).click();
  const told = page.getByRole("region", { name: "Poured otherwise" });
  await told.getByLabel("How much of it").fill("40 cups");
  await told.getByRole("button", { name: "That is what is in" }).click();
  await expect(page.getByText(/all of it is more than/)).toBeVisible();
  await expect(page.getByRole("heading", { level: 1, name: "Mix the bath" })).toBeVisible();

  await page.getByRole("button", { name: "Poured otherwise" }).click();
  await told.getByLabel("How much of it").fill("2 cups");
  await told.getByLabel("How much water").fill("2 cups");
  await press(page, "That is what is in");
  await expect(page.getByRole("heading", { level: 1, name: "Brew half of it" })).toBeVisible();
  const clean = page.url().split("/").at(-1);
  const view = await (await page.request.get(`${home.url}/api/cleans/${clean}`)).json();
  expect(view.state.inside).toBe("bath");
  expect(view.plan.bath.percent).toBeCloseTo(2.5, 1);

  // Nobody measured, after all: it is told by how high it stands.
  await page.getByRole("button", { name: "Poured otherwise" }).click();
  await told.getByRole("button", { name: "By eye" }).click();
  await expect(told.getByRole("button", { name: "That is what is in" })).toBeDisabled();
  await told.getByRole("button", { name: "To the top" }).click();
  await told.getByRole("button", { name: "1 : 2 with water" }).click();
  await press(page, "That is what is in");
  const seen = await (await page.request.get(`${home.url}/api/cleans/${clean}`)).json();
  expect(seen.plan.bath.percent).toBeCloseTo(1.67, 1);
  expect(seen.plan.bath.total.ml).toBeCloseTo(seen.plan.reservoir_ml, -1);
});
