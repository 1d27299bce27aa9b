/** Saves something as a JSON file on one's own device. */
export function download(name: string, value: unknown): void {
  save(name, "json", new Blob([JSON.stringify(value, null, 1)], { type: "application/json" }));
}

/** Saves a file on one's own device. */
export function save(name: string, ending: string, file: Blob): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(file);
  link.download = `${name.toLowerCase().replace(/[^a-z0-9]+/g, "-")}.${ending}`;
  link.click();
  URL.revokeObjectURL(link.href);
}
