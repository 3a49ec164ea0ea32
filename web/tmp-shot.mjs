import { chromium } from "@playwright/test";
import { browserOptions } from "./browser.mjs";
const base = "http://127.0.0.1:7801";
const browser = await chromium.launch(browserOptions);
const shots = process.argv.slice(2);
for (const s of shots) {
  const [name, path, size, full] = s.split("@");
  const [width, height] = size === "p" ? [390, 844] : [1280, 800];
  const page = await browser.newPage({ viewport: { width, height } });
  await page.goto(base + path);
  await page.getByRole("heading", { level: 1 }).first().waitFor();
  await page.waitForTimeout(1500);
  await page.screenshot({ path: `/tmp/s-${name}.png`, fullPage: full === "full" });
  await page.close();
}
await browser.close();
