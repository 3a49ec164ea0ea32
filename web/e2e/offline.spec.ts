import { expect, test } from "@playwright/test";
import { Household } from "./server";
import { look, press, seedDrip, startClean } from "./steps";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

test("a whole rinse is counted without a line, taken back, and arrives in order", { tag: "@core" }, async ({
  browser,
}) => {
  const context = await browser.newContext({ serviceWorkers: "allow" });
  const page = await context.newPage();
  await seedDrip(page, home.url, "Cellar drip");
  await startClean(page);
  for (const act of ["Seen it", "Unplugged and empty", "Parts are washed", "It is mixed", "Half is through"])
    await press(page, new RegExp(act));
  for (const act of [/Start the timer/, "Soak is over", "It has run through"]) await press(page, act);
  await look(page, "A little");
  // The way from the rinse on, not one that was asked for a step earlier.
  const ahead = page.waitForResponse(
    async (r) => r.url().endsWith("/ahead") && r.ok() && (await r.json()).way[0]?.act.kind === "counted",
  );
  for (const act of ["Body is clean", "Parts are washed", "Reservoir is washed"]) await press(page, act);
  await ahead;
  await expect(page.getByRole("button", { name: "Carafe poured away – 1 of 2" })).toBeVisible();

  await context.setOffline(true);
  const bar = (name: string) => page.getByRole("button", { name });
  await bar("Carafe poured away – 1 of 2").click();
  await expect(bar("Carafe poured away – 2 of 2")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(bar("Carafe poured away – 1 of 2")).toBeVisible();
  await bar("Carafe poured away – 1 of 2").click();
  await expect(bar("Carafe poured away – 2 of 2")).toBeVisible();
  await bar("Carafe poured away – 2 of 2").click();
  await expect(bar("Rinsed – go on")).toBeVisible();
  await bar("Rinsed – go on").click();
  await expect(page.getByRole("heading", { level: 1, name: "Is it done?" })).toBeVisible();
  await expect(page.getByText(/3 waiting to be sent/)).toBeVisible();

  await context.setOffline(false);
  await expect(page.getByText(/waiting to be sent/)).toBeHidden();
  const clean = page.url().split("/").at(-1);
  const rinse = async () => {
    const { state } = await (await page.request.get(`${home.url}/api/cleans/${clean}`)).json();
    const { count, standing } = state.steps.find((step: { id: string }) => step.id === "rinse");
    return `${count} ${standing}`;
  };
  await expect.poll(rinse).toBe("2 done");
  await context.close();
});

test("a timer started without a line rings without one, on another view", async ({ page, context }) => {
  await page.clock.install();
  await seedDrip(page, home.url, "Loft drip");
  await startClean(page);
  for (const act of ["Seen it", "Unplugged and empty", "Parts are washed", "It is mixed"])
    await press(page, new RegExp(act));
  // The way from here on, not one that was asked for a step earlier.
  const ahead = page.waitForResponse(
    async (r) => r.url().endsWith("/ahead") && r.ok() && (await r.json()).way[0]?.act.kind === "started",
  );
  await press(page, /Half is through/);
  await ahead;
  const clean = page.url();
  await expect(page.getByRole("button", { name: /Start the timer/ })).toBeVisible();
  await context.setOffline(true);
  await page.getByRole("button", { name: /Start the timer/ }).click();
  await expect(page.getByRole("timer")).toBeVisible();
  await expect(page).toHaveTitle(/^\d+:\d\d – Murlo/);
  await page.getByRole("link", { name: "Counter" }).first().click();
  await page.clock.fastForward("02:00:00");
  await expect(page).toHaveTitle("Come back: Loft drip – Murlo");
  await page.getByRole("link", { name: "Go there" }).click();
  await expect(page).toHaveURL(clean);
  await expect(page.getByText(/Late by/)).toBeVisible();
});
