import { expect, type Page, test } from "@playwright/test";
import { expectAccessible } from "./axe";
import { Household } from "./server";

// Each has a household of its own: one person's visits meet.
let home: Household;
test.beforeEach(async () => {
  home = new Household();
  await home.start();
});
test.afterEach(() => home.kill());

const long = (name: string) => `${name} ${"of the long lane ".repeat(4)}`.slice(0, 60).trimEnd();
const quay = long("Quay house");
const bath = long("Bath");

/** The day on which these households live. */
const weekday = "Wed";

const week = (page: Page) => page.getByRole("region", { name: "This week" });

/** A new home, its sheet open. */
async function addHome(page: Page, name: string) {
  await page.goto(`${home.url}/round`);
  await page.getByRole("button", { name: "Add a home" }).click();
  await page.getByRole("textbox", { name: "Its name" }).fill(name);
  await page.getByRole("button", { name: "Add it" }).click();
}

test("a home told through the page has its rhythm, its draft is confirmed, run in five touches, and owed", {
  tag: "@core",
}, async ({ page }) => {
  await page.goto(`${home.url}/round`);
  await expect(week(page)).toContainText("its visits plan themselves");
  await addHome(page, quay);
  await page.getByRole("button", { name: "Add a room" }).click();
  await page.getByRole("textbox", { name: "Room 1", exact: true }).fill(bath);
  await page.getByRole("button", { name: "On days of the week" }).click();
  // A rhythm that never falls is none.
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("on which days of the week? Give at least one").first()).toBeVisible();
  await page.getByRole("button", { name: weekday, exact: true }).click();
  await page.getByLabel("How you are paid there").click();
  await page.getByRole("option", { name: "One price, however long" }).click();
  await page.getByRole("textbox", { name: "The price of a visit" }).fill("40");
  await expectAccessible(page);
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("dialog")).toBeHidden();

  const block = week(page).getByRole("group", { name: new RegExp(`^${quay}`) });
  await expect(block).toContainText(bath);
  await expect(week(page)).toContainText("1 to confirm");
  await block.getByRole("button", { name: /^Confirm/ }).click();
  await expect(block.getByRole("link", { name: /^Open/ })).toBeVisible();
  await expect(week(page)).not.toContainText("to confirm");
  await expectAccessible(page);
  // Five touches from the week's page to a closed visit.
  await page.setViewportSize({ width: 390, height: 844 });
  await block.getByRole("link", { name: /^Open/ }).click();
  await page.getByRole("button", { name: "Start now" }).click();
  await page.getByRole("button", { name: `${bath} is done` }).click();
  await page.getByRole("button", { name: "Close the visit" }).click();
  await expect(page.getByRole("textbox", { name: "Line 1", exact: true })).toHaveValue("Fixed price");
  await page.getByRole("button", { name: "Close the visit" }).click();
  await expect(page.getByRole("region", { name: "Price" })).toContainText("40.00");

  await page.goto(`${home.url}/round`);
  await page.getByRole("link", { name: "Who owes what" }).click();
  const owes = page.getByRole("region", { name: quay });
  await expect(owes).toContainText("40.00 · not paid yet");
  await owes.getByRole("button", { name: "Send it" }).click();
  await expect(owes.getByRole("textbox", { name: "What is sent" })).toHaveValue(/Together 40\.00/);
  await owes.getByRole("textbox", { name: "Mail goes to" }).fill("nobody");
  await owes.getByRole("button", { name: "Put it in the outbox" }).click();
  await expect(owes.getByText(/is no address for mail/)).toBeVisible();
  await owes.getByRole("textbox", { name: "Mail goes to" }).fill("ola@harbour.example");
  await owes.getByRole("button", { name: "Put it in the outbox" }).click();
  await expect(owes.getByText("It waits to be mailed.")).toBeVisible();
  await expectAccessible(page);
  await owes.getByRole("link", { name: "See the outbox" }).click();
  const waits = page.getByRole("article").filter({ hasText: "ola@harbour.example" });
  await waits.getByRole("button", { name: "Read it" }).click();
  await expect(waits).toContainText("Together 40.00");
  await expectAccessible(page);
  await waits.getByRole("button", { name: "Take it out" }).click();
  await expect(waits).toBeHidden();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(waits).toBeVisible();
  await page.goBack();
  await owes.getByRole("button", { name: /^Paid/ }).click();
  await expect(owes).toContainText("40.00 · paid");
  await owes.getByRole("button", { name: /^Not paid after all/ }).click();
  await expect(owes).toContainText("not paid yet");
});

