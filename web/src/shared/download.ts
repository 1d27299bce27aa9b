/** Saves something as a JSON file on one's own device. */
export function download(name: string, value: unknown): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([JSON.stringify(value, null, 1)], { type: "application/json" }));
  link.download = `${name.toLowerCase().replace(/[^a-z0-9]+/g, "-")}.json`;
  link.click();
  URL.revokeObjectURL(link.href);
}
