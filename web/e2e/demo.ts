import { test as base } from "@playwright/test";
import { Household } from "./server";

/** Journeys through the made-up homes. Each worker has homes of its own, and new ones after a failure: what one journey left
 * half done is in nobody's way, and a second try begins where the first did. */
export const test = base.extend<object, { demo: Household }>({
  demo: [
    // biome-ignore lint/correctness/noEmptyPattern: the runner asks for a pattern
    async ({}, use) => {
      const demo = new Household();
      await demo.startDemo();
      await use(demo);
      await demo.kill();
    },
    { scope: "worker" },
  ],
  baseURL: ({ demo }, use) => use(demo.url),
});
