import { expect, test } from "@playwright/test";
import { expectAccessible } from "./axe";
import { Household } from "./server";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

test("a neglected brewer is done over evenings: proposed, moved, on today's list, called off and taken back", async ({
  page,
}) => {
  const post = async (path: string, data: unknown) => {
    const answer = await page.request.post(`${home.url}/api/${path}`, { data, headers: { origin: home.url } });
    expect(answer.ok(), await answer.text()).toBe(true);
    return answer.json();
  };
  const water = await post("waters", { name: "Well", reading: { by: "strip", value: 24, unit: "gpg" } });
  const families: { family: string; draft: object }[] = await (
    await page.request.get(`${home.url}/api/families`)
  ).json();
  const brewer = await post("brewers", {
    ...families.find((one) => one.family === "pod_reservoir")?.draft,
    nickname: "Never descaled",
    water_id: water.id,
    in_use_since: "2024-09-20",
    weekday_cups: 6,
    weekend_cups: 6,
    beforehand: null,
    last_descaled: null,
  });
  await page.goto(`${home.url}/brewers/${brewer.id}/plan`);
  await page.getByRole("button", { name: "Spread it over days" }).click();
  const spread = page.getByRole("region", { name: "Over days" });
  await expect(spread.getByText(/^leaves /).first()).toBeVisible();
  const parts = await spread.getByRole("listitem").count();
  expect(parts).toBeGreaterThan(1);
  await expectAccessible(page);
  await spread.getByRole("button", { name: "Do it over these days" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Never descaled" })).toBeVisible();
  const kept = page.getByRole("region", { name: "Over days" });
  await expect(kept.getByText(/part 1 of/)).toBeVisible();
  await expectAccessible(page);

  await page.goto(home.url);
  const line = page.getByRole("listitem").filter({ hasText: "Descale Never descaled, part 1" });
  await line.getByRole("link", { name: "Plan" }).click();
  await expect(page.getByText(/^Part 1 of \d: one bath/)).toBeVisible();
  await page.getByRole("button", { name: "Start the clean" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Look at the first glass" })).toBeVisible();

  await page.goto(`${home.url}/brewers/${brewer.id}`);
  await kept.getByRole("button", { name: "Call the rest off" }).click();
  await expect(kept).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(kept).toBeVisible();
});
