import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { Away, body, newId, Refusal, wordsFor } from "../src/api/client";
import type { Characteristic, JobCard, Reading } from "../src/api/client";
import { instrumentFor, nextWanting } from "../src/pages/jobcards/choose";
import { sure } from "../src/shared/sure";
import { ago, clock, day, shortly, today, weekday, weekdayAndTime, when } from "../src/shared/time";
import { setZone } from "../src/shared/zone";

beforeEach(() => vi.useFakeTimers({ now: new Date(2026, 10, 27, 18, 5) }));
afterEach(() => vi.useRealTimers());
const at = (hours: number, minutes = 0) => new Date(2026, 10, 27, 18 - hours, 5 - minutes).toISOString();

test.each([
  [0, 0, ["0", "min"]],
  [1, 59, ["119", "min"]],
  [2, 0, ["2", "h"]],
  [47, 29, ["47", "h"]],
  [48, 0, ["2", "days"]],
  [-1, 0, ["0", "min"]],
])("how long ago: %i h %i min", (hours, minutes, said) => {
  expect(ago(at(hours, minutes), new Date())).toEqual(said);
});

test("moments are said as short as they can be", () => {
  expect(clock(at(0))).toBe("18:05");
  expect(shortly(at(3))).toBe("15:05");
  expect(shortly(at(30))).toBe("26 Nov");
  expect(when(at(3))).toBe("today at 15:05");
  expect(when(at(30))).toBe("26 November, 12:05");
  expect(when(at(24 * 400))).toMatch(/ 20\d\d, \d\d:\d\d$/);
  expect(day(at(0))).toBe("27 Nov");
  expect(weekday(at(0))).toBe("Fri 27 Nov");
});

test("pages show the shop's time, whatever a tablet is set to", () => {
  vi.setSystemTime("2026-11-28T02:05:00Z");
  setZone("Etc/GMT+5");
  expect(clock("2026-11-28T02:05:00Z")).toBe("21:05");
  expect(today()).toBe("2026-11-27");
  expect(when("2026-11-28T04:59:59Z")).toBe("today at 23:59");
  expect(when("2026-11-28T05:00:00Z")).toBe("28 November, 00:00");
  expect(day("2026-11-28")).toBe("28 Nov");
  expect(weekdayAndTime("UTC")).toBe("Sat 28 Nov, 02:05");
  // a zone that this browser does not know leaves its own clock
  setZone("Harbour/Road");
  expect(clock(new Date(2026, 10, 28, 7, 9).toISOString())).toBe("07:09");
});

test("a fresh id is a version 7 UUID and sorts by time", () => {
  const first = newId();
  vi.advanceTimersByTime(2);
  const second = newId();
  expect(first).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
  expect(first < second).toBe(true);
});

const answer = (status: number, error?: unknown, data?: unknown) => Promise.resolve({ data, error, response: new Response(null, { status }) });

test.each([502, 503, 504])("%i is a server that is away", async (status) => {
  await expect(body(answer(status))).rejects.toBeInstanceOf(Away);
});

test.each([500, 501, 422])("%i is an answer, not an absence", async (status) => {
  await expect(body(answer(status, { detail: "why" }))).rejects.toBeInstanceOf(Refusal);
});

test("a refusal says its fields, or its reason", () => {
  const field = { field: "value", value: "x", bound: "must be a number" };
  expect(wordsFor(new Refusal(422, "no", [field, { ...field, field: "unit" }]))).toBe("value: must be a number; unit: must be a number");
  expect(wordsFor(new Refusal(403, "not you", []))).toBe("not you");
  expect(wordsFor("?")).toBe("Something went wrong.");
});

test("what is missing names itself", () => {
  expect(sure(0)).toBe(0);
  expect(sure("")).toBe("");
  expect(() => sure(undefined, "the vise")).toThrow("the vise is missing");
  expect(() => sure(null)).toThrow("missing");
});

const card = {
  instruments: [
    { id: "a", cannot_decide: "" },
    { id: "late", cannot_decide: "overdue" },
  ],
} as unknown as JobCard;
const asked = (number: number, wants: boolean, offers: string | null = "a") => ({ number, wants, offers }) as unknown as Characteristic;
const used = (id: string) => [{ instrument: { id } }] as unknown as Reading[];

test("the instrument picked goes first, then the one used here, then the one offered", () => {
  expect(instrumentFor(card, asked(1, true, "b"), used("a"), "late")).toBe("late");
  expect(instrumentFor(card, asked(1, true, "b"), used("a"), null)).toBe("a");
  expect(instrumentFor(card, asked(1, true, "b"), used("late"), null)).toBe("b");
  expect(instrumentFor(card, asked(1, true, "b"), used("gone"), "gone")).toBe("b");
  expect(instrumentFor(card, asked(1, true, null), [], null)).toBeUndefined();
});

test("the next that wants a reading comes after this one, and round again", () => {
  const all = [asked(1, true), asked(2, false), asked(3, true)];
  expect(nextWanting(all, 1)).toBe(3);
  expect(nextWanting(all, 3)).toBe(1);
  expect(nextWanting([asked(1, false), asked(2, false)], 1)).toBe(2);
  expect(nextWanting([asked(7, true)], 7)).toBe(7);
});
