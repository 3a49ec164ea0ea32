/** A timer of a clean, by this device's clock. */
export type Timed = { name: string; title: string; ends: number };

/**
 * The cleans whose timers are over, and whether one of them ends just now: an end that was lived through rings once. `seen`
 * keeps the timers that were running, and takes those out that have rung.
 */
export function dueNow(
  timers: Record<string, Timed | null>,
  now: number,
  seen: Set<string>,
): { over: [string, Timed][]; rings: number } {
  const over: [string, Timed][] = [];
  let rings = 0;
  for (const [clean, timed] of Object.entries(timers)) {
    if (!timed) continue;
    const key = `${clean}:${timed.ends}`;
    if (timed.ends > now) seen.add(key);
    else {
      over.push([clean, timed]);
      // The instant tells one ring from the next.
      if (seen.delete(key)) rings = now;
    }
  }
  return { over, rings };
}
