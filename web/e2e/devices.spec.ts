import { execFileSync } from "node:child_process";
import { mkdirSync, mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type BrowserContext, chromium, expect, type Page, test } from "@playwright/test";
import { browserOptions } from "../browser.mjs";
import { expectAccessible } from "./axe";
import { Household } from "./server";
import { seedDrip } from "./steps";

const home = new Household();
test.beforeAll(() => home.startForPhones());
test.afterAll(() => home.kill());

/** A phone whose browser trusts the household's authority, as its settings would have it. */
async function trusting(): Promise<BrowserContext> {
  const folder = mkdtempSync(join(tmpdir(), "murlo-e2e-phone-"));
  const store = join(folder, ".pki/nssdb");
  mkdirSync(store, { recursive: true });
  execFileSync("certutil", ["-N", "-d", `sql:${store}`, "--empty-password"]);
  execFileSync("certutil", ["-A", "-n", "home", "-t", "C,,", "-i", home.authority, "-d", `sql:${store}`]);
  return chromium.launchPersistentContext(join(folder, "profile"), {
    ...browserOptions,
    env: { ...process.env, HOME: folder } as Record<string, string>,
    viewport: { width: 390, height: 844 },
    serviceWorkers: "allow",
  });
}

async function comeIn(page: Page, name: string, person: string) {
  await page.getByLabel("This device is called").fill(name);
  await page.getByLabel("Whose is it?").fill(person);
  await page.getByRole("button", { name: "Sign this device in" }).click();
  await expect(page).toHaveURL(`${home.url}/`);
}

/** The address of a way in that the Household page shows now. */
async function wayIn(page: Page, who: string) {
  await page.goto(`${home.url}/household`);
  await page.getByRole("button", { name: who }).click();
  const made = page.waitForResponse((r) => r.url().endsWith("/api/invitations"));
  await page.getByRole("button", { name: "Let a device in" }).click();
  const { code } = await (await made).json();
  await expect(page.getByText(code, { exact: true })).toBeVisible();
  return `${home.url}/pair#${code}`;
}

test("a phone is let in by the code, trusts the household, goes on without a line, and is forgotten", {
  tag: "@core",
}, async ({ browser }) => {
  const phone = await trusting();
  const page = phone.pages()[0] ?? (await phone.newPage());
  // What is scanned is in plain text, and only helps to trust.
  const plain = home.url.replace("https:", "http:");
  await page.goto(`${plain}/pair#${home.code}`);
  await expect(page.getByRole("heading", { level: 1, name: "Let this device trust Murlo" })).toBeVisible();
  await expectAccessible(page);
  const taken = await page.request.get(`${plain}/authority.crt`);
  expect(taken.headers()["content-type"]).toBe("application/x-x509-ca-cert");
  const pem = readFileSync(home.authority, "utf8").replace(/-----[A-Z ]+-----|\s/g, "");
  expect((await taken.body()).toString("base64")).toBe(pem);
  expect((await page.request.get(`${plain}/api/counter`)).status()).toBe(403);

  // No exception is made here: the browser goes on because it trusts.
  await page.getByRole("link", { name: "It is trusted: go on" }).click();
  await expect(page.getByLabel("Code")).toHaveValue(home.code);
  await expectAccessible(page);
  await comeIn(page, "Phone in the hall", "Ola");
  expect(await page.evaluate(() => window.isSecureContext)).toBe(true);

  const second = await browser.newContext({ ignoreHTTPSErrors: true });
  const tablet = await second.newPage();
  await tablet.goto(await wayIn(page, "Somebody of the home"));
  await comeIn(tablet, "Tablet", "Juna");
  await seedDrip(tablet, home.url, "Cellar drip");

  await page.evaluate(() => navigator.serviceWorker.ready);
  await page.goto(home.url);
  await expect(page.getByRole("link", { name: "Cellar drip" }).first()).toBeVisible();
  await page.reload();
  await expect(page.getByRole("link", { name: "Cellar drip" }).first()).toBeVisible();
  await phone.setOffline(true);
  await page.reload();
  await expect(page.getByRole("link", { name: "Cellar drip" }).first()).toBeVisible();
  await phone.setOffline(false);

  await tablet.goto(`${home.url}/household`);
  const devices = tablet.getByRole("list", { name: "Devices" });
  await expect(devices.getByRole("listitem")).toHaveCount(2);
  await expect(devices).toContainText("Phone in the hall · Ola");
  await expectAccessible(tablet);
  await tablet.getByRole("button", { name: "Forget Phone in the hall" }).click();
  await expect(page.getByText("This device is not signed in")).toBeVisible();
  await tablet.getByRole("button", { name: "Undo" }).click();
  await expect(devices.getByRole("listitem")).toHaveCount(2);
  await page.reload();
  await expect(page.getByRole("heading", { level: 1, name: "Counter" })).toBeVisible();

  // A helper is let in by the phone, and finds no settings and no way to let others in.
  const third = await browser.newContext({ ignoreHTTPSErrors: true });
  const helper = await third.newPage();
  await helper.goto(await wayIn(page, "A helper"));
  await comeIn(helper, "Bag phone", "Ennis");
  await helper.goto(`${home.url}/household`);
  await expect(helper.getByText("This is Bag phone, Ennis's.")).toBeVisible();
  await expect(helper.getByRole("heading", { name: "Settings" })).toHaveCount(0);
  await expect(helper.getByRole("button", { name: "Let a device in" })).toHaveCount(0);
  await helper.getByRole("button", { name: "Sign this device out" }).click();
  await expect(helper.getByText("This device is not signed in")).toBeVisible();

  // A client's link opens one home, without signing in.
  await tablet.goto(`${home.url}/household`);
  await tablet.getByRole("button", { name: "A client who looks" }).click();
  await tablet.getByRole("button", { name: "Make a link" }).click();
  await expect(tablet.getByText("choose the home")).toBeVisible();
  await tablet.getByLabel("Home").selectOption({ label: "Home" });
  await tablet.getByRole("group", { name: "Until" }).getByRole("spinbutton", { name: "Day" }).click();
  await tablet.keyboard.type("24122026");
  const made = tablet.waitForResponse((r) => r.url().endsWith("/api/invitations") && r.ok());
  await tablet.getByRole("button", { name: "Make a link" }).click();
  const { ways } = await (await made).json();
  await helper.goto(ways[0].address);
  await expect(helper.getByRole("heading", { level: 1, name: "Home" })).toBeVisible();
  await expect(helper.getByText("You can look here until 24 Dec")).toBeVisible();
  await expect(helper.getByText("No acid is known to be inside.")).toBeVisible();
  await expectAccessible(helper);
  for (const context of [phone, second, third]) await context.close();
});
