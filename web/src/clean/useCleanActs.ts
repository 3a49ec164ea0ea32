import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useRef } from "react";
import { rememberActHere } from "../acts/lastActHere";
import { now, useActs, type Way } from "../acts/useActs";
import { type Schemas, send } from "../api/client";
import { keepShown } from "../api/keepShown";
import { queries } from "../api/queries";
import { askToCallBack } from "./callBack";

/** The acts of a clean. */
export function useCleanActs(clean: string) {
  const cache = useQueryClient();
  // A view that was asked for earlier may come later: what was known once stays known.
  const known = useRef({ clean, events: 0 });
  if (known.current.clean !== clean) known.current = { clean, events: 0 };
  const way = useMemo<Way<Schemas["CleanView"], Schemas["Act"]>>(
    () => ({
      send: async (event) => {
        const view = await send.act(clean, { ...event, sent_at: now() });
        rememberActHere(clean, view.state.undo ?? event.id);
        return view;
      },
      taken: (view) => {
        known.current.events = Math.max(known.current.events, view.events);
        cache.setQueryData(queries.clean(clean).queryKey, view);
        keepShown(`/api/cleans/${clean}`, view);
      },
      refused: () => cache.invalidateQueries(queries.clean(clean)),
    }),
    [clean, cache],
  );
  const { act: add, ...acts } = useActs(clean, way);
  const act = useCallback(
    (what: Schemas["Act"]) => {
      if (what.kind === "started") askToCallBack();
      const seen = cache.getQueryData<Schemas["CleanView"]>(queries.clean(clean).queryKey)?.events ?? 0;
      add(what, Math.max(known.current.events, seen));
    },
    [add, cache, clean],
  );
  return { act, ...acts };
}
