import type { Schemas } from "../api/client";

/** What an act was, as its button said it. */
export function wordsOf(act: Schemas["Act"], plan: Pick<Schemas["Plan"], "steps">): string {
  if ("step" in act) {
    const step = plan.steps.find((s) => s.id === act.step);
    if (step) return act.kind === "done" || act.kind === "counted" ? step.act : step.title;
  }
  if (act.kind === "planned") {
    if (act.wish.kind === "poured") return "what was poured";
    return act.wish.kind === "needles" ? "the needles once more" : "what was planned besides";
  }
  return act.kind.replaceAll("_", " ");
}
