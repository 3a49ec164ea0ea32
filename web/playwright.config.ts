import { defineConfig } from "@playwright/test";
import { browserOptions } from "./browser.mjs";

const use = { launchOptions: browserOptions, serviceWorkers: "block" as const };

export default defineConfig({
  testDir: "e2e",
  forbidOnly: process.env.CI !== undefined,
  // A browser on a busy machine may miss a moment once; a wrong page fails twice.
  retries: process.env.CI === undefined ? 0 : 1,
  // Two cores; a worker more only waits.
  workers: 2,
  // Room for a busy machine; what hangs still fails.
  timeout: 180_000,
  expect: { timeout: 30_000 },
  reporter: "line",
  use: {
    actionTimeout: 30_000,
    trace: "on-first-retry",
  },
  projects: [
    { name: "desktop", use: { ...use, viewport: { width: 1280, height: 800 } }, testIgnore: /phone/ },
    { name: "phone", use: { ...use, viewport: { width: 390, height: 844 }, hasTouch: true }, testMatch: /phone|views/ },
  ],
});
