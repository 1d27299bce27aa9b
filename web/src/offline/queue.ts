import { sure } from "../shared/sure";
/**
 * Entries that wait for the server.
 *
 * They live in the browser's database, so a reload loses nothing; they are sent
 * one by one in the order they were made, each with the id it was made with,
 * so that sending twice does nothing twice. An entry belongs to the person who
 * made it and is never sent under another sign-in. What the server refuses
 * stays here with the reason until its owner takes it away.
 */
import { openDB, type DBSchema } from "idb";
import { api, Away, body, newId, Refusal, wordsFor, type Schema } from "../api/client";

type Content =
  | { kind: "reading"; attempt: string; body: Schema["ReadingCommand"] }
  | { kind: "check-reading"; attempt: string; body: Schema["ReadingCommand"] }
  | { kind: "hand-in"; attempt: string; body: Schema["HandInCommand"] }
  | { kind: "tick"; attempt: string; body: Schema["TickCommand"] }
  | { kind: "run"; attempt: string; body: Schema["RunTickCommand"] }
  | { kind: "sign"; attempt: string; body: Schema["KeepSign"] };

export type Entry = Content & { order?: number; owner: string; assignment: string; refused: string };

interface Store extends DBSchema {
  entries: { key: number; value: Entry; indexes: { owner: string } };
}

const database = openDB<Store>("incudo", 1, {
  upgrade(db) {
    const entries = db.createObjectStore("entries", { keyPath: "order", autoIncrement: true });
    entries.createIndex("owner", "owner");
  },
});

type Listener = () => void;
const listeners = new Set<Listener>();
const channel = new BroadcastChannel("incudo-queue");
channel.onmessage = () => listeners.forEach((tell) => tell());

function changed(): void {
  listeners.forEach((tell) => tell());
  channel.postMessage("changed");
}

export function onChange(tell: Listener): () => void {
  listeners.add(tell);
  return () => listeners.delete(tell);
}

/** All entries of one person that wait, oldest first. */
export async function waiting(owner: string): Promise<Entry[]> {
  return (await database).getAllFromIndex("entries", "owner", owner);
}

/** Keep an entry; it is on disk when this returns. */
export async function keep(owner: string, assignment: string, content: Content): Promise<void> {
  await (await database).add("entries", { ...content, owner, assignment, refused: "" });
  changed();
}

/** Take a refused entry away. */
export async function discard(entry: Entry): Promise<void> {
  await (await database).delete("entries", sure(entry.order));
  changed();
}

/** Offer a refused entry to the server once more. */
export async function again(entry: Entry): Promise<void> {
  await (await database).put("entries", { ...entry, refused: "" });
  changed();
}

function send(entry: Entry): Promise<unknown> {
  const params = { path: { attempt: entry.attempt } };
  switch (entry.kind) {
    case "reading":
      return body(api.POST("/api/attempts/{attempt}/readings", { params, body: entry.body }));
    case "check-reading":
      return body(api.POST("/api/attempts/{attempt}/check-readings", { params, body: entry.body }));
    case "hand-in":
      return body(api.POST("/api/attempts/{attempt}/hand-ins", { params, body: entry.body }));
    case "run":
      return body(api.POST("/api/attempts/{attempt}/run", { params, body: entry.body }));
    case "sign":
      return body(api.POST("/api/attempts/{attempt}/signs", { params, body: entry.body }));
    case "tick":
      return body(api.POST("/api/attempts/{attempt}/stations", { params, body: entry.body }));
  }
}

export type Sent = { entry: Entry; answer?: unknown; refusal?: Refusal };
export type Outcome = "empty" | "away" | "signed-out";

/**
 * Send what waits, in order. Stops at the first entry that cannot get through.
 * One tab at a time sends (a lock of the browser).
 */
export async function flush(owner: string, told: (sent: Sent) => void): Promise<Outcome> {
  return navigator.locks.request("incudo-queue", async () => {
    const db = await database;
    for (const entry of await db.getAllFromIndex("entries", "owner", owner)) {
      if (entry.refused) continue;
      try {
        const answer = await send(entry);
        await db.delete("entries", sure(entry.order));
        told({ entry, answer });
      } catch (error) {
        if (error instanceof Away || !(error instanceof Refusal)) return "away";
        if (error.status === 401) return "signed-out";
        if (error.status >= 500 || error.status === 429) return "away";
        await db.put("entries", { ...entry, refused: wordsFor(error) });
        told({ entry, refusal: error });
      }
      changed();
    }
    return "empty";
  });
}

export { newId };
