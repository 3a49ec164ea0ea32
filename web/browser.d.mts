import type { LaunchOptions } from "@playwright/test";
export const browserOptions: LaunchOptions;
