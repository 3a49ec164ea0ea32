import { expect } from "@playwright/test";
import { expectAccessible } from "./axe";
import { test } from "./demo";
import { press } from "./steps";

test("just the needles: timed, cleared hole by hole, flushed, timed again and logged", { tag: "@core" }, async ({
  page,
}) => {
  await page.goto("/brewers/lamp");
  await page.getByRole("link", { name: "Guide me: Needles" }).click();
  await page.getByRole("button", { name: "Start on the needles" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Time a cup as it is" })).toBeVisible();
  await page.getByLabel("Seconds").fill("ninety");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByRole("alert")).toContainText("is not a number");
  await page.getByLabel("Seconds").fill("90");
  await page.getByLabel("Streams").fill("1");
  await press(page, "Write it down");
  await expect(page.getByText("It flows worse than it should.")).toBeVisible();
  await press(page, "Go on");
  await expect(page.getByRole("heading", { level: 1, name: "Let the needles cool" })).toBeVisible();
  await press(page, "Start the timer: 8 min");
  await press(page, "It has cooled");
  await press(page, "Unplugged and empty");

  await press(page, "Lid needle, hole 3 of 3: not cleared");
  await expect(page.getByRole("button", { name: "Lid needle, hole 3 of 3: clear" })).toHaveAttribute(
    "aria-pressed",
    "true",
  );
  await expectAccessible(page);
  await page.setViewportSize({ width: 390, height: 844 });
  for (const hole of await page.getByRole("button", { name: /needle, hole/ }).all()) {
    const box = await hole.boundingBox();
    expect(Math.min(box?.width ?? 0, box?.height ?? 0)).toBeGreaterThanOrEqual(56);
  }
  await page.setViewportSize({ width: 1280, height: 800 });
  await press(page, "Wooden pick");
  await expect(page.getByText(/wood snaps off inside/)).toBeVisible();
  await press(page, "Paper clip");
  for (const place of ["Lid needle: hole 1", "Lid needle: hole 2", "Cup needle: hole 1", "Cup needle: hole 2"])
    await press(page, new RegExp(place));
  await press(page, "Cup needle: opening below it is clear");
  await press(page, "Clip comes out clean");
  await press(page, /Flushed – 1 of 2/);
  await press(page, /Flushed – 2 of 2/);
  await press(page, "Run through – go on");
  await page.getByLabel("Seconds").fill("31");
  await page.getByLabel("Streams").fill("3");
  await press(page, "Write it down");
  await expect(page.getByText("It flows as it should.")).toBeVisible();
  await press(page, "Go on");
  await press(page, "All in place");
  await press(page, "Finish and log it");
  await expect(
    page.getByText(/6 of 6 places cleared with a paper clip; before 90 s, 1 stream; after 31 s/),
  ).toBeVisible();
  const keep = page.getByRole("button", { name: "Keep it as its healthy figure" });
  await keep.click();
  await expect(keep).toBeHidden();
  await page.getByRole("link", { name: "See when it is due next" }).click();
  await page.getByRole("link", { name: "How it works" }).click();
  await expect(page.getByText("31 s for the largest cup, 3 streams")).toBeVisible();
});

test("a rehearsal runs with plain water and stays out of the log", async ({ page }) => {
  await page.goto("/brewers/capsule/how-it-works");
  await page.getByRole("link", { name: "Rehearse with water" }).click();
  await expect(page.getByText(/With plain water, to learn the buttons/)).toBeVisible();
  await page.getByRole("button", { name: "Start the rehearsal" }).click();
  await press(page, "Empty and ready");
  await expect(page.getByRole("heading", { level: 1, name: "Fill with plain water" })).toBeVisible();
  await press(page, "Stop here");
  await expect(page.getByText("Plain water inside. Plugged in.")).toBeVisible();
  await expectAccessible(page);
  await press(page, "Give this clean up");
});
