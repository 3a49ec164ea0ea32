/** Minutes that pass in practice, so many times as fast as on the wall. */
export function minutesLater(minutes: number, ms: number, speed: number): number {
  return minutes + (ms / 60_000) * speed;
}

/** The clock of practice: "1 h 05 min". */
export function practiceTime(minutes: number): string {
  const whole = Math.floor(minutes);
  const hours = Math.floor(whole / 60);
  return hours > 0 ? `${hours} h ${String(whole % 60).padStart(2, "0")} min` : `${whole} min`;
}
