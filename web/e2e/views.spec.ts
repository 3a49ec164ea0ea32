import { expect } from "@playwright/test";
import { expectAccessible, expectAccessibleWhenSmall } from "./axe";
import { test } from "./demo";

const views = [
  "/",
  "/brewers/lamp",
  "/brewers/lamp/over-time",
  "/brewers/lamp/learned",
  "/brewers/duo/how-it-works",
  "/brewers/lamp/history",
  "/brewers/wheel/ways",
  "/brewers/lamp/begun",
  "/brewers/wheel/ways/skippers-way",
  "/brewers/wheel/plan",
  "/brewers/new",
  "/brewers/new/sheet",
  "/brewers/wheel/edit",
  "/brewers/duo/edit",
  "/brewers/duo",
  "/brewers/galley-cup/plan?work=needles",
  "/brewers/lamp/plan",
  "/cleans/demo-half-done",
  "/cleans/demo-finished",
  "/cleans/demo-unclogged",
  "/round",
  "/round/owed",
  "/visits/new",
  "/visits/demo-tomorrow",
  "/visits/demo-cleaned",
  "/visits/demo-cleaned/cards",
  "/mix",
  "/waters",
  "/trouble?brewer=lamp&slow=yes",
  "/practice",
  "/practice?way=fault&seed=3",
  "/log",
  "/cupboard",
  "/more",
  "/household",
  "/nowhere",
];

for (const view of views) {
  test(`${view} is accessible in light and dark, large and small, without errors, and not wider than the screen`, async ({
    page,
  }) => {
    const errors: string[] = [];
    page.on("console", (message) => message.type() === "error" && errors.push(message.text()));
    page.on("pageerror", (error) => errors.push(error.message));
    await page.goto(view);
    await page.getByRole("heading", { level: 1 }).first().waitFor();
    await expectAccessible(page);
    if (test.info().project.name === "desktop") await expectAccessibleWhenSmall(page);
    expect(errors).toEqual([]);
  });
}

/** What a page may take on a slow line: its own answers come with it. */
const mostRequests = 10;

test("a view that was never here takes ten requests at most", async ({ browser, demo }) => {
  for (const path of [
    "/",
    "/brewers/lamp",
    "/brewers/lamp/plan",
    "/cleans/demo-half-done",
    "/round",
    "/log",
    "/cupboard",
    "/waters",
    "/mix",
    "/household",
    "/brewers/new",
  ]) {
    const context = await browser.newContext({ baseURL: demo.url, serviceWorkers: "block" });
    const fresh = await context.newPage();
    const asked: string[] = [];
    fresh.on("request", (request) => asked.push(new URL(request.url()).pathname));
    await fresh.goto(path);
    await expect(fresh.locator("main h1, main h2").first()).toBeVisible();
    await expect(fresh.locator("main [role=progressbar]:not([aria-valuenow])")).toHaveCount(0);
    expect(asked.length, `${path}: ${asked.join(" ")}`).toBeLessThanOrEqual(mostRequests);
    await context.close();
  }
});
