import { expect, test } from "vitest";
import type { Schemas } from "../api/client";
import { begunHere } from "./begunHere";

const act = (at: string, latest: string) => ({ id: at, at, latest }) as Schemas["Next"];
const view = (stage: Schemas["VisitStage"]) =>
  ({
    stage,
    visit: { from: "09:30:00" },
    outlook: {
      shortest: {
        acts: [
          act("2026-11-26T09:30:00Z", "2026-11-26T09:40:00Z"),
          act("2026-11-26T09:45:00Z", "2026-11-26T10:00:00Z"),
        ],
        ends_at: "2026-11-26T10:30:00Z",
        or_ends_at: null,
      },
    },
  }) as unknown as Schemas["VisitView"];

test("the hours of a planned order count from when it really began, early or late", () => {
  for (const [began, second, ends] of [
    ["2026-11-26T09:20:00.000Z", "2026-11-26T09:35:00.000Z", "2026-11-26T10:20:00.000Z"],
    ["2026-11-27T11:00:00.000Z", "2026-11-27T11:15:00.000Z", "2026-11-27T12:00:00.000Z"],
  ] as const) {
    const shown = begunHere(view("planned"), began);
    expect(shown.stage).toBe("running");
    expect(shown.run?.left.acts.map(({ at }) => at)).toEqual([began, second]);
    expect(shown.run?.left.ends_at).toBe(ends);
    expect(shown.at).toBe(Date.parse(began));
  }
});

test("what the household has begun itself stays as it is", () => {
  expect(begunHere({ ...view("running"), outlook: null }, "2026-11-26T09:20:00.000Z").run).toBeUndefined();
});
