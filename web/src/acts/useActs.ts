import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { Refused, type Schemas } from "../api/client";
import { newId } from "../api/newId";
import { ActQueue, type Aside, type Waiting } from "./ActQueue";

/** How often what waits is sent again by itself, ms: the household may be back though the network never went. */
export const again = 4_000;

/** What sends its own acts, because it is on screen. */
const onScreen = new Map<string, number>();
export const isOnScreen = (of: string) => (onScreen.get(of) ?? 0) > 0;
const shown = (of: string, more: number) => onScreen.set(of, (onScreen.get(of) ?? 0) + more);

/** When the device says it is. */
export const now = () => new Date().toISOString();

/** Where the acts of something go, and what is done with what comes back; kept the same from draw to draw. */
export interface Way<View, Act> {
  send: (event: Waiting<Act>) => Promise<View>;
  taken: (view: View) => void;
  refused: () => void;
}

/** The acts of a clean or a visit on their way to the household; without a line they wait on this device. See `ActQueue`. */
export function useActs<View, Act extends { kind: string } = Schemas["Act"]>(of: string, way: Way<View, Act>) {
  const cache = useQueryClient();
  const [state, setState] = useState<{ waiting: readonly Waiting<Act>[]; error: Error | null; aside: Aside<Act>[] }>({
    waiting: [],
    error: null,
    aside: [],
  });
  const queue = useMemo(
    () =>
      new ActQueue<View, Act>(of, localStorage, way.send, {
        taken: way.taken,
        refused: way.refused,
        changed: (waiting, error, aside) => {
          setState({ waiting, error, aside });
          // The acts wait on this device until it is signed in again.
          if (error instanceof Refused && error.status === 401) cache.invalidateQueries({ queryKey: ["session"] });
        },
      }),
    [of, way, cache],
  );
  const retry = useCallback(() => void queue.drain(), [queue]);

  useEffect(() => {
    shown(of, 1);
    return () => void shown(of, -1);
  }, [of]);

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

  const act = useCallback((what: Act, known?: number) => queue.add(what, newId(), now(), known), [queue]);
  const takeBack = useCallback(() => queue.takeBack(), [queue]);
  const letGo = useCallback((id: string) => queue.letGo(id), [queue]);
  return { act, retry, letGo, takeBack, ...state };
}
