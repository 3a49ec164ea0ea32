// usage: node shot.tmp.mjs OUT WxH PATH [wait]
import { chromium } from "playwright-core";
import { browserOptions } from "./browser.mjs";
const [out, size, path, full] = process.argv.slice(2);
const [width, height] = size.split("x").map(Number);
const browser = await chromium.launch(browserOptions);
const page = await browser.newPage({ viewport: { width, height }, colorScheme: "light" });
await page.goto(`http://127.0.0.1:7801${path}`);
await page.waitForLoadState("networkidle").catch(() => {});
await page.waitForFunction(() => document.querySelector("h1"));
await page.screenshot({ path: out, fullPage: full === "full" });
await browser.close();
