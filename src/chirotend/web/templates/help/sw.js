// Keeps the urgent page, and apart from it what asks a player (the pre-concert card, the morning and a mark), for when there
// is no network or the server fails.
const URGENT = "urgent-2";
const CARD = "card-3";
const AWAY = "/away/";
const KEPT = ["/curtain/", AWAY];
const FILES = {{ kept|tojson }};

self.addEventListener("install", (event) => {
  event.waitUntil(caches.open(URGENT).then((cache) => cache.addAll(FILES)).then(() => self.skipWaiting()));
});

self.addEventListener("activate", (event) => {
  event.waitUntil(caches.keys()
    .then((names) => Promise.all(names.filter((n) => n !== URGENT && n !== CARD).map((n) => caches.delete(n))))
    .then(() => self.clients.claim()));
});

// what the server answers, or what is kept when there is no answer or it is a failure
function orKept(request, kept) {
  return fetch(request).then(async (answer) => (answer.status >= 500 && await kept()) || answer)
    .catch(async (error) => { const copy = await kept(); if (copy) return copy; throw error; });
}

self.addEventListener("fetch", (event) => {
  const path = new URL(event.request.url).pathname;
  if (event.request.method !== "GET") return;
  if (path === "/urgent") {
    event.respondWith(orKept(event.request, () => caches.match(FILES[0])));
  } else if (KEPT.includes(path)) {
    event.respondWith(orKept(event.request, () => caches.match(path)).then((answer) => {
      if (answer.ok && !answer.redirected) {
        const copy = answer.clone();
        caches.open(CARD).then((cache) => cache.put(path, copy));
      }
      return answer;
    }));
  } else if (event.request.mode === "navigate" && (path === "/" || path === "/body/")) {
    // a page that failed says so itself: this one stands in only where there is no answer at all
    event.respondWith(fetch(event.request).catch(async (error) => {
      const copy = await caches.match(AWAY);
      if (copy) return copy;
      throw error;
    }));
  } else if (FILES.includes(path)) {
    event.respondWith(orKept(event.request, () => caches.match(path)));
  }
});
