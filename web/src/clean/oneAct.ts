/** A second press within this time is the same one: a finger that trembled, a key that is held, ms. */
export const apart = 400;

/** Lets one press through and holds back those that follow at once. */
export class OneAct {
  private readonly last = new Map<string, number>();

  /** Whether a press of `what` at `now`, ms, is one of its own; it then holds back the next ones. */
  takes(what: string, now: number): boolean {
    if (now - (this.last.get(what) ?? Number.NEGATIVE_INFINITY) < apart) return false;
    this.last.set(what, now);
    return true;
  }
}

/** Whether a choice is asked about once more at `now`, ms. */
export function isAsked(ask: { until?: string | null } | null | undefined, now: number): boolean {
  return ask != null && (ask.until == null || now < Date.parse(ask.until));
}
