import { Refused, type Schemas } from "../api/client";

type Act = Schemas["Act"];
/** An act as it waits; when it is sent is only known then. */
export type Waiting = Omit<Schemas["SentEvent"], "sent_at">;

/** What the queue needs of the browser's storage, in which each waiting act is a key of its own: two windows then add to each other. */
export type Shelf = Pick<Storage, "setItem" | "removeItem" | "getItem" | "key" | "length">;

/** What is told of the queue. */
export interface Hears<View> {
  /** An act was taken: this is where the clean stands now. */
  taken: (view: View) => void;
  /** An act was refused and dropped: what is on screen may be old. */
  refused: () => void;
  /** So many acts wait, and this stands in the way. */
  changed: (waiting: number, error: Error | null) => void;
}

/**
 * Sends the acts of a clean one after the other, each with an id of its own: an act whose answer was lost is sent again
 * under the same id, so it counts once. What is not acknowledged yet stands on the shelf, so it outlives a reload. A refusal
 * drops the act; a lost line keeps it.
 */
export class ActQueue<View> {
  private readonly prefix: string;
  private readonly events: Waiting[];
  private busy = false;

  constructor(
    clean: string,
    private readonly shelf: Shelf,
    private readonly send: (event: Waiting) => Promise<View>,
    private readonly hears: Hears<View>,
  ) {
    this.prefix = `murlo-act:${clean}:`;
    const keys = Array.from({ length: shelf.length }, (_, i) => shelf.key(i) ?? "");
    this.events = keys
      .filter((key) => key.startsWith(this.prefix))
      .sort()
      .flatMap((key) => read(shelf.getItem(key)));
  }

  get waiting() {
    return this.events.length;
  }

  /** Puts an act last and sends what waits. Pressed again while the page stands still, only a count is meant twice. */
  add(act: Act, id: string, at: string) {
    const last = this.events.at(-1)?.act;
    if (act.kind !== "counted" && JSON.stringify(last) === JSON.stringify(act)) return;
    const event = { id, device_at: at, act };
    this.events.push(event);
    this.shelf.setItem(this.key(event), JSON.stringify(event));
    this.hears.changed(this.waiting, null);
    this.drain();
  }

  /** Sends what waits, in order, until the line is lost. */
  async drain() {
    if (this.busy || this.waiting === 0) return;
    this.busy = true;
    let error: Error | null = null;
    for (let event = this.events[0]; event; event = this.events[0]) {
      try {
        this.hears.taken(await this.send(event));
        error = null;
      } catch (cause) {
        error = cause as Error;
        if (!isFinal(cause)) break;
        this.hears.refused();
      }
      this.events.shift();
      this.shelf.removeItem(this.key(event));
      this.hears.changed(this.waiting, error);
    }
    this.busy = false;
    this.hears.changed(this.waiting, error);
  }

  /** Keys sort by the time of the act. */
  private key(event: Waiting) {
    return `${this.prefix}${event.device_at}:${event.id}`;
  }
}

/** Whether the act itself was refused; a signed-out device or a household in trouble may take it later. */
const isFinal = (cause: unknown) =>
  cause instanceof Refused && cause.status >= 400 && cause.status < 500 && ![401, 403, 408, 429].includes(cause.status);

function read(kept: string | null): Waiting[] {
  try {
    return kept === null ? [] : [JSON.parse(kept) as Waiting];
  } catch {
    return [];
  }
}
