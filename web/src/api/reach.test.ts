import { afterEach, expect, test, vi } from "vitest";
import { NoLine, reach } from "./client";

afterEach(() => vi.unstubAllGlobals());

test("a line that is not there is told in words, and what was called off stays called off", async () => {
  vi.stubGlobal("fetch", vi.fn().mockRejectedValue(new TypeError("Failed to fetch")));
  await expect(reach("/api/counter")).rejects.toThrow(/no line to the household/);
  await expect(reach("/api/counter")).rejects.toBeInstanceOf(NoLine);
  const off = new DOMException("called off", "AbortError");
  vi.stubGlobal("fetch", vi.fn().mockRejectedValue(off));
  await expect(reach("/api/counter")).rejects.toBe(off);
  const answer = new Response("{}");
  vi.stubGlobal("fetch", vi.fn().mockResolvedValue(answer));
  expect(await reach("/api/counter")).toBe(answer);
});
