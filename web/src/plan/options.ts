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
  job: null,
  way: null,
};

/** What is asked of every alternative: the wishes, without what belongs to the bath that is chosen now. */
export const wishes = (options: Options): Options => ({
  ...undecided,
  taste: options.taste,
  minutes: options.minutes,
  fill: options.fill,
  circuit_id: options.circuit_id,
  by_hand: options.by_hand,
  sure: options.sure,
  dirt: options.dirt,
});

/** The change that takes another bath. */
export const taken = (bath: Schemas["Alternative"]): Partial<Options> => ({
  agent_id: bath.agent_id,
  recipe: bath.recipe,
  agent_amount: null,
  percent: null,
  measure: null,
  bath: null,
  soak_minutes: null,
  baths: null,
});

/** Nothing of a bath chosen. */
export const noBath: Partial<Options> = {
  agent_id: null,
  percent: null,
  recipe: null,
  agent_amount: null,
  measure: null,
  bath: null,
  fill: null,
  soak_minutes: null,
  baths: null,
  by_hand: false,
  sure: false,
  dirt: false,
};

/** The choices that come nearest to a plan, for whoever changes one of them. */
export const left = ({ chosen }: Schemas["Plan"]): Partial<Options> => ({
  agent_id: chosen.agent_id,
  recipe: chosen.recipe,
  soak_minutes: chosen.soak_minutes,
  baths: chosen.baths ?? null,
  taste: chosen.taste,
});
