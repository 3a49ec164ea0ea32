/** What the worker shows while the household cannot be reached; its name stands in `vite.config.ts` as well. */
const kept = "murlo-answers";

/** Keeps what an act came to under the address it is asked for by, so that a page opened without a line does not show what was before. */
export function keepShown(path: string, shown: unknown) {
  if (!("caches" in globalThis)) return;
  const answer = new Response(JSON.stringify(shown), { headers: { "content-type": "application/json" } });
  // Without a cache the page is only older when it is opened without a line.
  caches
    .open(kept)
    .then((cache) => cache.put(path, answer))
    .catch(() => {});
}
