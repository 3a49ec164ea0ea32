import { expect, type Page } from "@playwright/test";

/** Adds a drip brewer with a guessed water through the form, as a new household does. */
export async function addDrip(page: Page, base: string, nickname: string) {
  await page.goto(`${base}/brewers/new/sheet`);
  await page.getByRole("button", { name: "Drip brewer", exact: true }).click();
  await page.getByLabel("Nickname").fill(nickname);
  await page.getByLabel("Marks on the carafe").fill("10");
  await page.getByLabel("One carafe mark").fill("4 fl oz");
  await page.getByLabel("Reservoir", { exact: true }).fill("10 marks");
  if (await page.getByRole("button", { name: "Another water" }).isVisible()) {
    await page.getByRole("button", { name: "Another water" }).click();
  }
  await page.getByLabel("How do you know it").click();
  await page.getByRole("option", { name: "Test strip or kit" }).click();
  await page.getByLabel("Hardness").fill("12");
  await page.getByRole("button", { name: "Add water" }).click();
  await expect(page.getByLabel("Water it is filled with")).toContainText("205 mg/L");
  await page.getByLabel("Last descaled").click();
  await page.getByRole("option", { name: "Never" }).click();
  await page.getByLabel("How long in use").click();
  await page.getByRole("option", { name: "Since a day" }).click();
  await fillDay(page, "In use since", "20092026");
  await page.getByRole("button", { name: "Add this brewer" }).click();
  await expect(page.getByRole("heading", { level: 1, name: nickname })).toBeVisible();
}

/** The same brewer, put in over the API; the page then shows it. For journeys that are about something else. */
export async function seedDrip(page: Page, base: string, nickname: string) {
  const post = async (path: string, data: unknown) => {
    const answer = await page.request.post(`${base}/api/${path}`, { data, headers: { origin: base } });
    expect(answer.ok(), await answer.text()).toBe(true);
    return answer.json();
  };
  const water = await post("waters", {
    name: `Water of ${nickname}`,
    reading: { by: "strip", value: 12, unit: "gpg" },
  });
  const families: { family: string; draft: object }[] = await (await page.request.get(`${base}/api/families`)).json();
  const brewer = await post("brewers", {
    ...families.find((one) => one.family === "drip")?.draft,
    nickname,
    water_id: water.id,
    carafe_marks: 10,
    carafe_mark: "4 fl oz",
    reservoir: "10 marks",
    in_use_since: "2026-09-20",
    beforehand: null,
    last_descaled: null,
  });
  await page.goto(`${base}/brewers/${brewer.id}`);
  await expect(page.getByRole("heading", { level: 1, name: nickname })).toBeVisible();
}

/** Types a day, as "10112026", into the field of that name. */
export async function fillDay(page: Page, label: string, day: string) {
  await page.getByRole("group", { name: label }).getByRole("spinbutton", { name: "Day" }).click();
  await page.keyboard.type(day);
}

/** Opens what can be chosen otherwise. */
export async function changeIt(page: Page) {
  await page.getByRole("button", { name: "Change it" }).click();
}

/** Takes white vinegar instead of what is recommended. */
export async function takeVinegar(page: Page) {
  await changeIt(page);
  await page.getByLabel("Agent", { exact: true }).click();
  await page.getByRole("option", { name: "White vinegar" }).click();
  await expect(page.getByText(/of white vinegar( and|, neat)/)).toBeVisible();
}

/** Starts the clean of the brewer on screen. */
export async function startClean(page: Page) {
  await page.getByRole("link", { name: "Plan the clean" }).click();
  await takeVinegar(page);
  await page.getByRole("button", { name: "Start the clean" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Look at the first glass" })).toBeVisible();
}

/** Ends of waits; nobody waits in a test, so each is asked about. */
const ends = ["Soak is over", "It has cooled", "Programme has ended"];

/** Does the one next act and waits until the server has it. */
export async function press(page: Page, name: string | RegExp) {
  const taken = page.waitForResponse((r) => r.url().includes("/events") && r.ok());
  await page.getByRole("button", { name }).click();
  if (typeof name === "string" && ends.includes(name))
    await page.getByRole("button", { name: "Yes, go on now" }).click();
  await taken;
}

/** Does whatever is next, for journeys that do not know what that is, and waits until the page has gone on; nothing where it
 * is just changing. */
export async function pressNext(page: Page) {
  const act = page.getByRole("region", { name: "Acts" }).locator(".MuiButton-contained");
  const words = await act.innerText({ timeout: 2_000 }).catch(() => "");
  if (words === "") return;
  await act.click({ timeout: 5_000 }).catch(() => {});
  if (ends.includes(words.trim())) {
    const sure = page.getByRole("button", { name: "Yes, go on now" });
    await sure.click({ timeout: 5_000 }).catch(() => {});
  }
  // The next one may have the same words, at another brewer.
  await expect(act.filter({ hasText: words }))
    .toHaveCount(0, { timeout: 3_000 })
    .catch(() => {});
}

/** Does the acts of a drip clean up to the questions. */
export async function upToQuestions(page: Page) {
  const acts = [
    "Seen it",
    "Unplugged and empty",
    "Parts are washed",
    "It is mixed",
    "Half is through",
    "Start the timer",
  ];
  for (const act of acts) await press(page, new RegExp(act));
  await expect(page.getByRole("timer")).toBeVisible();
  // While it soaks the body is wiped; the other parts come later by themselves.
  for (const act of ["Body is clean", "Soak is over", "It has run through"]) await press(page, act);
  await look(page, "A lot");
  await expect(page.getByRole("heading", { level: 1, name: "Wash the other parts" })).toBeVisible();
  for (const act of ["Parts are washed", "Reservoir is washed"]) await press(page, act);
  await press(page, "Carafe poured away – 1 of 2");
  await press(page, "Carafe poured away – 2 of 2");
  await press(page, "Rinsed – go on");
}

/** Tells what the bath brought. */
export async function look(page: Page, showed: string) {
  await expect(page.getByRole("heading", { level: 1, name: /What did the bath bring/ })).toBeVisible();
  await page
    .getByRole("group", { name: /came out/ })
    .getByRole("button", { name: showed })
    .click();
  await press(page, "That is what came");
  // The answer is there before the page has gone on.
  await expect(page.getByRole("button", { name: "That is what came" })).toBeHidden();
}

/** Answers the questions; those named are answered badly. On a phone each stands alone. */
export async function answer(page: Page, bad: string[] = []) {
  const said = (name: string, good: string, poor: string) => (bad.includes(name) ? poor : good);
  const answers: [RegExp, string][] = [
    [/smell or taste/, said("smell", "No, nobody", "Yes, still")],
    [/as clear as/, said("clear", "As clear", "Not yet")],
    [/still ask for/, said("light", "No", "Yes, still")],
    [/How was it smelled/, "By a second person"],
  ];
  const isPhone = (page.viewportSize()?.width ?? 1280) < 600;
  for (let left = answers; left.length > 0; ) {
    const groups = left.map(([question]) => page.getByRole("group", { name: question }));
    const any = groups.reduce((one, other) => one.or(other));
    await any.first().waitFor();
    const shown = await Promise.all(groups.map((group) => group.isVisible()));
    const at = isPhone ? shown.indexOf(true) : 0;
    const [, words] = left[at] ?? [];
    await groups[at]?.getByRole("button", { name: words, exact: true }).click();
    left = left.filter((_, i) => i !== at);
  }
  await press(page, "That is how it is");
  await expect(page.getByRole("button", { name: "That is how it is" })).toBeHidden();
}
