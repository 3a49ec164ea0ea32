import { expect, test } from "vitest";
import { minutesLater, practiceTime } from "./clock";

test.each([
  [0, 60_000, 1, 1],
  [2, 30_000, 60, 32],
  [2, 0, 60, 2],
])("after %d min and %d ms at %d times it is %d", (from, ms, speed, then) => {
  expect(minutesLater(from, ms, speed)).toBe(then);
});

test.each([
  [0.9, "0 min"],
  [59.99, "59 min"],
  [65, "1 h 05 min"],
])("%d min read %s", (minutes, text) => {
  expect(practiceTime(minutes)).toBe(text);
});