test("a draft is moved by the list and by keys, left out, and all of it is undone", async ({ page }) => {
  await addHome(page, "Studio");
  await page.getByRole("button", { name: "Add a room" }).click();
  await page.getByRole("textbox", { name: "Room 1", exact: true }).fill("Corner");
  await page.getByRole("button", { name: "Each time guests leave" }).click();
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("it is not let: tell when guests come and go first").first()).toBeVisible();
  await page.getByRole("button", { name: "On days of the week" }).click();
  for (const day of ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"])
    await page.getByRole("button", { name: day, exact: true }).click();
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("dialog")).toBeHidden();
  await page.getByRole("button", { name: "The week after" }).click();
  const the = page.getByRole("region", { name: "This week" });
  const drafts = the.getByRole("group", { name: /^Studio, .*not confirmed/ });
  await expect(drafts).toHaveCount(7);
  const first = drafts.first();
  const name = (await first.getAttribute("aria-label")) ?? "";
  await first.getByRole("button", { name: /^Move/ }).click();
  await page.getByRole("menuitem", { name: "Not this time" }).click();
  await expect(drafts).toHaveCount(6);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(drafts).toHaveCount(7);
  // By keys a day at a time: two that meet name each other.
  await drafts.first().getByRole("button", { name: /^Move/ }).press("ArrowRight");
  await expect(the.getByRole("group", { name, exact: true })).toHaveCount(0);
  await expect(the.getByText(/is not over before/).first()).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(the.getByRole("group", { name, exact: true })).toHaveCount(1);
  // Drawn to another day by hand.
  if (test.info().project.name === "desktop") {
    const cells = the.getByRole("row").nth(1).getByRole("cell");
    await drafts.first().dragTo(cells.nth(3));
    await expect(the.getByRole("group", { name, exact: true })).toHaveCount(0);
    await page.getByRole("button", { name: "Undo" }).click();
    await expect(the.getByRole("group", { name, exact: true })).toHaveCount(1);
  }
  await the.getByRole("button", { name: /^Confirm all/ }).click();
  await expect(drafts).toHaveCount(0);
  await expect(the.getByRole("link", { name: /^Open: Studio/ })).toHaveCount(7);
});

test("a visit is begun, run and closed without a line, from another view and after a reload", async ({ browser }) => {
  const context = await browser.newContext({ serviceWorkers: "allow" });
  const page = await context.newPage();
  await addHome(page, quay);
  await page.getByRole("button", { name: "Add a room" }).click();
  await page.getByRole("textbox", { name: "Room 1", exact: true }).fill(bath);
  await page.getByRole("button", { name: "On days of the week" }).click();
  await page.getByRole("button", { name: weekday, exact: true }).click();
  await page.getByLabel("How you are paid there").click();
  await page.getByRole("option", { name: "One price, however long" }).click();
  await page.getByRole("textbox", { name: "The price of a visit" }).fill("40");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("dialog")).toBeHidden();
  const block = week(page).getByRole("group", { name: new RegExp(`^${quay}`) });
  await block.getByRole("button", { name: /^Confirm/ }).click();
  await block.getByRole("link", { name: /^Open/ }).click();
  await expect(page.getByRole("button", { name: "Start now" })).toBeVisible();
  const visit = page.url();
  await page.evaluate(() => navigator.serviceWorker.ready);
  // What is shown without a line was shown with one.
  await page.reload();
  await expect(page.getByRole("button", { name: "Start now" })).toBeVisible();

  // Out of reach though there is a network.
  await home.kill();
  await page.reload();
  await expect(page.getByText(/No line to the household/)).toBeVisible();
  await home.start();
  await page.reload();
  await expect(page.getByText(/No line to the household/)).toBeHidden();

  await context.setOffline(true);
  await page.reload();
  await expect(page.getByText(/No line to the household/)).toBeVisible();
  // What the page asks for meanwhile fails for good, and the visit stands all the same.
  const failed = () => page.waitForEvent("requestfailed", (r) => r.url().includes("following="));
  const first = failed();
  await page.getByRole("button", { name: "Start now" }).click();
  await first;
  await failed();
  await expect(page.getByText(/could not be asked for/)).toBeHidden();
  await page.getByRole("button", { name: `${bath} is done` }).click();
  await page.getByRole("button", { name: "Close the visit" }).click();
  const alone = page.getByRole("region", { name: "Close without a line" });
  await expectAccessible(page);
  await alone.getByRole("button", { name: "Close the visit" }).click();
  await expect(page.getByText(/Closed on this device: 3 waiting/)).toBeVisible();
  await page.getByRole("link", { name: "Counter" }).first().click();
  await expect(page.getByText(/waiting to be sent: 3/)).toBeVisible();

  await context.setOffline(false);
  await expect(page.getByText(/waiting to be sent/)).toBeHidden({ timeout: 20_000 });
  await page.goto(visit);
  await expect(page.getByRole("region", { name: "Price" })).toContainText("40.00");
  await context.close();
});

test("an act that is refused on its way is said where one is, with the way there", async ({ page }) => {
  await page.goto(home.url);
  await page.evaluate(() => {
    const event = { id: "late", device_at: "2026-11-25T10:31:00.000Z", act: { kind: "room_done", room: "gone" } };
    localStorage.setItem(`murlo-act:visit-nowhere:${event.device_at}:late`, JSON.stringify(event));
  });
  await page.reload();
  await expect(page.getByText(/Not taken at a visit: no visit with id/)).toBeVisible();
  await expect(page.getByRole("link", { name: "Go there" })).toHaveAttribute("href", "/visits/nowhere");
  await expectAccessible(page);
  await page.getByRole("button", { name: "I have read it" }).click();
  await expect(page.getByText(/Not taken/)).toBeHidden();
  await page.reload();
  await expect(page.getByRole("link", { name: "Counter" }).first()).toBeVisible();
  await expect(page.getByText(/Not taken/)).toBeHidden();
});
