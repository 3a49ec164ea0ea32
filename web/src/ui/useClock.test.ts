import { expect, test } from "vitest";
import { timeText } from "./useClock";

test.each([
  ["2026-11-25T15:05:00Z", "UTC", true, "3:05 PM"],
  ["2026-11-25T15:05:00Z", "UTC", false, "15:05"],
  ["2026-11-25T15:05:00Z", "Europe/Lisbon", false, "15:05"],
  ["2026-11-25T15:05:00Z", "Asia/Tokyo", false, "00:05"],
  ["2026-07-25T23:30:00Z", "America/New_York", true, "7:30 PM"],
])("%s in %s reads %s as %s", (at, zone, hour12, text) => {
  expect(timeText(at, zone, hour12).replace("24:", "00:")).toBe(text);
});
