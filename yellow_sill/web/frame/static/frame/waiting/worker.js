/** The service worker: when nothing answers it shows the waiting page; it keeps that, and no page with data. */

/** What the server writes above this: a name for this build's files, and their addresses. */
const worker = /** @type {any} */ (self);
/** @type {{ name: string, page: string, kept: string[] }} */
const { name: NAME, page: PAGE, kept: KEPT } = worker.yellowSill;

async function prepared() {
  const kept = await caches.open(NAME);
  await kept.addAll([PAGE, ...KEPT]);
  await worker.skipWaiting();
}

async function begun() {
  for (const old of await caches.keys()) if (old !== NAME) await caches.delete(old);
  await worker.clients.claim();
}

worker.addEventListener("install", (/** @type {any} */ event) => event.waitUntil(prepared()));
worker.addEventListener("activate", (/** @type {any} */ event) => event.waitUntil(begun()));
worker.addEventListener("fetch", (/** @type {any} */ event) => {
  const { request } = event;
  if (request.mode === "navigate") event.respondWith(fetch(request).catch(() => caches.match(PAGE)));
  else if (KEPT.includes(new URL(request.url).pathname))
    event.respondWith(fetch(request).catch(() => caches.match(request)));
});
