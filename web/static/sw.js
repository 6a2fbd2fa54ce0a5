// Without network a tablet goes on with what it has seen: pages as of when they were, and the whole of an
// open run. Nothing is judged here: what is written down waits in the outbox, and the server judges it
// when it comes.

const PAGES = "pages";
const STATIC = "static";
const mostPages = 120;
const mostStatic = 60;
const patience = 5000; // ms that a page may take while an older one lies here

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

const keep = async (name, request, response, most) => {
  const cache = await caches.open(name);
  await cache.put(request, response);
  const keys = await cache.keys();
  for (const old of keys.slice(0, Math.max(0, keys.length - most))) await cache.delete(old);
};

// stamped notes when a page was made, beside it.
const stamped = async (response) => {
  const headers = new Headers(response.headers);
  headers.set("Ashshelf-As-Of", new Date().toISOString());
  return new Response(await response.blob(), { status: response.status, headers });
};

// older is a page as it was, which says so on top.
const older = async (response) => {
  const asOf = response.headers.get("Ashshelf-As-Of") ?? "";
  const text = await response.text();
  const headers = new Headers(response.headers);
  headers.delete("Content-Length");
  return new Response(text.replace('<main id="main"', `<main id="main" data-as-of="${asOf}"`), { status: 200, headers });
};

const nothing = () =>
  new Response(
    '<!doctype html><html lang="en"><meta charset="utf-8"><title>Without network</title>' +
      "<h1>Without network</h1><p>This page was not looked at before on this device, so that it is not here. " +
      'Go back, or <a href="/">to the shelf</a>; it comes by itself when the network is back.</p>',
    { status: 503, headers: { "Content-Type": "text/html; charset=utf-8" } },
  );

const page = async (request) => {
  const cached = await (await caches.open(PAGES)).match(request, { ignoreVary: true });
  try {
    const signal = cached ? AbortSignal.timeout(patience) : undefined;
    const fresh = await fetch(request, { signal });
    // A page that led to who comes in is nobody's any more.
    if (fresh.redirected && new URL(fresh.url).pathname === "/who") await caches.delete(PAGES);
    const own = fresh.ok && !fresh.redirected && !fresh.headers.has("Ashshelf-Beside") && (fresh.headers.get("Content-Type") ?? "").startsWith("text/html");
    if (own) await keep(PAGES, request, await stamped(fresh.clone()), mostPages);
    return fresh;
  } catch {
    return cached ? older(cached) : nothing();
  }
};

const file = async (request) => {
  const cached = await (await caches.open(STATIC)).match(request);
  if (cached) return cached;
  const fresh = await fetch(request);
  if (fresh.ok) await keep(STATIC, request, fresh.clone(), mostStatic);
  return fresh;
};

// Who comes in or goes takes the pages of whoever was there before off the device, and so does another shop.
const changes = /^\/(who|out|welcome|beside|enrol|restored|you)(\/|$)|\/rehearse$/;

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (url.origin !== location.origin) return;
  if (request.method === "POST" && changes.test(url.pathname)) {
    event.respondWith(caches.delete(PAGES).then(() => fetch(request)));
  } else if (request.method === "GET" && url.pathname.startsWith("/static/")) {
    event.respondWith(file(request));
  } else if (request.mode === "navigate" && request.method === "GET") {
    event.respondWith(page(request));
  }
});

// The steps of an open run are fetched ahead, so that all of it is here when the network goes.
self.addEventListener("message", (event) => {
  if (event.data?.keep) {
    event.waitUntil(
      (async () => {
        for (const url of event.data.keep) {
          try {
            const fresh = await fetch(url, { credentials: "same-origin" });
            if (fresh.ok && !fresh.redirected) await keep(PAGES, new Request(url), await stamped(fresh), mostPages);
          } catch {
            return; // it went in the middle: what is here is here
          }
        }
      })(),
    );
  }
});
