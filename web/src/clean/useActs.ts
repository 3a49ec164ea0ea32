import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { Refused, type Schemas, send } from "../api/client";
import { newId } from "../api/newId";
import { askToCallBack } from "./callBack";

const kept = (clean: string) => `murlo-acts-${clean}`;

/** Acts that were not acknowledged before the page was closed. */
function unsent(clean: string): Schemas["SentEvent"][] {
  try {
    return JSON.parse(localStorage.getItem(kept(clean)) ?? "[]") as Schemas["SentEvent"][];
  } catch {
    return [];
  }
}

/**
 * Sends acts one after the other, each with an id made here: an act whose answer was lost is sent again under the same id,
 * so it counts once. What is not acknowledged yet is kept on this device, so it also outlives a reload, and goes out when
 * the line is back. A refusal drops the act and shows why; the clean on screen is then asked for again.
 */
export function useActs(clean: string) {
  const queries = useQueryClient();
  const queue = useRef(unsent(clean));
  const busy = useRef(false);
  const [waiting, setWaiting] = useState(queue.current.length);
  const [error, setError] = useState<Error | null>(null);

  const changed = useCallback(() => {
    setWaiting(queue.current.length);
    if (queue.current.length > 0) localStorage.setItem(kept(clean), JSON.stringify(queue.current));
    else localStorage.removeItem(kept(clean));
  }, [clean]);

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
      changed();
    }
    busy.current = false;
    changed();
  }, [changed, clean, queries]);

  useEffect(() => {
    if (queue.current.length > 0) drain();
    window.addEventListener("online", drain);
    return () => window.removeEventListener("online", drain);
  }, [drain]);

  const act = useCallback(
    (what: Schemas["Act"]) => {
      if (what.kind === "started") askToCallBack();
      // Without a line the page stands still; pressed again, only a count can be meant twice.
      const last = queue.current.at(-1)?.act;
      if (what.kind !== "counted" && JSON.stringify(last) === JSON.stringify(what)) return;
      queue.current.push({ id: newId(), device_at: new Date().toISOString(), act: what });
      changed();
      drain();
    },
    [changed, drain],
  );
  return { act, retry: drain, waiting, error };
}
