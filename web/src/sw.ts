/**
 * Keeps the application and what was last seen, so that a reload without the
 * network still shows the page. Never judges, never answers a changing request.
 * A new version waits until the last tab of the old one is closed: open tabs still need its parts.
 */
/// <reference lib="webworker" />
import { SEEN } from "./offline/seen";
import { clientsClaim } from "workbox-core";
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute, type PrecacheEntry } from "workbox-precaching";
import { NavigationRoute, registerRoute } from "workbox-routing";
import { NetworkFirst } from "workbox-strategies";

declare const self: ServiceWorkerGlobalScope & { __WB_MANIFEST: (PrecacheEntry | string)[] };

precacheAndRoute(self.__WB_MANIFEST);
cleanupOutdatedCaches();
clientsClaim();

/** Forget what was seen when somebody signs in or out: it was another person's. */
self.addEventListener("message", (event) => {
  if (event.data === "forget") event.waitUntil(caches.delete(SEEN));
});

/** Pages: from the network, so that a new version is met at once; without it, the one that is kept. */
const kept = createHandlerBoundToURL("/index.html");
registerRoute(
  new NavigationRoute(async (options) => {
    try {
      return await fetch(options.request);
    } catch {
      return kept(options);
    }
  }),
);

/** Whether somebody may start is never shown from what was kept, and papers are not kept either. */
const NEVER_KEPT = /^\/api\/(health|machines\/|session|tags|calls)|\.pdf$/;

const seen = new NetworkFirst({
  cacheName: SEEN,
  plugins: [
    {
      // what is closed to this person now is not shown from what was kept
      fetchDidSucceed: async ({ request, response }) => {
        if (response.status === 401 || response.status === 403) await (await caches.open(SEEN)).delete(request);
        return response;
      },
      cacheWillUpdate: ({ response }) => Promise.resolve(response.status === 200 ? response : null),
      cachedResponseWillBeUsed: ({ cachedResponse }) => {
        if (!cachedResponse) return Promise.resolve(null);
        const headers = new Headers(cachedResponse.headers);
        headers.set("X-Incudo-Kept", "1");
        return Promise.resolve(new Response(cachedResponse.body, { status: cachedResponse.status, headers }));
      },
    },
  ],
});
registerRoute(({ url, sameOrigin }) => sameOrigin && url.pathname.startsWith("/api/") && !NEVER_KEPT.test(url.pathname), seen);
