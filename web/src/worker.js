/*
 * Keeps the application on this device, so that it opens without the network. `FILES` and `EDITION` are filled in when it
 * is built. Answers of the household are kept only to be shown while it cannot be reached; nothing is decided here.
 */
const EDITION = "__EDITION__";
const FILES = __FILES__;
const ANSWERS = "murlo-answers";
const SHOWN_OFFLINE = /^\/api\/(cleans\/[^/]+(\/photos\/[^/]+)?|counter|household|session|brewers\/[^/]+)$/;

self.addEventListener("install", (event) => {
  event.waitUntil(caches.open(EDITION).then((cache) => cache.addAll(FILES)));
  self.skipWaiting();
});

self.addEventListener("activate", (event) => {
  const old = (name) => name !== EDITION && name !== ANSWERS;
  const clear = async () => {
    for (const name of (await caches.keys()).filter(old)) await caches.delete(name);
    await self.clients.claim();
  };
  event.waitUntil(clear());
});

/** From the household, or as it last answered. */
async function fresh(request) {
  const cache = await caches.open(ANSWERS);
  try {
    const answer = await fetch(request);
    if (answer.ok) await cache.put(request, answer.clone());
    return answer;
  } catch (gone) {
    const known = await cache.match(request);
    if (known) return known;
    throw gone;
  }
}

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== self.location.origin) return;
  if (request.mode === "navigate") {
    event.respondWith(fetch(request).catch(() => caches.match("/")));
  } else if (url.pathname.startsWith("/assets/")) {
    event.respondWith(caches.match(request).then((known) => known ?? fetch(request)));
  } else if (SHOWN_OFFLINE.test(url.pathname)) {
    event.respondWith(fresh(request));
  }
});
