// The keeper of a screen: what a screen has shown once is stored here, so that it goes on showing it without a network.
// It answers from the store what never changes (pictures and films of a version, the parts of this page), and asks the
// network first for the page itself.
const store = "screen";
const forEver = (url) => url.pathname.startsWith("/s/") || url.pathname.startsWith("/assets/");

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (event.request.method !== "GET" || url.origin !== self.location.origin) return;
  if (forEver(url)) event.respondWith(stored(event.request));
  else if (url.pathname === "/screen" || url.pathname === "/favicon.svg") event.respondWith(fresh(event.request));
});

async function stored(request) {
  const cache = await caches.open(store);
  const range = request.headers.get("Range");
  let answer = await cache.match(request.url);
  if (!answer) {
    answer = await fetch(request.url, { credentials: "omit" }); // all of it, also where only a part is asked for
    if (answer.status !== 200) return answer;
    await cache.put(request.url, answer.clone()).catch(() => undefined); // without room for it, it is shown all the same
  }
  return range ? part(answer, range) : answer;
}

/** part is a part of a stored film (RFC 9110, section 14): players ask for one. */
async function part(answer, range) {
  const bytes = await answer.blob();
  const asked = /^bytes=(\d+)-(\d*)$/.exec(range);
  if (!asked) return new Response(bytes, { headers: answer.headers });
  const from = Number(asked[1]);
  const to = Math.min(asked[2] ? Number(asked[2]) : bytes.size - 1, bytes.size - 1);
  if (from > to) return new Response(null, { status: 416, headers: { "Content-Range": `bytes */${bytes.size}` } });
  return new Response(bytes.slice(from, to + 1), {
    status: 206,
    headers: {
      "Content-Type": answer.headers.get("Content-Type") ?? "application/octet-stream",
      "Content-Range": `bytes ${from}-${to}/${bytes.size}`,
      "Content-Length": String(to - from + 1),
      "Accept-Ranges": "bytes",
    },
  });
}

async function fresh(request) {
  const cache = await caches.open(store);
  try {
    const answer = await fetch(request);
    if (answer.ok) await cache.put(request.url, answer.clone());
    return answer;
  } catch (error) {
    const kept = await cache.match(request.url);
    if (kept) return kept;
    throw error;
  }
}
