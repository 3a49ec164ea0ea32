import { useEffect } from "react";

/** Keeps the screen on while a clean runs; the browser lets go when the page is hidden, so it is asked again. */
export function useAwake(running: boolean) {
  useEffect(() => {
    if (!running || !("wakeLock" in navigator)) return;
    let lock: WakeLockSentinel | undefined;
    let gone = false;
    const hold = async () => {
      if (document.visibilityState !== "visible") return;
      // Refused when the battery is low; the clean goes on without it.
      lock = await navigator.wakeLock.request("screen").catch(() => undefined);
      if (gone) await lock?.release();
    };
    hold();
    document.addEventListener("visibilitychange", hold);
    return () => {
      gone = true;
      document.removeEventListener("visibilitychange", hold);
      lock?.release();
    };
  }, [running]);
}
