import { expect, test } from "vitest";
import type { Schemas } from "../api/client";
import { byHome, pageOf, today } from "./today";

const card = (id: string, home: string, change: Partial<Schemas["BrewerCard"]> = {}) =>
  ({
    id,
    home,
    urgency: "fresh",
    first_due: "main",
    running_clean: null,
    circuits: [{ circuit_id: "main", name: "pod side", acid: null, running_clean: null, forecast: { look: null } }],
    upkeep: [],
    ...change,
  }) as unknown as Schemas["BrewerCard"];

const work = (job: Schemas["Job"], is_due: boolean, keeps_running: boolean) => ({
  ...{
    job,
    is_due,
    is_asked: true,
    keeps_running,
    is_usual: true,
    comes_with_descaling: false,
    text: "",
    name: job,
    every: "",
    done: "",
  },
});

test("running cleans come first, then acid, then what is due, then small jobs; what is not due does not", () => {
  const circuit = (change: object) => [
    { circuit_id: "main", name: "pod side", acid: null, running_clean: null, forecast: { look: null }, ...change },
  ];
  const cards = [
    card("jobs", "a", {
      upkeep: [
        work("filter", true, true),
        work("needles", false, true),
        work("tray", true, false),
        work("wash", true, false),
      ],
    }),
    card("due", "a", { urgency: "due" }),
    card("soon", "a", { urgency: "soon" }),
    card("acid", "b", { circuits: circuit({ acid: { clean_id: "c0", text: "" } }) as never }),
    card("run", "b", { running_clean: "c1", urgency: "due", circuits: circuit({ running_clean: "c1" }) as never }),
    card("late", "b", { urgency: "overdue" }),
    card("look", "a", { circuits: circuit({ forecast: { look: { at: "cup" } } }) as never }),
    card("spread", "a", {
      urgency: "due",
      circuits: circuit({ part: { is_due: true } }) as never,
    }),
    card("later", "a", { urgency: "overdue", circuits: circuit({ part: { is_due: false } }) as never }),
    card("coffee", "a", { first_coffee: { clean_id: "c9" } as never }),
    card("run2", "a", {
      running_clean: "c2",
      circuits: circuit({ forecast: { look: { at: "cup" } } }) as never,
    }),
  ];
  const inside = [{ clean_id: "c1" }] as unknown as Schemas["InsideView"][];
  const told = today(cards, inside).map((todo) =>
    todo.kind === "works" ? `works ${todo.home} ${todo.works.length}` : `${todo.kind} ${todo.card.id}`,
  );
  expect(told).toEqual([
    "running run",
    "acid acid",
    "descale due",
    "descale late",
    "part spread",
    "job jobs",
    "coffee coffee",
    "look look",
    "works a 2",
  ]);
});

test("homes stand in the order of their first brewer, and pages go through them without a gap", () => {
  const cards = ["a", "b", "a", "c", "b", "a"].map((home, i) => card(String(i), home));
  const groups = byHome(cards);
  expect(groups.map(([home, all]) => [home, all.map((c) => c.id).join("")])).toEqual([
    ["a", "025"],
    ["b", "14"],
    ["c", "3"],
  ]);
  const ids = (page: number) => pageOf(groups, page, 2).map(([home, all]) => home + all.map((c) => c.id).join(""));
  expect([0, 1, 2, 3].map(ids)).toEqual([["a02"], ["a5", "b1"], ["b4", "c3"], []]);
});
