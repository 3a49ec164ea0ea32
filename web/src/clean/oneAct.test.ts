import { describe, expect, it } from "vitest";
import { apart, isAsked, OneAct } from "./oneAct";

describe("one act a press", () => {
  it("holds a second press back until the time is over", () => {
    const press = new OneAct();
    const taken = [0, 150, apart - 1, apart, apart + 1].map((at) => press.takes("done", at));
    expect(taken).toEqual([true, false, false, true, false]);
    expect(press.takes("undo", 1)).toBe(true);
  });

  it("asks always, until an instant, or not at all", () => {
    const until = "2026-11-25T10:30:00Z";
    const at = Date.parse(until);
    expect(isAsked(null, at)).toBe(false);
    expect(isAsked({ until: null }, at)).toBe(true);
    expect([at - 1, at, at + 1].map((now) => isAsked({ until }, now))).toEqual([true, false, false]);
  });
});
