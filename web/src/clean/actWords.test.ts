import { expect, test } from "vitest";
import type { Schemas } from "../api/client";
import { wordsOf } from "./actWords";

test("an act is called as its button was", () => {
  const steps = [{ id: "rinse", title: "Rinse", act: "Mug emptied" }] as Schemas["Step"][];
  expect(wordsOf({ kind: "counted", step: "rinse" }, { steps })).toBe("Mug emptied");
  expect(wordsOf({ kind: "wants_water", step: "rinse" }, { steps })).toBe("Rinse");
  expect(wordsOf({ kind: "done", step: "gone" }, { steps })).toBe("done");
  expect(wordsOf({ kind: "time_left", step: "gone", minutes: 4 }, { steps })).toBe("time left");
});
