import dayjs from "dayjs";
import { languageNow, say } from "./say";
import { zoneNow } from "./zone";

/** How long ago, as a number and its unit. */
export function ago(since: string, now: Date): [string, string] {
  const minutes = Math.max(0, Math.round(dayjs(now).diff(since, "minute", true)));
  if (minutes < 120) return [String(minutes), say("min")];
  if (minutes < 48 * 60) return [String(Math.round(minutes / 60)), say("h")];
  return [String(Math.round(minutes / 1440)), say("days")];
}

/** Days and times are written as the language of the pages does; English as a shop does that writes the day first. */
function written(at: string | number, how: Intl.DateTimeFormatOptions): string {
  const language = languageNow();
  // a day by itself is that day everywhere
  const timeZone = isDay(at) ? undefined : zoneNow();
  return new Intl.DateTimeFormat(language.startsWith("en") ? "en-GB" : language, { ...how, timeZone }).format(dayjs(at).toDate());
}

function isDay(at: string | number): boolean {
  return typeof at === "string" && /^\d{4}-\d\d-\d\d$/.test(at);
}

/** The day of a moment in the shop, such as 2026-11-04. */
export function dayOf(at: string | number): string {
  if (isDay(at)) return String(at);
  return new Intl.DateTimeFormat("en-CA", { year: "numeric", month: "2-digit", day: "2-digit", timeZone: zoneNow() }).format(dayjs(at).toDate());
}

/** The day that it is in the shop. */
export function today(): string {
  return dayOf(Date.now());
}

/** The time of day, such as 18:05. */
export function clock(at: string): string {
  return written(at, { hour: "2-digit", minute: "2-digit" });
}

/** The day in short, such as 4 Nov. */
export function day(at: string | number): string {
  return written(at, { day: "numeric", month: "short" });
}

/** The day with its year, such as 4 Nov 2026. */
export function dayOfYear(at: string | number): string {
  return written(at, { day: "numeric", month: "short", year: "numeric" });
}

/** The day with its weekday, such as Tue 4 Nov. */
export function weekday(at: string): string {
  return written(at, { weekday: "short", day: "numeric", month: "short" });
}

/** The time of day if it is today, else the day. */
export function shortly(at: string): string {
  return dayOf(at) === today() ? clock(at) : day(at);
}

/** "today at 18:05", or the day and the time; with its year where that is not this one. */
export function when(at: string): string {
  if (dayOf(at) === today()) return say("today at {clock}", { clock: clock(at) });
  const year = dayOf(at).slice(0, 4) === today().slice(0, 4) ? {} : { year: "numeric" as const };
  return say("{day}, {clock}", { day: written(at, { day: "numeric", month: "long", ...year }), clock: clock(at) });
}

/** The day with its year and the time, such as 4 Nov 2026, 18:05. */
export function moment(at: string): string {
  return say("{day}, {clock}", { day: dayOfYear(at), clock: clock(at) });
}

/** The weekday, the day and the time now by the clock of a zone, such as Tue 4 Nov, 18:05. */
export function weekdayAndTime(zone: string): string {
  const language = languageNow();
  const how = { weekday: "short", day: "numeric", month: "short", hour: "2-digit", minute: "2-digit", timeZone: zone } as const;
  return new Intl.DateTimeFormat(language.startsWith("en") ? "en-GB" : language, how).format(Date.now());
}
