import { expect, test } from "vitest";
import { draftOf } from "./shared";

test("an empty address asks for the household's usual things", () => {
  expect(draftOf({}, "us")).toMatchObject({
    agent_id: "vinegar",
    measure: "cups",
    total: "4 cups",
    recipe: null,
    percent: null,
  });
  expect(draftOf({}, "metric")).toMatchObject({ measure: "ml", total: "1 L", carafe_mark: "125 mL" });
});

test("a shared address asks for exactly what was shared", () => {
  const recipe = { kind: "ratio", agent: 1, water: 2 };
  const given = {
    agent: "citric",
    percent: "6,5",
    recipe: JSON.stringify(recipe),
    measure: "fl_oz",
    total: "51 fl oz",
  };
  expect(draftOf(given, "metric")).toMatchObject({
    agent_id: "citric",
    percent: 6.5,
    recipe,
    measure: "fl_oz",
    total: "51 fl oz",
  });
});

test("nonsense in an address is left to the core to decide or refuse", () => {
  expect(draftOf({ recipe: "{", percent: "strong" }, "us")).toMatchObject({ recipe: null, percent: "strong" });
});
