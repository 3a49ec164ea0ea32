import type { Schemas } from "../api/client";
import { typedPercent } from "../ui/typed";

/** The choices as they stand in the address; each is a text, and any may be missing or nonsense. */
export type Shared = Partial<Record<"agent" | "percent" | "recipe" | "measure" | "mark" | "total", string>>;

/** What is asked of the server for an address; what cannot be read there is left out, so that the core decides. */
export function draftOf(given: Shared, units: Schemas["Units"]): Schemas["MixDraft"] {
  const us = units === "us";
  return {
    agent_id: given.agent ?? "vinegar",
    percent: typedPercent(given.percent ?? ""),
    recipe: recipeOf(given.recipe),
    measure: (given.measure ?? (us ? "cups" : "ml")) as Schemas["Tool"],
    carafe_mark: given.mark ?? (us ? "5 fl oz" : "125 mL"),
    total: given.total ?? (us ? "4 cups" : "1 L"),
  };
}

function recipeOf(text: string | undefined): Schemas["Recipe"] | null {
  try {
    return text ? (JSON.parse(text) as Schemas["Recipe"]) : null;
  } catch {
    return null;
  }
}
