import { expect, test } from "vitest";
import type { Me } from "../src/api/client";
import { homeOf, lettered, PLACES, placesOf, shelfOf, topBar, trail } from "../src/shell/routes";

const me = (role: Me["role"]): Me => ({ id: "p1", role }) as Me;
const place = (path: string) => {
  const found = PLACES.find((p) => p.path === path);
  if (!found) throw new Error(path);
  return found;
};

test("no address appears twice, and no letter leads to two places of one person", () => {
  expect(new Set(PLACES.map((p) => p.path)).size).toBe(PLACES.length);
  for (const role of ["student", "assistant", "instructor", "auditor"] as const) {
    const keys = lettered(me(role)).map((p) => p.key);
    expect(topBar(me(role)).length).toBeLessThanOrEqual(7);
    expect(new Set(keys).size).toBe(keys.length);
  }
});

test("a student's bar has no desk of the instructor, an assistant's no records", () => {
  const names = (role: Me["role"]) => topBar(me(role)).map((p) => p.name);
  expect(names("student")).toEqual(["Bench", "Parts", "Skills", "Practice", "Crib"]);
  expect(names("assistant")).toEqual(["Floor", "Session", "Class", "Parts", "Practice", "Shop"]);
  expect(names("instructor")).toContain("Records");
  expect(names("auditor")).toContain("Records");
});

test("addresses in the bar have their person and nothing optional", () => {
  expect(topBar(me("student")).find((p) => p.name === "Skills")?.to).toBe("/skills/p1");
  expect(topBar(me("student")).find((p) => p.name === "Practice")?.covers).toEqual(["/rigs", "/exercises", "/reckon", "/words"]);
});

test("pages of the staff are no pages of a student, and the other way round", () => {
  const paths = placesOf(me("student")).map((p) => p.path);
  for (const closed of ["/floor", "/session", "/class", "/shop", "/check/:handIn", "/assess/:student"]) expect(paths).not.toContain(closed);
  expect(placesOf(me("instructor")).map((p) => p.path)).not.toContain("/bench");
});

test("the way back leads over pages that one may open", () => {
  expect(trail(place("/job/:assignment/find"), { assignment: "a" }, me("student"))).toEqual([
    { name: "Bench", to: "/bench" },
    { name: "Job card", to: "/job/a" },
    { name: "Finding the part", to: "/job/a/find" },
  ]);
  expect(trail(place("/job/:assignment"), { assignment: "a" }, me("instructor"))[0]).toEqual({ name: "Floor", to: "/floor" });
  expect(trail(place("/sheet/:sheet"), { sheet: "s" }, me("student")).map((w) => w.to)).toEqual(["/exercises", "/sheet/s"]);
  expect(trail(place("/questions/:bank?"), {}, me("instructor")).map((w) => w.name)).toEqual(["Teaching", "Questions"]);
});

test("whoever signs in begins at home", () => {
  expect(homeOf(me("student"))).toBe("/bench");
  for (const role of ["assistant", "instructor", "auditor"] as const) expect(homeOf(me(role))).toBe("/floor");
});

test("what stands together is shown together, and alone it is no shelf", () => {
  expect(shelfOf(place("/exercises"), me("student")).map((p) => p.name)).toEqual(["Rigs", "Exercises", "Reckoner", "Words"]);
  expect(shelfOf(place("/crib/:place?"), me("student"))).toEqual([]);
  expect(shelfOf(place("/crib/:place?"), me("assistant")).map((p) => p.to)).toContain("/shop/gauges");
  expect(shelfOf(place("/floor"), me("instructor"))).toEqual([]);
});
