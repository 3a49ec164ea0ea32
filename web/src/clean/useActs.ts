import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { Refused, type Schemas, send } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { ActQueue, type Aside, type Waiting } from "./ActQueue";
import { askToCallBack } from "./callBack";

const now = () => new Date().toISOString();
/** How often what waits is sent again by itself, ms: the household may be back though the network never went. */
const again = 4_000;

/** The acts of a clean on their way to the household; see `ActQueue`. */
export function useActs(clean: string) {
  const cache = useQueryClient();
  const [state, setState] = useState<{ waiting: readonly Waiting[]; error: Error | null; aside: Aside[] }>({
    waiting: [],
    error: null,
    aside: [],
  });
  const queue = useMemo(
    () =>
      new ActQueue(clean, localStorage, (event) => send.act(clean, { ...event, sent_at: now() }), {
        taken: (view) => cache.setQueryData(queries.clean(clean).queryKey, view),
        refused: () => cache.invalidateQueries(queries.clean(clean)),
        changed: (waiting, error, aside) => {
          setState({ waiting, error, aside });
          // The acts wait on this device until it is signed in again.
          if (error instanceof Refused && error.status === 401) cache.invalidateQueries({ queryKey: ["session"] });
        },
      }),
    [clean, cache],
  );
  const retry = useCallback(() => void queue.drain(), [queue]);

  useEffect(() => {
    setState({ waiting: queue.waiting, error: null, aside: queue.aside });
    retry();
    const tick = setInterval(retry, again);
    window.addEventListener("online", retry);
    return () => {
      clearInterval(tick);
      window.removeEventListener("online", retry);
    };
  }, [queue, retry]);

  const act = useCallback(
    (what: Schemas["Act"]) => {
      if (what.kind === "started") askToCallBack();
      queue.add(what, newId(), now());
    },
    [queue],
  );
  const takeBack = useCallback(() => queue.takeBack(), [queue]);
  const letGo = useCallback((id: string) => queue.letGo(id), [queue]);
  return { act, retry, letGo, takeBack, ...state };
}
