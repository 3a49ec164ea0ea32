import { expect, test } from "vitest";
import { clockText } from "./clockText";

test.each([
  [0, "0:00"],
  [9, "0:09"],
  [1499, "24:59"],
  [3909, "1:05:09"],
])("%d seconds read %s", (seconds, text) => {
  expect(clockText(seconds)).toBe(text);
});
