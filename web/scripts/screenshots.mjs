// Takes one current picture of each main view from a running demo: node scripts/screenshots.mjs http://… OUTPUT_FOLDER
import { chromium } from "@playwright/test";
import { browserOptions } from "../browser.mjs";

const [base, folder] = process.argv.slice(2);
const browser = await chromium.launch(browserOptions);
const sizes = { "": { width: 1280, height: 800 }, "-phone": { width: 390, height: 844 } };
const views = [
  ["counter", "/", ["", "-phone"]],
  ["brewer", "/brewers/lamp", ["", "-phone"]],
  ["add-brewer", "/brewers/new", [""]],
  ["plan", "/brewers/lamp/plan", ["", "-phone"]],
  ["plan-drip", "/brewers/wheel/plan", [""]],
  ["clean", "/cleans/demo-half-done", ["", "-phone"]],
  ["waters", "/waters", [""]],
  ["trouble", "/trouble?brewer=lamp&slow=yes&white-chips=yes", [""]],
  ["mix", "/mix?measure=carafe_marks&total=14+marks", [""]],
  ["log", "/log", [""]],
  ["household", "/household", [""]],
];

async function shoot(page, name) {
  await page.waitForLoadState("networkidle").catch(() => {});
  await page.getByRole("heading", { level: 1 }).first().waitFor();
  await page.evaluate(() => document.fonts.ready);
  await page.screenshot({ path: `${folder}/${name}.png`, scale: "css" });
}

for (const [suffix, viewport] of Object.entries(sizes)) {
  const context = await browser.newContext({ viewport });
  const page = await context.newPage();
  for (const [name, path, suffixes] of views) {
    if (!suffixes.includes(suffix)) continue;
    await page.goto(base + path, { waitUntil: "domcontentloaded" });
    await shoot(page, name + suffix);
  }
  await context.close();
}

// The half-done clean, carried on to the soak, the rinse and the questions.
const context = await browser.newContext({ viewport: sizes["-phone"] });
const page = await context.newPage();
await page.goto(`${base}/cleans/demo-half-done`);
const next = page.locator("button.MuiButton-contained").last();
const press = async () => {
  const before = await next.textContent();
  await next.click();
  // The next act has another label; until it is there a further press would be one too many.
  await page.waitForFunction(
    (old) => [...document.querySelectorAll("button.MuiButton-contained")].at(-1)?.textContent !== old,
    before,
  );
};
const onwards = async (until) => {
  while (!(await page.getByRole("heading", { level: 1, name: until }).isVisible())) await press();
};
await onwards("Rinse");
for (let n = 0; n < 6; n++) await press();
await shoot(page, "rinse-phone");
await onwards("Is it done?");
await page.setViewportSize(sizes[""]);
await shoot(page, "verify");
await page.getByRole("button", { name: "Stop here" }).click();
await page.getByRole("heading", { level: 1, name: "Stopped for now" }).waitFor();
await shoot(page, "stopped");
await browser.close();
