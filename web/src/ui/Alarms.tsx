import { Alert, Button, Stack } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useRef, useState } from "react";
import { Link, useLocation } from "react-router";
import { queries } from "../api/queries";
import { callBack } from "../clean/callBack";
import { dueNow, type Timed } from "./dueNow";
import { setTitle } from "./title";

/** An alarm that nobody has touched calls again after so long, ms. */
const every = 20_000;
const touches = ["pointerdown", "keydown"] as const;

const Register = createContext<(clean: string, timed: Timed | null) => void>(() => {});

/**
 * Rings for every running clean on every view: as sound, shake, notification, title and a line with the way there. Timers
 * come from the Counter, and from an open clean itself, which knows them without a line too.
 */
export function Alarms({ children }: { children: ReactNode }) {
  const counter = useQuery(queries.counter());
  const { pathname } = useLocation();
  const [own, setOwn] = useState<Record<string, Timed | null>>({});
  const [now, setNow] = useState(Date.now);
  const rung = useRef(new Set<string>());
  const register = useCallback((clean: string, timed: Timed | null) => {
    setOwn((before) => (same(before[clean], timed) ? before : { ...before, [clean]: timed }));
  }, []);
  useEffect(() => {
    const tick = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(tick);
  }, []);
  const told = counter.data;
  const timers = useMemo(() => {
    const ahead = told ? Date.parse(told.now) - counter.dataUpdatedAt : 0;
    const all: Record<string, Timed | null> = {};
    for (const inside of told?.inside ?? []) {
      if (inside.timer && !inside.paused)
        all[inside.clean_id] = {
          name: inside.nickname,
          title: inside.title ?? "",
          ends: Date.parse(inside.timer.ends_at) - ahead,
        };
    }
    // What an open clean says of itself is newer.
    return { ...all, ...own };
  }, [told, own, counter.dataUpdatedAt]);
  const { over, rings } = dueNow(timers, now, rung.current);
  const calling = over.map(([, timed]) => timed.name).join(", ");
  const [ringing, setRinging] = useState(false);
  useEffect(() => {
    if (rings) setRinging(true);
  }, [rings]);
  useEffect(() => {
    if (!ringing) return;
    let calls = 0;
    callBack(calls);
    const again = setInterval(() => callBack(++calls), every);
    // Whoever touches anything has heard it.
    const heard = () => setRinging(false);
    for (const touch of touches) window.addEventListener(touch, heard, { capture: true });
    return () => {
      clearInterval(again);
      for (const touch of touches) window.removeEventListener(touch, heard, { capture: true });
    };
  }, [ringing]);
  useEffect(() => setTitle("call", calling && `Come back: ${calling}`), [calling]);
  const elsewhere = over.filter(([clean]) => pathname !== `/cleans/${clean}`);
  return (
    <Register.Provider value={register}>
      {elsewhere.length > 0 && (
        <Stack spacing={1} sx={{ mb: 2 }} className="screen-only">
          {elsewhere.map(([clean, timed]) => (
            <Alert
              key={clean}
              severity="warning"
              variant="outlined"
              action={
                <Button component={Link} to={`/cleans/${clean}`} color="inherit">
                  Go there
                </Button>
              }
            >
              {timed.name}: {timed.title ? `${timed.title.toLowerCase()} is over` : "its timer is over"}
            </Alert>
          ))}
        </Stack>
      )}
      {children}
    </Register.Provider>
  );
}

/** Tells of the timer of a clean that is open, as long as it is. */
export function useAlarm(clean: string, timed: Timed | null) {
  const register = useContext(Register);
  const { name, title, ends } = timed ?? {};
  useEffect(() => {
    register(clean, name != null && ends != null ? { name, title: title ?? "", ends } : null);
  }, [register, clean, name, title, ends]);
}

const same = (a: Timed | null | undefined, b: Timed | null) =>
  a === b || (a != null && b != null && a.name === b.name && a.title === b.title && a.ends === b.ends);
