import { expect, test } from "vitest";
import { takeTold } from "./told";

const told = () => ({ changes: 3, answers: { "/api/counter": { now: [] }, "/api/log?most=60": { lines: [] } } });

test("what came with the page answers once", () => {
  const here = told();
  expect(takeTold("/api/counter", here, 10)).toEqual({ now: [] });
  expect(takeTold("/api/counter", here, 11)).toBeUndefined();
  expect(takeTold("/api/log?most=60", here, 12)).toEqual({ lines: [] });
});

test("another address, a late question and a page without answers are asked of the household", () => {
  expect(takeTold("/api/log", told(), 10)).toBeUndefined();
  expect(takeTold("/api/log?most=5", told(), 10)).toBeUndefined();
  expect(takeTold("/api/toString", told(), 10)).toBeUndefined();
  expect(takeTold("/api/counter", told(), 15_000)).toBeDefined();
  expect(takeTold("/api/counter", told(), 15_001)).toBeUndefined();
  expect(takeTold("/api/counter", undefined, 10)).toBeUndefined();
});
