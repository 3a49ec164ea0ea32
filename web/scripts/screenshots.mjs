// Takes one current picture of each main view from a running demo: node scripts/screenshots.mjs http://… OUTPUT_FOLDER
import { chromium } from "@playwright/test";
import { browserOptions } from "../browser.mjs";

const [base, folder] = process.argv.slice(2);
const browser = await chromium.launch(browserOptions);
const wide = { width: 1280, height: 800 };
const phone = { width: 390, height: 844 };

async function shoot(name, viewport, path, press) {
  const context = await browser.newContext({ viewport });
  const page = await context.newPage();
  await page.goto(base + path, { waitUntil: "domcontentloaded" });
  await page.waitForLoadState("networkidle").catch(() => {});
  await page.getByRole("heading", { level: 1 }).first().waitFor();
  // What is still being reckoned is waited for.
  await page.getByRole("progressbar").first().waitFor({ state: "detached" });
  if (press) {
    await page.getByRole("button", { name: press }).click();
    await page.getByRole("button", { name: press }).waitFor({ state: "detached" });
    await page.evaluate(() => window.scrollTo(0, 0));
  }
  await page.evaluate(() => document.fonts.ready);
  await page.screenshot({ path: `${folder}/${name}.png`, scale: "css", animations: "disabled" });
  await context.close();
}

/** The four questions on a phone, answered up to the last. */
async function first() {
  const context = await browser.newContext({ viewport: phone });
  const page = await context.newPage();
  await page.goto(`${base}/brewers/new`);
  await page.getByRole("button", { name: /^Pod brewer with reservoir/ }).click();
  await page.getByRole("button", { name: /^A white crust/ }).click();
  await page.getByRole("button", { name: "Half a year ago" }).click();
  await page.getByRole("button", { name: "Next" }).click();
  await page.getByRole("button", { name: "White vinegar" }).click();
  await page.getByText("After it").waitFor();
  await page.locator("button:enabled", { hasText: "Start" }).waitFor();
  await page.evaluate(() => document.fonts.ready);
  await page.screenshot({ path: `${folder}/first-phone.png`, scale: "css", animations: "disabled" });
  await context.close();
}

let sent = 0;
async function post(path, body) {
  const answer = await fetch(base + path, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({ id: `picture-${sent++}`, ...body }),
  });
  if (!answer.ok) throw new Error(await answer.text());
  return answer.json();
}

/** Follows the one next act until `isThere`; at a look, little came out. */
async function follow(id, isThere) {
  let view = await (await fetch(`${base}/api/cleans/${id}`)).json();
  while (!isThere(view.state)) {
    const looked = { kind: "answered", step: view.state.step?.id, answers: { showed: "nothing" } };
    view = await post(`/api/cleans/${id}/events`, { act: view.state.next?.act ?? looked });
  }
}

// First what stands as the demo starts, then what is carried on from it.
await shoot("counter", wide, "/");
await shoot("counter-phone", phone, "/");
await shoot("brewer", wide, "/brewers/lamp");
await shoot("how-it-works", wide, "/brewers/lamp/how-it-works");
await first();
await shoot("plan", wide, "/brewers/wheel/plan");
await shoot("plan-phone", phone, "/brewers/duo/plan");
await shoot("waters", wide, "/waters");
await shoot("practice", wide, "/practice?family=drip&way=plan", "Open the lid");
await shoot("trouble", wide, "/trouble?brewer=lamp&slow=yes&white-chips=yes");
await shoot("cupboard", wide, "/cupboard");
await shoot("round", wide, "/round");
await shoot("visit", wide, "/visits/demo-tomorrow");
await shoot("owed", wide, "/round/owed");
await shoot("log", wide, "/log");

const needles = await post("/api/brewers/studio-pod/cleans", { options: { work: "needles" } });
await follow(needles.id, (state) => state.clear.length === 2);
await shoot("needles", wide, `/cleans/${needles.id}`);
await post(`/api/cleans/${needles.id}/events`, { act: { kind: "abandoned" } });

const clean = await post("/api/brewers/lamp/cleans", { options: { agent_id: "vinegar" } });
await follow(clean.id, (state) => state.step.id === "mix");
await shoot("bath", wide, `/cleans/${clean.id}`);
await follow(clean.id, (state) => state.steps.some((s) => s.id === "rinse" && s.count === 6));
await shoot("rinse-phone", phone, `/cleans/${clean.id}`);
await post("/api/visits/demo-tomorrow/acts", { what: { kind: "started" } });
await shoot("visit-phone", phone, "/visits/demo-tomorrow");
await browser.close();
