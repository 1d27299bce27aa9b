/** Where the service worker keeps what was last seen of each page; emptied when somebody signs out. */
export const SEEN = "incudo-seen";

/** An answer that came another way than by asking for the page: without the network the page shows this one. */
export async function keepSeen(path: string, answer: unknown): Promise<void> {
  if (!("caches" in window)) return;
  const cache = await caches.open(SEEN);
  await cache.put(path, new Response(JSON.stringify(answer), { headers: { "Content-Type": "application/json" } }));
}
