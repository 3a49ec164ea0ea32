import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { received, type Schemas, send } from "../api/client";
import { newId } from "../api/newId";
import { ActQueue, type Aside, type Waiting } from "../clean/ActQueue";

type What = Schemas["VisitWhat"];
const now = () => new Date().toISOString();
/** How often what waits is sent again by itself, ms. */
const again = 4_000;

/** The acts of a visit on their way to the household; without a line they wait on this device. */
export function useVisitActs(visit: string) {
  const cache = useQueryClient();
  const [state, setState] = useState<{ waiting: readonly Waiting<What>[]; error: Error | null; aside: Aside<What>[] }>({
    waiting: [],
    error: null,
    aside: [],
  });
  const queue = useMemo(
    () =>
      new ActQueue<Schemas["VisitView"], What>(
        `visit-${visit}`,
        localStorage,
        ({ id, device_at, act }) => send.visitAct(visit, { id, what: act, device_at, sent_at: now() }),
        {
          taken: (view) => {
            // What was done does not come back to the screen until the rest is asked for again.
            cache.setQueriesData({ queryKey: ["facts", "visit", visit] }, received(view));
            cache.invalidateQueries({ queryKey: ["facts"] });
          },
          refused: () => cache.invalidateQueries({ queryKey: ["facts", "visit"] }),
          changed: (waiting, error, aside) => setState({ waiting, error, aside }),
        },
      ),
    [visit, cache],
  );
  useEffect(() => {
    setState({ waiting: queue.waiting, error: null, aside: queue.aside });
    const retry = () => void queue.drain();
    retry();
    const tick = setInterval(retry, again);
    window.addEventListener("online", retry);
    return () => {
      clearInterval(tick);
      window.removeEventListener("online", retry);
    };
  }, [queue]);
  const act = useCallback((what: What) => queue.add(what, newId(), now()), [queue]);
  const letGo = useCallback((id: string) => queue.letGo(id), [queue]);
  return { act, letGo, ...state };
}
