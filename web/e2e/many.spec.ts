import { expect, test } from "@playwright/test";
import { Household } from "./server";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

const names = [
  "Wörterbuchabteilungskaffeemaschinenentkalkungsgerät im Erdgeschoss links",
  "The percolator that stands beside the second window, upstairs",
  "مطبخ الطابق العلوي",
  "☕🫖 the one with the sticker",
];

test("two hundred and ten brewers with long, right-to-left and emoji names stay quick and whole", async ({ page }) => {
  for (let i = 0; i < 210; i += 1) {
    const answers = { family: i % 2 ? "drip" : "pod_reservoir", nickname: `${names[i % names.length]} ${i}` };
    const kept = await page.request.post(`${home.url}/api/first`, {
      headers: { origin: home.url },
      data: { answers, brewer_id: `b${i}`, water_id: `w${i}` },
    });
    expect(kept.ok(), await kept.text()).toBe(true);
  }
  for (const width of [1280, 390, 320]) {
    await page.setViewportSize({ width, height: 800 });
    await page.goto(home.url);
    await expect(page.getByLabel("Find a brewer")).toBeVisible();
    expect(await page.evaluate(() => document.querySelectorAll("*").length)).toBeLessThanOrEqual(1500);
    expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
  }
  await page.getByRole("button", { name: "Page 3 of the brewers" }).click();
  await page.getByLabel("Find a brewer").fill("upstairs 201");
  await expect(page.getByRole("link", { name: /upstairs 201/ })).toBeVisible();
  await page.goto(`${home.url}/waters`);
  await expect(page.getByRole("heading", { level: 1, name: "Waters" })).toBeVisible();
  expect(await page.evaluate(() => document.querySelectorAll("*").length)).toBeLessThanOrEqual(1500);
});
