import type { Schemas } from "../api/client";

export type Options = Schemas["PlanOptions"];

/** Nothing chosen: the core decides all of it. */
export const undecided: Options = {
  agent_id: null,
  percent: null,
  recipe: null,
  agent_amount: null,
  measure: null,
  bath: null,
  fill: null,
  taste: null,
  soak_minutes: null,
  baths: null,
  minutes: null,
  circuit_id: null,
  by_hand: false,
  sure: false,
  dirt: false,
  work: "descale",
};
