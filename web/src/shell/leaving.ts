/**
 * Signing out works without the network: this browser forgets at once, and the server is told as
 * soon as it can be reached. Until then nothing here uses the session that was left.
 */
import { api, Away, body } from "../api/client";

/** The token of a session that was left and of which the server does not know that yet. */
const LEFT = "incudo-left";

export function hasLeft(): boolean {
  return localStorage.getItem(LEFT) !== null;
}

/** Leave: from here on this browser does not know who was signed in. */
export function leave(token: string): void {
  localStorage.setItem(LEFT, token);
}

/** Tell the server of the session that was left; true when there is nothing left to tell. */
export async function tellServer(): Promise<boolean> {
  const token = localStorage.getItem(LEFT);
  if (token === null) return true;
  try {
    await body(api.POST("/api/sign-out", { headers: { "X-Incudo-Token": token } }));
  } catch (error) {
    // whatever else it answers, it has no such session any more
    if (error instanceof Away) return false;
  }
  localStorage.removeItem(LEFT);
  return true;
}

/** Told when another tab of this browser leaves. */
export function onLeft(tell: () => void): () => void {
  const heard = (event: StorageEvent) => {
    if (event.key === LEFT && event.newValue !== null) tell();
  };
  window.addEventListener("storage", heard);
  return () => window.removeEventListener("storage", heard);
}
