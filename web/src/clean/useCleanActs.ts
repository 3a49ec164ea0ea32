import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";
import { now, useActs, type Way } from "../acts/useActs";
import { type Schemas, send } from "../api/client";
import { queries } from "../api/queries";
import { askToCallBack } from "./callBack";

/** The acts of a clean. */
export function useCleanActs(clean: string) {
  const cache = useQueryClient();
  const way = useMemo<Way<Schemas["CleanView"], Schemas["Act"]>>(
    () => ({
      send: (event) => send.act(clean, { ...event, sent_at: now() }),
      taken: (view) => cache.setQueryData(queries.clean(clean).queryKey, view),
      refused: () => cache.invalidateQueries(queries.clean(clean)),
    }),
    [clean, cache],
  );
  const { act: add, ...acts } = useActs(clean, way);
  const act = useCallback(
    (what: Schemas["Act"]) => {
      if (what.kind === "started") askToCallBack();
      add(what, cache.getQueryData<Schemas["CleanView"]>(queries.clean(clean).queryKey)?.events);
    },
    [add, cache, clean],
  );
  return { act, ...acts };
}
