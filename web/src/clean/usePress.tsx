import { Button, Dialog, Stack, Typography } from "@mui/material";
import { type ReactNode, useCallback, useEffect, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { apart, isAsked, OneAct } from "./oneAct";

type Choice = Schemas["Choice"];
type Act = (what: Schemas["Act"]) => void;

/**
 * Presses that mean what they say: one act a press, and what can hardly be meant is asked once more.
 * `isHeld` is true for the moment in which a further press would be the same one.
 */
export function usePress(
  act: Act,
  ahead: number,
): {
  press: (choice: Choice | null | undefined) => void;
  once: Act;
  isHeld: boolean;
  question: ReactNode;
} {
  const [asked, setAsked] = useState<Choice>();
  const [isHeld, setHeld] = useState(false);
  const guard = useRef(new OneAct());
  useEffect(() => {
    if (!isHeld) return;
    const free = setTimeout(() => setHeld(false), apart);
    return () => clearTimeout(free);
  }, [isHeld]);
  useEffect(() => {
    // A key that is held on a button presses it again and again.
    const onKey = (event: KeyboardEvent) => {
      if (event.repeat && (event.key === "Enter" || event.key === " ")) event.preventDefault();
    };
    window.addEventListener("keydown", onKey, { capture: true });
    return () => window.removeEventListener("keydown", onKey, { capture: true });
  }, []);

  const press = useCallback(
    (choice: Choice | null | undefined) => {
      if (!choice || !guard.current.takes("bar", performance.now())) return;
      setHeld(true);
      if (isAsked(choice.ask, Date.now() + ahead)) setAsked(choice);
      else act(choice.act);
    },
    [act, ahead],
  );
  const once = useCallback(
    (what: Schemas["Act"]) => {
      if (guard.current.takes(JSON.stringify(what), performance.now())) act(what);
    },
    [act],
  );
  // The second tap of the one that opened the question is no answer to it.
  const answer = (then?: () => void) => {
    if (isHeld) return;
    setAsked(undefined);
    then?.();
  };
  const back = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (asked && !isHeld) back.current?.focus();
  }, [asked, isHeld]);
  const question = asked?.ask && (
    <Dialog open onClose={() => answer()} fullWidth maxWidth="sm" aria-labelledby="asked">
      <Stack spacing={2} sx={{ p: 3 }}>
        <Typography variant="h2" id="asked">
          {asked.label}?
        </Typography>
        <Typography sx={{ fontSize: "1.25rem" }}>{asked.ask.text}</Typography>
        <Button
          ref={back}
          disabled={isHeld}
          variant="contained"
          size="large"
          sx={{ minHeight: 64, fontSize: "1.25rem" }}
          onClick={() => answer()}
        >
          Back to the step
        </Button>
        <Button
          variant="outlined"
          disabled={isHeld}
          sx={{ minHeight: 56 }}
          onClick={() => answer(() => act(asked.act))}
        >
          {asked.ask.sure}
        </Button>
      </Stack>
    </Dialog>
  );
  return { press, once, isHeld, question };
}
