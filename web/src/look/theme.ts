import { useSyncExternalStore } from "react";

const KEPT = "incudo-theme";
export type ThemeName = "day" | "evening";
const listeners = new Set<() => void>();

function now(): ThemeName {
  return localStorage.getItem(KEPT) === "evening" ? "evening" : "day";
}

function apply(): void {
  document.documentElement.dataset.theme = now();
}

function show(): void {
  apply();
  for (const tell of listeners) tell();
}

/** Day or evening: the other one, from now on and after a reload. */
export function toggleTheme(): void {
  localStorage.setItem(KEPT, now() === "evening" ? "day" : "evening");
  show();
}

/** The theme that is shown. */
export function useTheme(): ThemeName {
  return useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  }, now);
}

apply();
// chosen in another tab: this one follows
window.addEventListener("storage", show);
