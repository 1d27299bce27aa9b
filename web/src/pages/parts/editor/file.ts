/** A part's file as the page holds it: JSON that only the server understands. The page reads and writes by path. */
export type Json = string | number | boolean | null | Json[] | { [key: string]: Json };
export type PartFile = { [key: string]: Json };

/** What stands at a path such as `features.2.layout.at.0`. */
export function get(file: Json, path: string): Json | undefined {
  let at: Json | undefined = file;
  for (const step of path.split(".")) {
    if (at === null || typeof at !== "object") return undefined;
    at = Array.isArray(at) ? at[Number(step)] : at[step];
  }
  return at;
}

/** The file with something else at a path; nothing of the old one is changed. */
export function set(file: Json, path: string, value: Json): Json {
  const [first = "", ...rest] = path.split(".");
  const next = rest.length === 0 ? value : set(get(file, first) ?? {}, rest.join("."), value);
  if (Array.isArray(file)) return file.map((item, n) => (n === Number(first) ? next : item));
  return { ...(file as PartFile), [first]: next };
}

/** The file without one item of a list. */
export function without(file: PartFile, list: string, n: number): PartFile {
  return set(
    file,
    list,
    items(file, list).filter((_, i) => i !== n),
  ) as PartFile;
}

/** The file with one more item at the end of a list. */
export function withMore(file: PartFile, list: string, item: Json): PartFile {
  return set(file, list, [...items(file, list), item]) as PartFile;
}

/** A list of the file, empty where there is none. */
export function items(file: PartFile, list: string): PartFile[] {
  const found = get(file, list);
  return Array.isArray(found) ? (found as PartFile[]) : [];
}

/** What stands at a path as a field shows it. */
export function text(file: Json, path: string): string {
  const value = get(file, path);
  return typeof value === "string" ? value : typeof value === "number" ? String(value) : "";
}
