import { expect, type Page } from "@playwright/test";
import { expectAccessible } from "./axe";
import { test } from "./demo";
import { Household } from "./server";
import { answer, look, pressNext, seedDrip } from "./steps";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

const next = (page: Page) => page.getByRole("region", { name: "Next" });

test("a visit of two brewers and a room: planned, run to its cards, closed", { tag: "@core" }, async ({ page }) => {
  test.setTimeout(180_000);
  await seedDrip(page, home.url, "Shelf drip");
  await seedDrip(page, home.url, "Back shelf drip");
  await page.goto(`${home.url}/round`);
  await expect(page.getByText("None is planned")).toBeVisible();
  // What else is cleaned there, and how one gets in.
  await page
    .getByRole("region", { name: "The weeks ahead" })
    .getByRole("button", { name: "Home", exact: true })
    .click();
  await page.getByRole("textbox", { name: "How one gets in" }).fill("Key under the third pot");
  await page.getByRole("button", { name: "Add a room" }).click();
  await page.getByRole("textbox", { name: "Room 1", exact: true }).fill("Bathroom");
  await page.getByRole("textbox", { name: "Minutes for room 1" }).fill("0");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("0 minutes: give 1 to 600")).toBeVisible();
  await page.getByRole("textbox", { name: "Minutes for room 1" }).fill("12");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("dialog")).toBeHidden();

  await page.getByRole("link", { name: "Plan a visit" }).click();
  const todo = page.getByRole("region", { name: "What to do" });
  await expect(todo.getByRole("checkbox", { name: /Bathroom, 12 min/ })).toBeChecked();
  for (const name of ["Shelf drip: descale", "Back shelf drip: descale"]) {
    const tick = todo.getByRole("checkbox", { name: new RegExp(`^${name}`) });
    if (!(await tick.isChecked())) await tick.check();
  }
  for (const other of await todo.getByRole("checkbox", { checked: true }).all()) {
    const name = await other.evaluate((box) => box.closest("label")?.textContent ?? "");
    if (!/descale|Bathroom/.test(name)) await other.uncheck();
  }
  const takes = page.getByRole("region", { name: "What it takes" });
  await expect(takes.getByText(/less than one after the other/)).toBeVisible();
  await expect(todo.getByText(/without it|fits in/).first()).toBeVisible();
  await takes.getByRole("button", { name: /^Calm/ }).click();
  await expect(page.getByRole("region", { name: "What to carry" })).toContainText("Key under the third pot");
  await expectAccessible(page);
  await page.getByRole("button", { name: "Start now" }).click();

  // The whole of it is followed by the one next act, whichever brewer it is at.
  await page.setViewportSize({ width: 390, height: 844 });
  await expect(next(page)).toBeVisible();
  await expectAccessible(page);
  for (let n = 0; n < 120; n++) {
    // It is gone once nothing is left.
    const what = await next(page)
      .getByRole("heading")
      .innerText({ timeout: 2_000 })
      .catch(() => "");
    if (what === "") break;
    await oneAct(page);
  }
  await expect(page.getByRole("heading", { name: "The visit is done" })).toBeVisible();
  const all = page.getByRole("region", { name: "In this visit" });
  await expect(all.getByText("done", { exact: true })).toHaveCount(3);

  await page.getByRole("button", { name: "Close the visit" }).click();
  await page.getByRole("button", { name: "Add a line" }).click();
  const amounts = page.getByRole("textbox", { name: /^Amount of line/ });
  await page.getByRole("textbox", { name: "Line 1", exact: true }).fill("Two brewers");
  await amounts.first().fill("40");
  await page.getByRole("button", { name: "Close the visit" }).click();
  await expect(page.getByRole("region", { name: "Price" })).toContainText("40.00");
  const picture = await page.screenshot();
  for (const [when, take] of [
    ["before", "Photo of how it was"],
    ["after", "Photo of how it is now"],
  ] as const) {
    const photos = page.getByRole("region", { name: `Photos ${when}` });
    await photos.getByLabel(take).setInputFiles({ name: "p.png", mimeType: "image/png", buffer: picture });
    await expect(photos.getByRole("button", { name: `Photos ${when}, 1: look closer` })).toBeVisible();
  }
  await page.getByRole("link", { name: "Cards to leave" }).click();
  await expect(page.getByRole("article", { name: /^Card: / })).toHaveCount(2);
  await expect(page.getByRole("article").first()).toContainText(/Next /);
  await expectAccessible(page);
  // One stylesheet for both papers, a page a card.
  for (const [paper, width] of [
    ["A6", 105],
    ["A5", 148],
  ] as const) {
    await page.getByRole("button", { name: paper }).click();
    const pdf = (await page.pdf({ preferCSSPageSize: true })).toString("latin1");
    expect(pdf.match(/\/Type\s*\/Page\b/g)?.length).toBe(2);
    const box = pdf.match(/\/MediaBox\s*\[0 0 ([\d.]+)/)?.[1];
    expect(Math.abs(Number(box) - (width / 25.4) * 72)).toBeLessThan(2);
  }
});

