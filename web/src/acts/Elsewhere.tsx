import { Alert, Button, Stack } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { type Schemas, send } from "../api/client";
import { ActQueue, type Aside, shelved, type Waiting } from "./ActQueue";
import { again, isOnScreen, now } from "./useActs";

const visit = "visit-";
const isVisit = (of: string) => of.startsWith(visit);
const idOf = (of: string) => (isVisit(of) ? of.slice(visit.length) : of);
const pathOf = (of: string) => `/${isVisit(of) ? "visits" : "cleans"}/${idOf(of)}`;

type Any = Schemas["Act"] | Schemas["VisitWhat"];

const sent = (of: string, { act, ...event }: Waiting<Any>): Promise<unknown> =>
  isVisit(of)
    ? send.visitAct(idOf(of), {
        id: event.id,
        device_at: event.device_at,
        sent_at: now(),
        what: act as Schemas["VisitWhat"],
      })
    : send.act(of, { ...event, act: act as Schemas["Act"], sent_at: now() });

type Shown = { waiting: number; aside: [of: string, Aside<Any>[]][] };
const nothing: Shown = { waiting: 0, aside: [] };

/**
 * Sends what waits for cleans and visits that are not on screen, and says what waits and what was refused: whoever acts without a
 * line and goes to another view has not acted in vain. What is on screen sends its own.
 */
export function Elsewhere() {
  const cache = useQueryClient();
  const queues = useRef(new Map<string, ActQueue<unknown, Any>>());
  const [shown, setShown] = useState(nothing);
  useEffect(() => {
    const all = queues.current;
    const queueOf = (of: string) => {
      const changed = () => void cache.invalidateQueries();
      const made = new ActQueue<unknown, Any>(of, localStorage, (event) => sent(of, event), {
        taken: changed,
        refused: changed,
        changed: look,
      });
      all.set(of, made);
      return made;
    };
    function look() {
      const on = shelved(localStorage);
      const elsewhere = (of: string) => !isOnScreen(of);
      const waiting = on.waiting.filter(elsewhere).map((of) => all.get(of)?.waiting.length ?? 0);
      const aside = on.aside.filter(elsewhere).map((of): [string, Aside<Any>[]] => [of, all.get(of)?.aside ?? []]);
      const next = { waiting: waiting.reduce((sum, n) => sum + n, 0), aside };
      setShown((before) => (JSON.stringify(before) === JSON.stringify(next) ? before : next));
    }
    const drain = () => {
      const on = shelved(localStorage);
      for (const of of new Set([...on.waiting, ...on.aside])) {
        if (isOnScreen(of)) {
          // It may add to the shelf: what is known here of it is old afterwards.
          all.delete(of);
          continue;
        }
        (all.get(of) ?? queueOf(of)).drain();
      }
      look();
    };
    drain();
    const tick = setInterval(drain, again);
    window.addEventListener("online", drain);
    return () => {
      clearInterval(tick);
      window.removeEventListener("online", drain);
    };
  }, [cache]);
  if (shown.waiting === 0 && shown.aside.length === 0) return null;
  return (
    <Stack spacing={1} sx={{ mb: 2 }} className="screen-only">
      {shown.waiting > 0 && (
        <Alert severity="info" variant="outlined">
          Done on this device and waiting to be sent: {shown.waiting}. They go by themselves once the line is back.
        </Alert>
      )}
      {shown.aside.map(([of, refused]) => (
        <Alert
          key={of}
          severity="warning"
          variant="outlined"
          action={
            <Stack>
              <Button component={Link} to={pathOf(of)} color="inherit">
                Go there
              </Button>
              <Button
                color="inherit"
                onClick={() => {
                  for (const { event } of refused) queues.current.get(of)?.letGo(event.id);
                }}
              >
                I have read it
              </Button>
            </Stack>
          }
        >
          Not taken at a {isVisit(of) ? "visit" : "clean"}: {refused.map(({ reason }) => reason).join("; ")}
        </Alert>
      ))}
    </Stack>
  );
}
