import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { Refused, type Schemas, send } from "../api/client";

/**
 * Sends acts one after the other, each with an id made here: an act whose answer was lost is sent again under the same id,
 * so it counts once. A refusal drops the act and shows why; the clean on screen is then asked for again.
 */
export function useActs(clean: string) {
  const queries = useQueryClient();
  const queue = useRef<Schemas["SentEvent"][]>([]);
  const busy = useRef(false);
  const [waiting, setWaiting] = useState(0);
  const [error, setError] = useState<Error | null>(null);

  const drain = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    for (let event = queue.current[0]; event; event = queue.current[0]) {
      try {
        const view = await send.act(clean, event);
        queries.setQueryData(["clean", clean], view);
        queue.current.shift();
        setError(null);
      } catch (cause) {
        setError(cause as Error);
        if (!(cause instanceof Refused)) break;
        queue.current.shift();
        queries.invalidateQueries({ queryKey: ["clean", clean] });
      }
      setWaiting(queue.current.length);
    }
    busy.current = false;
    setWaiting(queue.current.length);
  }, [clean, queries]);

  const act = useCallback(
    (what: Schemas["Act"]) => {
      queue.current.push({ id: crypto.randomUUID(), device_at: new Date().toISOString(), act: what });
      setWaiting(queue.current.length);
      drain();
    },
    [drain],
  );
  return { act, retry: drain, waiting, error };
}
