import dayjs from "dayjs";

/** How long ago, as a number and its unit. */
export function ago(since: string, now: Date): [string, string] {
  const minutes = Math.max(0, Math.round(dayjs(now).diff(since, "minute", true)));
  if (minutes < 120) return [String(minutes), "min"];
  if (minutes < 48 * 60) return [String(Math.round(minutes / 60)), "h"];
  return [String(Math.round(minutes / 1440)), "days"];
}

/** The time of day, such as 18:05. */
export function clock(at: string): string {
  return dayjs(at).format("HH:mm");
}

/** The day in short, such as 4 Nov. */
export function day(at: string | number): string {
  return dayjs(at).format("D MMM");
}

/** The day with its year, such as 4 Nov 2026. */
export function dayOfYear(at: string | number): string {
  return dayjs(at).format("D MMM YYYY");
}

/** The day with its weekday, such as Tue 4 Nov. */
export function weekday(at: string): string {
  return dayjs(at).format("ddd D MMM");
}

/** The time of day if it is today, else the day. */
export function shortly(at: string): string {
  return dayjs(at).isSame(dayjs(), "day") ? clock(at) : day(at);
}

/** "today at 18:05", or the day and the time. */
export function when(at: string): string {
  return dayjs(at).isSame(dayjs(), "day") ? `today at ${clock(at)}` : dayjs(at).format("D MMMM, HH:mm");
}

/** The day with its year and the time, such as 4 Nov 2026, 18:05. */
export function moment(at: string): string {
  return dayjs(at).format("D MMM YYYY, HH:mm");
}
