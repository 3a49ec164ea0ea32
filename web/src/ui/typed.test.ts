import { expect, test } from "vitest";
import { typed, typedOrNone, typedPercent } from "./typed";

test("numbers are read with a point or a comma", () => {
  expect(typed("2.5")).toBe(2.5);
  expect(typed(" 2,5 ")).toBe(2.5);
  expect(typed("0")).toBe(0);
});

test("what is no number is sent as it stands, so that it is refused and never lost", () => {
  for (const text of ["lots", "1 2", "2 cups", "1,2,3", "1,234", "5%"]) {
    expect(typed(text)).toBe(text);
    expect(JSON.stringify({ cups: typedOrNone(text) })).toContain(text);
  }
  expect(typed("")).toBe("");
});

test("an empty field is nothing where it may be empty", () => {
  expect(typedOrNone("")).toBeNull();
  expect(typedOrNone("  ")).toBeNull();
  expect(typedOrNone("7")).toBe(7);
});

test("a strength is read with its sign or without, and nothing else with one", () => {
  expect(typedPercent("5%")).toBe(5);
  expect(typedPercent(" 2,5 % ")).toBe(2.5);
  expect(typedPercent("12")).toBe(12);
  expect(typedPercent("")).toBeNull();
  expect(typedPercent("%5")).toBe("%5");
});
