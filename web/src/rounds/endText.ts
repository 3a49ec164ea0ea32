import type { Schemas } from "../api/client";

/** "Done about 10:45, or 11:54 if another bath is needed". */
export function endText(ordered: Schemas["Ordered"], timeOf: (at: string) => string): string {
  const ends = `Done about ${timeOf(ordered.ends_at)}`;
  return ordered.or_ends_at ? `${ends}, or ${timeOf(ordered.or_ends_at)} if another bath is needed` : ends;
}
