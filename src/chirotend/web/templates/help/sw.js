// Keeps the urgent page and the curtain card for when there is no network. Nothing else is kept.
const KEPT = "urgent-1";
const FILES = {{ kept|tojson }};

self.addEventListener("install", (event) => {
  event.waitUntil(caches.open(KEPT).then((cache) => cache.addAll(FILES)).then(() => self.skipWaiting()));
});

self.addEventListener("activate", (event) => {
  event.waitUntil(caches.keys()
    .then((names) => Promise.all(names.filter((n) => n !== KEPT).map((n) => caches.delete(n))))
    .then(() => self.clients.claim()));
});

self.addEventListener("fetch", (event) => {
  const path = new URL(event.request.url).pathname;
  if (event.request.method !== "GET") return;
  if (path === "/urgent") {
    event.respondWith(fetch(event.request).catch(() => caches.match(FILES[0])));
  } else if (path === "/curtain/") {
    event.respondWith(fetch(event.request).then((answer) => {
      if (answer.ok) { const copy = answer.clone(); caches.open(KEPT).then((cache) => cache.put("/curtain/", copy)); }
      return answer;
    }).catch(() => caches.match("/curtain/")));
  } else if (FILES.includes(path)) {
    event.respondWith(fetch(event.request).catch(() => caches.match(path)));
  }
});
