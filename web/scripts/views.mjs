// What views cost on a slow phone: processor slowed four times, 20 ms away, 10 Mbit/s; from an empty cache, and again with what the first left.
// Usage: node scripts/views.mjs http://127.0.0.1:PORT
import { chromium } from "@playwright/test";

const base = process.argv[2];
const paths = ["/", "/brewers/lamp", "/brewers/lamp/plan", "/cleans/demo-half-done", "/round", "/log", "/cupboard"];
const MOST_REQUESTS = 10;
const COLD_MS = 1500;
const WARM_MS = 600;
/** Each view is opened so often; the median counts. */
const TIMES = 3;

const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
  args: ["--no-sandbox", "--disable-gpu"],
});

async function slowed(page) {
  const session = await page.context().newCDPSession(page);
  await session.send("Network.enable");
  const line = { offline: false, latency: 20, downloadThroughput: 1.25e6, uploadThroughput: 6e5 };
  await session.send("Network.emulateNetworkConditions", line);
  await session.send("Emulation.setCPUThrottlingRate", { rate: 4 });
  return session;
}

/** How long until `path` shows what it is about, and with how many requests. */
async function opened(page, path) {
  let requests = 0;
  const count = () => requests++;
  page.on("request", count);
  const from = performance.now();
  await page.goto(base + path, { waitUntil: "commit" });
  await page.waitForFunction(
    () =>
      document.querySelector("main h1, main h2") &&
      document.querySelector("main").innerText.length > 120 &&
      !document.querySelector("main [role=progressbar]:not([aria-valuenow])"),
    null,
    { polling: 20 },
  );
  const took = performance.now() - from;
  await page.waitForLoadState("networkidle").catch(() => {});
  page.off("request", count);
  return { took, requests };
}

const median = (all) => all.toSorted((a, b) => a - b)[Math.floor(all.length / 2)];
const phone = { viewport: { width: 390, height: 844 } };

async function cold(path) {
  const context = await browser.newContext({ ...phone, serviceWorkers: "block" });
  const page = await context.newPage();
  await slowed(page);
  const result = await opened(page, path);
  await context.close();
  return result;
}

async function warm(path) {
  const context = await browser.newContext(phone);
  const page = await context.newPage();
  await page.goto(base + path);
  await page.evaluate(async () => void (await navigator.serviceWorker.ready));
  await page.goto("about:blank");
  await slowed(page);
  const result = await opened(page, path);
  await context.close();
  return result;
}

/** The same phone with nothing to do: the least that any page takes. */
async function bare() {
  const context = await browser.newContext({ ...phone, serviceWorkers: "block" });
  const page = await context.newPage();
  await slowed(page);
  const from = performance.now();
  await page.goto(`${base}/mark.svg`, { waitUntil: "load" });
  const took = performance.now() - from;
  await context.close();
  return took;
}

const repeated = async (once) => {
  const all = [];
  for (let n = 0; n < TIMES; n++) all.push(await once());
  return all;
};

const least = median(await repeated(bare));
function row(name, results, limit, mostRequests) {
  const took = median(results.map((one) => one.took));
  const requests = Math.max(...results.map((one) => one.requests));
  const held = took <= limit && requests <= mostRequests;
  const figures = `${Math.round(took).toString().padStart(9)} ms ${limit.toString().padStart(7)} ms ${(took / least).toFixed(1).padStart(11)} x a bare page`;
  console.log(`${name.padEnd(52)} ${figures}, ${requests} requests ${held ? "held" : "NOT HELD"}`);
}
for (const path of paths) {
  row(`${path}, from an empty cache`, await repeated(() => cold(path)), COLD_MS, MOST_REQUESTS);
  row(`${path}, once it was here`, await repeated(() => warm(path)), WARM_MS, Infinity);
}
await browser.close();
