import { expect, type Page } from "@playwright/test";
import { test } from "./demo";
import { press } from "./steps";

/** A photo of two glasses before white: clear on the left, brown on the right. */
const photo = (page: Page) =>
  page.evaluate(() => {
    const canvas = document.createElement("canvas");
    canvas.width = 300;
    canvas.height = 200;
    const ink = canvas.getContext("2d");
    if (!ink) return "";
    for (const [colour, x, width] of [
      ["#ffffff", 0, 300],
      ["#e6e8e4", 30, 90],
      ["#a87440", 180, 90],
    ] as const) {
      ink.fillStyle = colour;
      ink.fillRect(x, colour === "#ffffff" ? 0 : 50, width, 200);
    }
    return canvas.toDataURL("image/png").split(",")[1] ?? "";
  });

test("two taps on a photo make the glass a measurement, and it stays in the row", async ({ page }) => {
  await page.goto("/cleans/demo-half-done");
  await page.getByRole("button", { name: /Look at one: the bath, before the soak/ }).click();
  await page.getByLabel("Photo of both glasses").setInputFiles({
    name: "glasses.png",
    mimeType: "image/png",
    buffer: Buffer.from(await photo(page), "base64"),
  });
  const picture = page.getByAltText("Both glasses: tap their colours");
  await expect(page.getByText("Tap the glass of tap water.")).toBeVisible();
  const tap = async (x: number, y: number) => {
    const box = await picture.boundingBox();
    await picture.click({ position: { x: (box?.width ?? 0) * x, y: (box?.height ?? 0) * y } });
  };
  await tap(0.25, 0.6);
  await tap(0.75, 0.6);
  await tap(0.5, 0.1);
  await expect(page.getByText("Both glasses and the white are taken.")).toBeVisible();
  await page.getByRole("radio", { name: "brown", exact: true }).click();
  await press(page, "Put it in the row");
  const glass = page.getByRole("list", { name: "Glasses" }).getByRole("listitem").filter({ hasText: "With the bath" });
  await expect(glass).toContainText(/brown, measured different from tap water \(ΔE \d+\.\d\)/);
  await page.reload();
  await expect(glass.getByAltText("Photo: With the bath")).toBeVisible();
  await press(page, "Undo");
});

test("a page of the maker's guide is kept with its brewer, put away and brought back", async ({ page }) => {
  await page.goto("/brewers/harbour-pod/how-it-works");
  const guide = page.getByRole("region", { name: "The maker's guide" });
  await guide.getByLabel("Photo of a page or label").setInputFiles({
    name: "page.png",
    mimeType: "image/png",
    buffer: Buffer.from(await photo(page), "base64"),
  });
  const closer = guide.getByRole("button", { name: "The maker's guide, 1: look closer" });
  await closer.click();
  const large = page.getByRole("dialog", { name: "The maker's guide" });
  await expect(large.getByAltText("The maker's guide")).toBeVisible();
  await large.getByRole("button", { name: "Put away" }).click();
  await expect(closer).toBeHidden();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(closer).toBeVisible();
  await guide.getByLabel("Photo of a page or label").setInputFiles({
    name: "letter.txt",
    mimeType: "text/plain",
    buffer: Buffer.from("dear diary"),
  });
  await expect(guide.getByRole("alert")).toContainText("JPEG or PNG");
  await closer.click();
  await large.getByRole("button", { name: "Close" }).click();
  await expect(large).toBeHidden();
});
