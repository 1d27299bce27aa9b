/** How long ago, as a number and its unit. */
export function ago(since: string, now: Date): [string, string] {
  const minutes = Math.max(0, Math.round((now.getTime() - new Date(since).getTime()) / 60_000));
  if (minutes < 120) return [String(minutes), "min"];
  if (minutes < 48 * 60) return [String(Math.round(minutes / 60)), "h"];
  return [String(Math.round(minutes / 1440)), "days"];
}
