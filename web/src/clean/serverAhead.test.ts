import { expect, test } from "vitest";
import { serverAhead } from "./serverAhead";

test("the newest answer with a line tells the difference, and without one the last that was known holds", () => {
  const all = new Map<string, string>();
  const shelf = { getItem: (k: string) => all.get(k) ?? null, setItem: (k: string, v: string) => void all.set(k, v) };
  const at = Date.parse("2026-11-25T10:00:00Z");
  expect(serverAhead("2026-11-25T10:01:00Z", at, false, shelf)).toBe(60_000);
  expect(serverAhead("2026-11-25T10:02:00Z", at, true, shelf)).toBe(120_000);
  expect(serverAhead("2026-11-25T08:00:00Z", at, false, shelf)).toBe(120_000);
});
