import { expect, test } from "vitest";
import type { Waiting } from "../acts/ActQueue";
import type { Schemas } from "../api/client";
import { walked } from "./wayAhead";

const state = (title: string, timer: Schemas["Timer"] | null = null) =>
  ({
    steps: [{ id: "soak", standing: "current", count: 0, target: 1, timer }],
    next: { label: title, act: { kind: "done", step: "soak" }, ask: { text: "", sure: "", until: timer?.ends_at } },
    inside_text: title,
  }) as unknown as Schemas["State"];
const clean = { id: "c", events: 4, state: state("now") } as unknown as Schemas["CleanView"];
const started: Schemas["Act"] = { kind: "started", step: "soak" };
const done: Schemas["Act"] = { kind: "done", step: "soak" };
const timer = { started_at: "2026-11-25T10:00:00.000Z", ends_at: "2026-11-25T10:30:00.000Z" };
const way: Schemas["AheadView"] = {
  events: 4,
  way: [
    { act: started, at: "2026-11-25T10:00:00Z", state: state("soaking", timer) },
    { act: done, at: "2026-11-25T10:30:00Z", state: state("over") },
  ],
};
const act = (what: Schemas["Act"], at: string): Waiting => ({ id: at, device_at: at, act: what });

test("nothing waits: the clean stands where the household says", () => {
  expect(walked(clean, way, [], 0)).toEqual({ view: clean, known: true });
  expect(walked(clean, undefined, [], 0).known).toBe(true);
});

test("an act on the planned way leads on, and its timer runs from when it was pressed", () => {
  const { view, known } = walked(clean, way, [act(started, "2026-11-25T10:07:00.000Z")], 60_000);
  expect(known).toBe(true);
  expect(view.state.inside_text).toBe("soaking");
  expect(view.state.steps[0]?.timer).toEqual({
    started_at: "2026-11-25T10:08:00.000Z",
    ends_at: "2026-11-25T10:38:00.000Z",
  });
  expect(view.state.next?.ask?.until).toBe("2026-11-25T10:38:00.000Z");
});

test("what leaves the way, or was walked from elsewhere, is not shown as known", () => {
  const off = act({ kind: "noted", text: "x" }, "2026-11-25T10:07:00.000Z");
  expect(walked(clean, way, [off], 0)).toEqual({ view: clean, known: false });
  const both = [act(started, "2026-11-25T10:07:00.000Z"), off];
  expect(walked(clean, way, both, 0).known).toBe(false);
  expect(walked(clean, way, both, 0).view.state.inside_text).toBe("soaking");
  const old = { ...way, events: 3 };
  expect(walked(clean, old, [act(started, "2026-11-25T10:07:00.000Z")], 0)).toEqual({ view: clean, known: false });
});

test("acts follow each other to the end of the way", () => {
  const acts = [act(started, "2026-11-25T10:07:00.000Z"), act(done, "2026-11-25T10:40:00.000Z")];
  expect(walked(clean, way, acts, 0).view.state.inside_text).toBe("over");
  acts.push(act(done, "2026-11-25T10:41:00.000Z"));
  expect(walked(clean, way, acts, 0).known).toBe(false);
});
