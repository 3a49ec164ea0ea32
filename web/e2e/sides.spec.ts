import { expect, type Page, test } from "@playwright/test";
import { Household } from "./server";

const home = new Household();
test.beforeAll(() => home.start());
test.afterAll(() => home.kill());

const post = async (page: Page, path: string, data: unknown) => {
  const answer = await page.request.post(`${home.url}/api/${path}`, { data, headers: { origin: home.url } });
  expect(answer.ok(), await answer.text()).toBe(true);
  return answer.json();
};

/** Does the one next act of a clean until it stands at such a step. */
async function until(page: Page, clean: string, kind: string) {
  let { state } = await (await page.request.get(`${home.url}/api/cleans/${clean}`)).json();
  for (let n = 0; state.kind !== kind; n++) {
    const view = await post(page, `cleans/${clean}/events`, { id: `${clean}-${kind}-${n}`, act: state.next.act });
    state = view.state;
  }
  return state;
}

test("both sides at once: what runs on the plug is said on the other side, and is said no more when it is stopped", async ({
  page,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  const water = await post(page, "waters", { name: "Tap", reading: { by: "strip", value: 10, unit: "gpg" } });
  const families: { family: string; draft: { other_side: object } }[] = await (
    await page.request.get(`${home.url}/api/families`)
  ).json();
  const draft = families.find((one) => one.family === "combination")?.draft;
  const brewer = await post(page, "brewers", {
    ...draft,
    nickname: "Two sides",
    water_id: water.id,
    other_side: { ...draft?.other_side, reservoir: "1 L" },
  });
  const { circuits } = (await (await page.request.get(`${home.url}/api/counter`)).json()).brewers[0];
  const sides: string[] = circuits.map((side: { circuit_id: string }) => side.circuit_id);
  const start = (id: string, side: string | undefined) =>
    post(page, `brewers/${brewer.id}/cleans`, { id, options: { circuit_id: side } });

  await start("pod-side", sides[1]);
  await until(page, "pod-side", "ready");
  await page.goto(`${home.url}/cleans/pod-side`);
  await expect(page.getByRole("heading", { level: 1, name: "Make ready" })).toBeVisible();
  await expect(page.getByRole("alert")).toHaveCount(0);

  await start("carafe-side", sides[0]);
  const state = await until(page, "carafe-side", "programme");
  await post(page, "cleans/carafe-side/events", { id: "runs", act: state.next.act });
  const told = page.getByRole("alert");
  await expect(told).toContainText("The carafe side is running on the same plug");
  await expect(told).toContainText("leave the plug in");
  await expect(page.getByText("Switch off and pull the plug.")).toHaveCount(0);
  await page.getByRole("button", { name: "Unplugged and empty" }).click();
  await expect(page.getByRole("button", { name: "It is through: go on" })).toBeVisible();
  await page.keyboard.press("Escape");
  await post(page, "cleans/carafe-side/events", { id: "stops", act: { kind: "paused" } });
  await expect(told).toHaveCount(0);
});
