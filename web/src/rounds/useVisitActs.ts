import { useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { now, useActs, type Way } from "../acts/useActs";
import { received, type Schemas, send } from "../api/client";
import { keepShown } from "../api/keepShown";

/** The acts of a visit. */
export function useVisitActs(visit: string) {
  const cache = useQueryClient();
  const way = useMemo<Way<Schemas["VisitView"], Schemas["VisitWhat"]>>(
    () => ({
      send: ({ id, device_at, act }) => send.visitAct(visit, { id, what: act, device_at, sent_at: now() }),
      taken: (view) => {
        // What was done does not come back to the screen until the rest is asked for again.
        cache.setQueriesData({ queryKey: ["facts", "visit", visit] }, received(view));
        keepShown(`/api/visits/${visit}`, view);
        cache.invalidateQueries({ queryKey: ["facts"] });
      },
      refused: () => cache.invalidateQueries({ queryKey: ["facts", "visit"] }),
    }),
    [visit, cache],
  );
  return useActs(`visit-${visit}`, way);
}

export type VisitActs = ReturnType<typeof useVisitActs>;
