import { expect, test } from "vitest";
import { dueNow } from "./dueNow";

const timers = (ends: number) => ({ c: { name: "Kiln drip", title: "Soak", ends }, d: null });

test("an end that is lived through rings once, and stays over", () => {
  const seen = new Set<string>();
  expect(dueNow(timers(1000), 999, seen)).toEqual({ over: [], rings: 0 });
  const rung = dueNow(timers(1000), 1000, seen);
  expect(rung.rings).toBe(1000);
  expect(rung.over.map(([clean]) => clean)).toEqual(["c"]);
  expect(dueNow(timers(1000), 2000, seen)).toMatchObject({ rings: 0, over: [["c", { name: "Kiln drip" }]] });
});

test("one that was over when the page opened does not ring; another timer of the same clean does", () => {
  const seen = new Set<string>();
  expect(dueNow(timers(1000), 5000, seen).rings).toBe(0);
  dueNow(timers(9000), 5000, seen);
  expect(dueNow(timers(9000), 9001, seen).rings).toBe(9001);
});
