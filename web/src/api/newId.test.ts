import { afterEach, expect, test, vi } from "vitest";
import { newId } from "./newId";

afterEach(() => vi.unstubAllGlobals());

test("ids differ and are taken by the server, with and without a secure context", () => {
  const random = { getRandomValues: crypto.getRandomValues.bind(crypto) };
  for (const given of [crypto, random]) {
    vi.stubGlobal("crypto", given);
    const ids = new Set(Array.from({ length: 100 }, newId));
    expect(ids.size).toBe(100);
    for (const id of ids) expect(id).toMatch(/^[0-9a-f-]{32,36}$/);
  }
});
