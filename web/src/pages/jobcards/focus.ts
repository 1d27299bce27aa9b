/** Puts the cursor where the next reading is typed, once the page has drawn it. */
export function focusReading(): void {
  requestAnimationFrame(() => document.getElementById("reading")?.focus({ preventScroll: true }));
}
