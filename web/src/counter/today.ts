import type { Schemas } from "../api/client";

type Card = Schemas["BrewerCard"];
type Inside = Schemas["InsideView"];

/** Something that wants to be done today. */
export type Todo =
  | { kind: "running"; card: Card; inside: Inside }
  | { kind: "acid"; card: Card; acid: Schemas["AcidInside"]; side: string }
  | { kind: "descale"; card: Card; circuit: Schemas["CircuitCard"] }
  | { kind: "part"; card: Card; circuit: Schemas["CircuitCard"]; part: Schemas["PartShown"] }
  | { kind: "look"; card: Card; circuit: Schemas["CircuitCard"]; look: Schemas["WorthALook"] }
  | { kind: "coffee"; card: Card; coffee: Schemas["CoffeeAsked"] }
  | Work
  | { kind: "works"; home: string; works: Work[] };

/** A small work of one brewer. */
export type Work = { kind: "job"; card: Card; job: Schemas["Upkeep"] };

/** What the core calls running, acid inside, or due, in the order in which it matters. */
export function today(cards: readonly Card[], inside: readonly Inside[]): Todo[] {
  const of = <T extends Todo>(pick: (card: Card) => T[]) => cards.flatMap(pick);
  const running = of((card) =>
    card.circuits.flatMap((circuit) => {
      const found = inside.find((i) => i.clean_id === circuit.running_clean);
      return found ? [{ kind: "running" as const, card, inside: found }] : [];
    }),
  );
  const acid = of((card) =>
    card.circuits.flatMap((c) => (c.acid ? [{ kind: "acid" as const, card, acid: c.acid, side: c.name }] : [])),
  );
  const descale = of((card) => {
    const circuit = card.circuits.find((c) => c.circuit_id === card.first_due);
    const due = card.urgency === "due" || card.urgency === "overdue";
    // What is spread over days has its own day.
    return circuit && due && !card.running_clean && !circuit.part ? [{ kind: "descale" as const, card, circuit }] : [];
  });
  const part = of((card) =>
    card.circuits.flatMap((circuit) =>
      circuit.part?.is_due && !card.running_clean ? [{ kind: "part" as const, card, circuit, part: circuit.part }] : [],
    ),
  );
  // A moment's look is for whoever stands before it anyway, not for a brewer that is being cleaned.
  const look = of((card) =>
    card.running_clean
      ? []
      : card.circuits.flatMap((circuit) =>
          circuit.forecast.look && !circuit.acid
            ? [{ kind: "look" as const, card, circuit, look: circuit.forecast.look }]
            : [],
        ),
  );
  const coffee = of((card) =>
    card.first_coffee ? [{ kind: "coffee" as const, card, coffee: card.first_coffee }] : [],
  );
  const works = cards.flatMap((card) =>
    card.running_clean
      ? []
      : card.upkeep
          .filter((job) => job.is_due && !job.comes_with_descaling)
          .map((job) => ({ kind: "job" as const, card, job })),
  );
  // What keeps a brewer running stands by itself; a week's other small works are one line a home.
  const [needed, others] = [works.filter((w) => w.job.keeps_running), works.filter((w) => !w.job.keeps_running)];
  const homes = byHome(others.map((w) => w.card)).map(([home]) => home);
  const grouped = homes.map((home) => ({
    kind: "works" as const,
    home,
    works: others.filter((w) => w.card.home === home),
  }));
  return [...running, ...acid, ...descale, ...part, ...needed, ...coffee, ...look, ...grouped];
}

/** Brewers by home, the home of the most urgent one first; within a home they keep their order. */
export function byHome(cards: readonly Card[]): [home: string, cards: Card[]][] {
  const homes = new Map<string, Card[]>();
  for (const card of cards) homes.set(card.home, [...(homes.get(card.home) ?? []), card]);
  return [...homes];
}

/** One page of the brewers by home, so that a list of hundreds stays quick. */
export function pageOf<T>(groups: [string, T[]][], page: number, size: number): [string, T[]][] {
  let from = page * size;
  let room = size;
  const shown: [string, T[]][] = [];
  for (const [name, all] of groups) {
    const here = all.slice(from, from + room);
    from = Math.max(0, from - all.length);
    room -= here.length;
    if (here.length > 0) shown.push([name, here]);
    if (room === 0) break;
  }
  return shown;
}
