import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { type Schemas, send } from "../api/client";
import { newId } from "../api/newId";

export type Answers = Schemas["Answers"];

/** Answers so far, with the ids under which they are kept: sending them twice is harmless. */
export type Begun = { answers: Answers; brewer: string; water: string; clean: string };

/** Nothing is known yet. */
const nothing: Answers = {
  family: null,
  filled: null,
  comes: null,
  cups: null,
  beforehand: { last_clean: "unknown", in_use: "unknown" },
  last_descaled: null,
  signs: [],
  light_of: null,
  clean_button: null,
  have: null,
  vinegar_percent: null,
  nickname: null,
  home_id: null,
};

const place = "murlo-first-minute";

const begin = (): Begun => ({ answers: nothing, brewer: newId(), water: newId(), clean: newId() });

function remembered(): Begun {
  const text = sessionStorage.getItem(place);
  try {
    return text ? (JSON.parse(text) as Begun) : begin();
  } catch {
    return begin();
  }
}

/** What was answered survives leaving the page and a reload, until it is kept. */
export function useAnswers() {
  const [begun, setBegun] = useState(remembered);
  useEffect(() => sessionStorage.setItem(place, JSON.stringify(begun)), [begun]);
  return {
    begun,
    tell: (change: Partial<Answers>) => setBegun((b) => ({ ...b, answers: { ...b.answers, ...change } })),
  };
}

/** Keeps the answers, with a clean that starts at once or without, and goes where that leads. */
export function useKeep({ answers, brewer, water, clean }: Begun) {
  const cache = useQueryClient();
  const navigate = useNavigate();
  return useMutation({
    mutationFn: async ({ start, to }: Keeping) => {
      const kept = await send.first({
        answers,
        brewer_id: brewer,
        water_id: water,
        clean: start && { id: clean, options: start, trouble: null, begun: null },
      });
      // The empty Counter may be gone by now: all of this goes on without it.
      await navigate(to(kept));
      sessionStorage.removeItem(place);
      await cache.invalidateQueries({ queryKey: ["facts"] });
    },
  });
}

type Keeping = {
  /** What is started. */
  start: Schemas["PlanOptions"] | null;
  to: (kept: Schemas["FirstBrewer"]) => string;
};
