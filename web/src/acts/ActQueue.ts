import { Refused, type Schemas } from "../api/client";

/** An act as it waits; when it is sent is only known then. */
export type Waiting<Act = Schemas["Act"]> = { id: string; device_at: string; seen?: number; act: Act };

/** What the queue needs of the browser's storage, in which each waiting act is a key of its own: two windows then add to each other. */
export type Shelf = Pick<Storage, "setItem" | "removeItem" | "getItem" | "key" | "length">;

/** An act that was refused, and why. */
export type Aside<Act = Schemas["Act"]> = { event: Waiting<Act>; reason: string };

/** What is told of the queue. */
export interface Hears<View, Act = Schemas["Act"]> {
  /** An act was taken: this is where the clean stands now. */
  taken: (view: View) => void;
  /** An act was refused and set aside: what is on screen may be old. */
  refused: () => void;
  /** These acts wait, this stands in the way, and these were refused. */
  changed: (waiting: readonly Waiting<Act>[], error: Error | null, aside: Aside<Act>[]) => void;
}

/**
 * Sends the acts of a clean, or of a visit, one after the other, each with an id of its own: an act whose answer was lost is sent again
 * under the same id, so it counts once. What is not acknowledged yet stands on the shelf, so it outlives a reload. A lost
 * line keeps the act and all behind it; a refused act is set aside with its reason, until somebody has read it, and the
 * rest goes on.
 */
export class ActQueue<View, Act extends { kind: string } = Schemas["Act"]> {
  private readonly prefix: string;
  private readonly besides: string;
  private readonly events: Waiting<Act>[];
  private refusals: Aside<Act>[];
  private busy = false;

  constructor(
    of: string,
    private readonly shelf: Shelf,
    private readonly send: (event: Waiting<Act>) => Promise<View>,
    private readonly hears: Hears<View, Act>,
  ) {
    this.prefix = `murlo-act:${of}:`;
    this.besides = `murlo-aside:${of}:`;
    this.events = this.kept<Waiting<Act>>(this.prefix);
    this.refusals = this.kept<Aside<Act>>(this.besides);
  }

  private kept<T>(prefix: string): T[] {
    return Array.from({ length: this.shelf.length }, (_, i) => this.shelf.key(i) ?? "")
      .filter((key) => key.startsWith(prefix))
      .sort()
      .flatMap((key) => read<T>(this.shelf.getItem(key)));
  }

  get waiting(): readonly Waiting<Act>[] {
    return [...this.events];
  }

  get aside() {
    return this.refusals;
  }

  /** Lets a refused act go, once somebody has read why. */
  letGo(id: string) {
    for (const { event } of this.refusals.filter((r) => r.event.id === id)) {
      this.shelf.removeItem(this.key(event, this.besides));
    }
    this.refusals = this.refusals.filter((r) => r.event.id !== id);
    this.hears.changed(this.waiting, null, this.refusals);
  }

  /**
   * Puts an act last and sends what waits. Pressed again while the page stands still, only a count is meant twice. `known` is
   * how many acts the household had on this page; those that wait come before it as well.
   */
  add(act: Act, id: string, at: string, known?: number) {
    const last = this.events.at(-1)?.act;
    if (act.kind !== "counted" && JSON.stringify(last) === JSON.stringify(act)) return;
    const seen = known === undefined ? undefined : known + this.events.length;
    const event = { id, device_at: at, seen, act };
    this.events.push(event);
    this.shelf.setItem(this.key(event), JSON.stringify(event));
    this.hears.changed(this.waiting, null, this.refusals);
    this.drain();
  }

  /** Takes the last waiting act back; not one that may be on its way. Whether there was one. */
  takeBack(): boolean {
    const may = this.events.length > (this.busy ? 1 : 0);
    const last = may ? this.events.pop() : undefined;
    if (!last) return false;
    this.shelf.removeItem(this.key(last));
    this.hears.changed(this.waiting, null, this.refusals);
    return true;
  }

  /** Sends what waits, in order, until the line is lost. */
  async drain() {
    if (this.busy || this.events.length === 0) return;
    this.busy = true;
    let error: Error | null = null;
    for (let event = this.events[0]; event; event = this.events[0]) {
      try {
        this.hears.taken(await this.send(event));
        error = null;
      } catch (cause) {
        if (!isFinal(cause)) {
          error = cause as Error;
          break;
        }
        const refusal = { event, reason: (cause as Error).message };
        this.shelf.setItem(this.key(event, this.besides), JSON.stringify(refusal));
        this.refusals = [...this.refusals, refusal];
        this.hears.refused();
      }
      this.events.shift();
      this.shelf.removeItem(this.key(event));
      this.hears.changed(this.waiting, error, this.refusals);
    }
    this.busy = false;
    this.hears.changed(this.waiting, error, this.refusals);
  }

  /** Keys sort by the time of the act. */
  private key(event: Waiting<Act>, prefix = this.prefix) {
    return `${prefix}${event.device_at}:${event.id}`;
  }
}

/**
 * Whether the act itself was refused. A signed-out device, a busy household or one whose disk is full may take it later; an
 * act at which the household itself fails (500) would fail again, and must not hold up those behind it.
 */
const isFinal = (cause: unknown) =>
  cause instanceof Refused &&
  cause.status >= 400 &&
  cause.status <= 500 &&
  ![401, 403, 408, 425, 429].includes(cause.status);

/** What acts wait for on this shelf, and what has refused ones that nobody has read. */
export function shelved(shelf: Shelf): { waiting: string[]; aside: string[] } {
  const keys = Array.from({ length: shelf.length }, (_, i) => (shelf.key(i) ?? "").split(":"));
  const of = (kind: string) => [...new Set(keys.flatMap(([name, one]) => (name === kind && one ? [one] : [])))].sort();
  return { waiting: of("murlo-act"), aside: of("murlo-aside") };
}

function read<T>(kept: string | null): T[] {
  try {
    return kept === null ? [] : [JSON.parse(kept) as T];
  } catch {
    return [];
  }
}