/** Does what the visit asks for next, the simplest way; nothing where the screen is just changing. */
async function oneAct(page: Page) {
  const go = page.getByRole("button", { name: "Go there" });
  // The order is made anew after every act, and may come back to where one is.
  if (await go.isVisible()) await go.click({ timeout: 3_000 }).catch(() => {});
  const room = page.getByRole("button", { name: "Bathroom is done" });
  const start = page.getByRole("button", { name: "Start it" });
  const acts = page.getByRole("region", { name: "Acts" });
  // The last act may have come through since it was asked for.
  const done = page.getByRole("heading", { name: "The visit is done" });
  await expect(room.or(start).or(acts).or(done).first()).toBeVisible();
  if (await done.isVisible()) return;
  const now = await page.getByRole("heading", { level: 1 }).first().innerText();
  if (await room.isVisible()) {
    await room.click();
    await expect(room).toBeHidden();
  } else if (await start.isVisible()) {
    await start.click();
    await expect(page.getByRole("heading", { level: 1, name: "Look at the first glass" })).toBeVisible();
  } else if (/What did the bath bring/.test(now)) await look(page, "Nothing");
  else if (/Is it done/.test(now)) await answer(page);
  else await pressNext(page);
}

test("guests come from the calendar of a let; a calendar is fed and cut off", async ({ page, request }) => {
  await page.goto("/round");
  await page.getByRole("button", { name: "Lamp keeper's cottage" }).click();
  await page
    .locator("input[type=file]")
    .setInputFiles(new URL("../../crates/murlo/demo/cottage-guests.ics", import.meta.url).pathname);
  await expect(page.getByText("3 stays known, the last until 27 Dec.")).toBeVisible();
  await page.locator("input[type=file]").setInputFiles({
    name: "nonsense.ics",
    mimeType: "text/calendar",
    buffer: Buffer.from("nonsense"),
  });
  await expect(page.getByText("it must begin with BEGIN:VCALENDAR")).toBeVisible();
  await page.getByRole("button", { name: "Not now" }).click();

  const feed = page.getByRole("region", { name: "In your calendar" });
  await feed.getByRole("button", { name: "Make an address" }).click();
  const address = await feed.getByRole("textbox", { name: "Address for your calendar" }).inputValue();
  const read = await request.get(address);
  expect(read.headers()["content-type"]).toContain("text/calendar");
  const fed = await read.text();
  expect(fed).toContain("SUMMARY:Lamp keeper's cottage\\, Pottery studio: 3 brewers\\, 3 rooms");
  // What a rhythm asks for and nobody confirmed is tentative.
  expect(fed).toContain("STATUS:TENTATIVE");
  await feed.getByRole("button", { name: "Cut it off" }).click();
  await expect(feed.getByRole("button", { name: "Make an address" })).toBeVisible();
  expect((await request.get(address)).status()).toBe(404);
});

test("a visit falls late and is put in order again; without a line the last order stands", async ({
  page,
  context,
}) => {
  await page.goto("/visits/new?home=boat");
  const todo = page.getByRole("region", { name: "What to do" });
  await expect(todo.getByRole("checkbox").first()).toBeVisible();
  await expect(page.getByRole("region", { name: "What it takes" })).toBeVisible();
  await page.getByRole("button", { name: "Start now" }).click();
  await expect(next(page)).toBeVisible();
  // Something is left for another time, and brought back.
  const all = page.getByRole("region", { name: "In this visit" });
  await all.getByRole("button", { name: "Leave Cabin, 15 min for another time" }).click();
  await expect(all.getByText("left for another time")).toBeVisible();
  await all.getByRole("button", { name: "Undo the last of the visit" }).click();
  await expect(all.getByText("left for another time")).toBeHidden();
  const order = await page.getByRole("region", { name: "After that" }).innerText();
  await context.setOffline(true);
  await all.getByRole("button", { name: "Go to Cabin, 15 min" }).click();
  await page.getByRole("button", { name: "Cabin is done" }).click();
  await expect(page.getByText(/No line to the household: 1 waiting/)).toBeVisible();
  expect((await page.getByRole("region", { name: "After that" }).innerText()).length).toBeGreaterThan(order.length / 3);
  await context.setOffline(false);
  await expect(page.getByText(/No line to the household/)).toBeHidden({ timeout: 20_000 });
  await expect(all.getByText("done").first()).toBeVisible();
  // It is on the Counter too.
  await page.goto("/");
  await page.getByRole("link", { name: "Carry on with the visit" }).click();
  await page.getByRole("button", { name: "Close the visit early" }).click();
  await page.getByRole("checkbox", { name: "It is a gift" }).check();
  await page.getByRole("button", { name: "Close the visit", exact: true }).click();
  await expect(page.getByRole("heading", { name: "A gift" })).toBeVisible();
});
