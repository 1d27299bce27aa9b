/**
 * Keeps the application and what was last seen, so that a reload without the
 * network still shows the page. Never judges, never answers a changing request.
 */
/// <reference lib="webworker" />
const worker = self as unknown as ServiceWorkerGlobalScope;
const SHELL = "incudo-shell";
const SEEN = "incudo-seen";

async function install(): Promise<void> {
  const answer = await fetch("/files.json", { cache: "no-store" });
  const files = (await answer.json()) as string[];
  const cache = await caches.open(SHELL);
  await Promise.all(
    files.map(async (file) => {
      const kept = file.startsWith("/assets/") && (await cache.match(file));
      if (!kept) await cache.add(new Request(file, { cache: file === "/" ? "reload" : "default" }));
    }),
  );
  for (const old of await cache.keys()) {
    if (!files.includes(new URL(old.url).pathname)) await cache.delete(old);
  }
}

worker.addEventListener("install", (event) => {
  event.waitUntil(install().then(() => worker.skipWaiting()));
});
worker.addEventListener("activate", (event) => event.waitUntil(worker.clients.claim()));

/** Forget what was seen when somebody signs in or out: it was another person's. */
worker.addEventListener("message", (event) => {
  if (event.data === "forget") event.waitUntil(caches.delete(SEEN));
});

async function page(request: Request): Promise<Response> {
  try {
    return await fetch(request);
  } catch {
    return (await caches.match("/")) ?? Response.error();
  }
}

async function asset(request: Request): Promise<Response> {
  return (await caches.match(request)) ?? fetch(request);
}

async function seen(request: Request): Promise<Response> {
  const cache = await caches.open(SEEN);
  try {
    const answer = await fetch(request);
    if (answer.ok) await cache.put(request, answer.clone());
    if (answer.status === 401 || answer.status === 403) await cache.delete(request);
    return answer;
  } catch {
    const kept = await cache.match(request);
    if (!kept) return Response.error();
    const headers = new Headers(kept.headers);
    headers.set("X-Incudo-Kept", "1");
    return new Response(kept.body, { status: kept.status, headers });
  }
}

/** Whether somebody may start is never shown from what was kept, and papers are not kept either. */
const NEVER_KEPT = /^\/api\/(health|machines\/|session|tags|calls)|\.pdf$/;

worker.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== worker.location.origin) return;
  if (request.mode === "navigate") event.respondWith(page(request));
  else if (url.pathname.startsWith("/assets/")) event.respondWith(asset(request));
  else if (url.pathname.startsWith("/api/") && !NEVER_KEPT.test(url.pathname)) event.respondWith(seen(request));
});
