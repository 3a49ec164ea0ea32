import { useEffect, useRef, useState } from "react";
import { type DefaultValues, type FieldValues, type Path, useForm } from "react-hook-form";
import { Refused, useChange } from "../api/client";

/** What was typed and not sent yet, and what stood there before. */
interface Kept<T> {
  before: T;
  typed: T;
}

const place = (key: string) => `murlo:sheet:${key}`;

function read<T>(key: string): Kept<T> | null {
  try {
    return JSON.parse(localStorage.getItem(place(key)) ?? "null");
  } catch {
    return null;
  }
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

const asTyped = <T>(typed: T) => typed;

/** What stands now with what had been typed otherwise; what changed elsewhere meanwhile stays changed. */
export function resumed<T extends FieldValues>(now: T, kept: Kept<T> | null): T {
  if (!kept) return now;
  const typed = Object.entries(kept.typed).filter(([name, value]) => !same(value, kept.before[name]));
  return { ...now, ...Object.fromEntries(typed) };
}

/**
 * A form of what is sent: half-typed it survives leaving it, and the fields that the server refuses are marked by their
 * paths. `key` names it among those that may be half-typed.
 */
export function useSheet<T extends FieldValues, Out>({
  key,
  first,
  save,
  onSaved,
  tidy = asTyped,
  again = false,
}: {
  key: string;
  first: T;
  save: (given: T) => Promise<Out>;
  onSaved?: (out: Out) => void;
  /** What is sent for what was typed. */
  tidy?: (typed: T) => T;
  /** Sent, it begins anew for the next one. */
  again?: boolean;
}) {
  const [kept, setKept] = useState(() => read<T>(key));
  const form = useForm<T>({ defaultValues: resumed(first, kept) as DefaultValues<T> });
  const saving = useChange((given: T) => save(given));
  // What a template or an earlier answer filled in is not something that somebody typed.
  const start = useRef(first);
  const forget = () => {
    localStorage.removeItem(place(key));
    setKept(null);
  };
  useEffect(() => {
    const watching = form.watch((typed) => {
      if (same(tidy(typed as T), tidy(start.current))) localStorage.removeItem(place(key));
      else localStorage.setItem(place(key), JSON.stringify({ before: start.current, typed }));
    });
    return () => watching.unsubscribe();
  }, [form, key, tidy]);
  const { setError } = form;
  const refusal = saving.error instanceof Refused && Object.keys(saving.error.fields).length > 0 ? saving.error : null;
  const [marked, setMarked] = useState<Refused | null>(null);
  const [stray, setStray] = useState<Refused | null>(null);
  useEffect(() => {
    setStray(null);
    for (const [name, message] of Object.entries(refusal?.fields ?? {}))
      setError(name as Path<T>, { type: "server", message });
    setMarked(refusal);
  }, [refusal, setError]);
  // Once they are drawn: to the first of them, or what is wrong with a field that is not on screen is said all the same.
  useEffect(() => {
    if (!marked) return;
    const wrong = document.querySelector<HTMLElement>('[aria-invalid="true"]');
    wrong?.focus();
    setStray(wrong ? null : marked);
  }, [marked]);
  const send = form.handleSubmit((given) =>
    saving.mutate(tidy(given as unknown as T), {
      onSuccess: (out) => {
        forget();
        start.current = again ? first : (given as unknown as T);
        form.reset(start.current as DefaultValues<T>);
        onSaved?.(out);
      },
    }),
  );
  return {
    form,
    isSaving: saving.isPending,
    /** What was wrong besides the fields on screen. */
    error: refusal ? stray : saving.error,
    /** Whether fields on screen were refused. */
    isRefused: refusal !== null && stray === null,
    /** Whether something half-typed was found again. */
    isResumed: kept !== null,
    startOver: () => {
      forget();
      form.reset(first as DefaultValues<T>);
    },
    submit: (event?: { preventDefault: () => void }) => {
      event?.preventDefault();
      // What the server refused is for the server to judge again.
      form.clearErrors();
      void send();
    },
  };
}
