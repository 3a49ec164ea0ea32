import { expect, test } from "vitest";
import { Refused, type Schemas } from "../api/client";
import { ActQueue, type Aside, type Shelf, shelved, type Waiting } from "./ActQueue";

class Memory implements Shelf {
  readonly kept = new Map<string, string>();
  get length() {
    return this.kept.size;
  }
  key(i: number) {
    return [...this.kept.keys()][i] ?? null;
  }
  getItem(key: string) {
    return this.kept.get(key) ?? null;
  }
  setItem(key: string, text: string) {
    this.kept.set(key, text);
  }
  removeItem(key: string) {
    this.kept.delete(key);
  }
}

/** A household whose line can be cut, and which refuses acts on the step "gone". */
function household() {
  const home = {
    line: true,
    status: 409,
    taken: [] as string[],
    refused: 0,
    waiting: 0,
    error: null as Error | null,
    aside: [] as Aside[],
  };
  const send = async (event: Waiting) => {
    if (!home.line) throw new TypeError("no line");
    if (event.act.kind === "done" && event.act.step === "gone") throw new Refused(home.status, "not at this step", []);
    home.taken.push(event.id);
    return event.id;
  };
  const queue = (shelf: Shelf) =>
    new ActQueue("c1", shelf, send, {
      taken: () => {},
      refused: () => {
        home.refused += 1;
      },
      changed: (waiting, error, aside) => {
        home.waiting = waiting.length;
        home.error = error;
        home.aside = aside;
      },
    });
  return { home, queue };
}

const done = (step: string): Schemas["Act"] => ({ kind: "done", step });
const counted: Schemas["Act"] = { kind: "counted", step: "rinse" };
const at = (second: number) => `2026-11-25T10:00:0${second}.000Z`;

test("acts go out in order, and the shelf is empty once they are taken", async () => {
  const { home, queue } = household();
  const shelf = new Memory();
  const acts = queue(shelf);
  acts.add(done("ready"), "a", at(1));
  acts.add(counted, "b", at(2));
  await acts.drain();
  await Promise.resolve();
  await expect.poll(() => home.taken).toEqual(["a", "b"]);
  expect([home.waiting, shelf.length, home.error]).toEqual([0, 0, null]);
});

test("without a line they wait, outlive the page, and arrive in order when it is back", async () => {
  const { home, queue } = household();
  const shelf = new Memory();
  home.line = false;
  const before = queue(shelf);
  before.add(counted, "z", at(1));
  before.add(counted, "a", at(2));
  await before.drain();
  expect([home.taken, shelf.length]).toEqual([[], 2]);
  await expect.poll(() => home.error?.message).toBe("no line");

  shelf.setItem("murlo-act:c1:broken", "{");
  shelf.setItem("murlo-act:c2:other", JSON.stringify({ id: "o", act: counted }));
  home.line = true;
  const after = queue(shelf);
  expect(after.waiting.length).toBe(2);
  await after.drain();
  expect(home.taken).toEqual(["z", "a"]);
  expect(home.waiting).toBe(0);
});

test("a refused act is set aside with its reason until it was read, and the rest goes on", async () => {
  const { home, queue } = household();
  const shelf = new Memory();
  home.line = false;
  const acts = queue(shelf);
  acts.add(done("gone"), "a", at(1));
  acts.add(done("mix"), "b", at(2));
  await acts.drain();
  home.line = true;
  await expect
    .poll(async () => {
      await acts.drain();
      return home.taken;
    })
    .toEqual(["b"]);
  expect([home.refused, home.waiting, home.error]).toEqual([1, 0, null]);
  expect(home.aside).toMatchObject([{ event: { id: "a" }, reason: "not at this step" }]);
  const afterReload = queue(shelf);
  expect([afterReload.waiting.length, afterReload.aside.length]).toEqual([0, 1]);
  afterReload.letGo("a");
  expect([home.aside, shelf.length]).toEqual([[], 0]);
});

test("an act at which the household fails does not hold up those behind it", async () => {
  const { home, queue } = household();
  home.status = 500;
  const acts = queue(new Memory());
  acts.add(done("gone"), "a", at(1));
  acts.add(counted, "b", at(2));
  await expect.poll(() => home.taken).toEqual(["b"]);
  expect(home.aside).toHaveLength(1);
});

test("what only fails for now is kept: a device signed out, a household in trouble", async () => {
  const { home, queue } = household();
  const acts = queue(new Memory());
  for (const status of [401, 408, 429, 503, 507]) {
    home.status = status;
    acts.add(done("gone"), "a", at(1));
    await expect.poll(() => home.error?.message).toBe("not at this step");
    expect([acts.waiting.length, home.refused]).toEqual([1, 0]);
  }
  home.status = 422;
  await acts.drain();
  expect([acts.waiting.length, home.refused]).toEqual([0, 1]);
});

test("pressed twice while nothing moves, only a count is meant twice", async () => {
  const { home, queue } = household();
  home.line = false;
  const acts = queue(new Memory());
  for (const id of ["a", "b"]) acts.add(done("ready"), id, at(1));
  for (const id of ["c", "d"]) acts.add(counted, id, at(2));
  expect(acts.waiting.length).toBe(3);
  home.line = true;
  await expect
    .poll(async () => {
      await acts.drain();
      return home.taken;
    })
    .toEqual(["a", "c", "d"]);
});

test("undo takes back the waiting act first, and never one that may have gone", async () => {
  const { home, queue } = household();
  const shelf = new Memory();
  home.line = false;
  const q = queue(shelf);
  q.add(done("one"), "e1", at(1));
  q.add(done("two"), "e2", at(2));
  // The first may be on its way.
  expect(q.takeBack()).toBe(true);
  expect(q.takeBack()).toBe(false);
  await Promise.resolve();
  await Promise.resolve();
  expect(q.waiting.map((event) => event.id)).toEqual(["e1"]);
  expect(shelf.length).toBe(1);
  home.line = true;
  await q.drain();
  expect(home.taken).toEqual(["e1"]);
});

test("what waits for what is known without its queue", async () => {
  const { home, queue } = household();
  home.line = false;
  const shelf = new Memory();
  const acts = queue(shelf);
  acts.add(done("gone"), "a", at(1));
  acts.add(counted, "b", at(2));
  shelf.setItem("murlo-act:visit-v1:2026-11-25T10:00:01.000Z:x", "{}");
  shelf.setItem("murlo-bill-v1", "{}");
  expect(shelved(shelf)).toEqual({ waiting: ["c1", "visit-v1"], aside: [] });
  await acts.drain();
  home.line = true;
  await expect
    .poll(async () => {
      await acts.drain();
      return shelved(shelf);
    })
    .toEqual({ waiting: ["visit-v1"], aside: ["c1"] });
});

test("each act tells how many its device knew of, those that waited before it among them", async () => {
  const { home, queue } = household();
  const sent: (number | undefined)[] = [];
  home.line = false;
  const shelf = new Memory();
  const acts = queue(shelf);
  acts.add(counted, "a", at(1), 7);
  acts.add(counted, "b", at(2), 7);
  acts.add(counted, "c", at(3));
  for (const { seen } of acts.waiting) sent.push(seen);
  expect(sent).toEqual([7, 8, undefined]);
});
