import type { Waiting } from "../acts/ActQueue";
import type { Schemas } from "../api/client";

type View = Schemas["CleanView"];
type State = Schemas["State"];

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
const later = (at: string, ms: number) => new Date(Date.parse(at) + ms).toISOString();

/** A state that was walked beforehand, with what counts from `planned` counting from when that really happened. */
function moved(state: State, planned: string, ms: number): State {
  const since = (timer: Schemas["Timer"]) => Date.parse(timer.started_at) >= Date.parse(planned);
  const steps = state.steps.map((step) =>
    step.timer && since(step.timer)
      ? {
          ...step,
          timer: { started_at: later(step.timer.started_at, ms), ends_at: later(step.timer.ends_at, ms) },
        }
      : step,
  );
  const ask = (choice: Schemas["Choice"] | null | undefined) =>
    choice?.ask?.until ? { ...choice, ask: { ...choice.ask, until: later(choice.ask.until, ms) } } : choice;
  return { ...state, steps, next: ask(state.next), finish: ask(state.finish), undo: null };
}

/**
 * Where a clean stands with the acts that still wait on this device, as far as the planned way tells; `known` is false once
 * one of them left it. `ahead` is the server's time over this device's, ms.
 */
export function walked(
  clean: View,
  way: Schemas["AheadView"] | undefined,
  waiting: readonly Waiting[],
  ahead: number,
): { view: View; known: boolean } {
  let at = 0;
  while (way?.events === clean.events && at < waiting.length && same(way.way[at]?.act, waiting[at]?.act)) at += 1;
  const known = at === waiting.length;
  const reached = way?.way[at - 1];
  const act = waiting[at - 1];
  if (!reached || !act) return { view: clean, known };
  // A timer runs from the last act that started one; acts before it no longer count time.
  const started = way.way.slice(0, at).findLastIndex((step) => step.act.kind === "started");
  const planned = way.way[started];
  const really = waiting[started]?.device_at;
  const state =
    planned && really
      ? moved(reached.state, planned.at, Date.parse(really) + ahead - Date.parse(planned.at))
      : { ...reached.state, undo: null };
  return { view: { ...clean, state }, known };
}
