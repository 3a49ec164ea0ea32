import { useRef } from "react";
import type { Schemas } from "../api/client";

/** Fingers on the panel, as one touch each: together where they were down at once, held as long as all of them were. */
export function useTouches(take: (touch: Schemas["Touch"]) => void) {
  const down = useRef(new Map<string, number>());
  const together = useRef<{ controls: string[]; since: number } | null>(null);
  return {
    onDown: (id: string) => {
      const now = performance.now();
      down.current.set(id, now);
      const before = together.current?.controls ?? [];
      // Held together from when the last of them came down.
      together.current = { controls: before.includes(id) ? before : [...before, id], since: now };
    },
    onUp: (id: string) => {
      if (!down.current.delete(id) || !together.current) return;
      if (together.current.controls.length > 0 && down.current.size === 0) {
        const held = (performance.now() - together.current.since) / 1000;
        take({ controls: together.current.controls, hold_seconds: Math.round(10 * held) / 10 });
        together.current = null;
      }
    },
  };
}
