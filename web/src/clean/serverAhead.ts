const kept = "murlo-ahead";

/**
 * The server's time over this device's, ms, from an answer that came at `at`. Without a line an answer may be an old one
 * that was kept, and its time says nothing: then what was known last holds.
 */
export function serverAhead(now: string, at: number, online: boolean, shelf: Pick<Storage, "getItem" | "setItem">) {
  const known = shelf.getItem(kept);
  if (!online && known !== null) return Number(known);
  const ahead = Date.parse(now) - at;
  shelf.setItem(kept, String(ahead));
  return ahead;
}
