import { useSyncExternalStore } from "react";

/** Whether the last answer came from the server itself, and not from what was kept here. */
let reached = true;
const listeners = new Set<() => void>();

export function noteReached(now: boolean): void {
  if (now === reached) return;
  reached = now;
  listeners.forEach((tell) => tell());
}

export function useReached(): boolean {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => reached,
  );
}
