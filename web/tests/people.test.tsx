/** An empty shop, its people and its groups: who sees what, and what each page says before anything is touched. */
import { describe, expect, it } from "vitest";
import "./browser";
import type { Schema } from "../src/api/client";
import { queries } from "../src/api/queries";
import { HandleDial } from "../src/instruments/HandleDial";
import { Groups } from "../src/pages/administration/Groups";
import NewMachinePage from "../src/pages/administration/NewMachinePage";
import PeoplePage from "../src/pages/administration/PeoplePage";
import ReadyPage from "../src/pages/administration/ReadyPage";
import { FirstRun } from "../src/pages/people/FirstRun";
import { Join } from "../src/pages/people/Join";
import { as, buttons, drawn, texts } from "./render";

type Line = Schema["PersonLine"];
const line = (name: string, change: Partial<Line> = {}): Line => ({
  person: { id: name, name },
  login: name.toLowerCase(),
  role: "student",
  group: { id: "g", name: "Tuesday group" },
  active: true,
  joined: true,
  code_until: null,
  last_sign_in: "2026-03-10T10:00:00Z",
  why_not: "",
  ...change,
});
const group = (change: Partial<Schema["GroupLine"]> = {}): Schema["GroupLine"] => ({
  id: "g",
  name: "Tuesday group",
  begins: null,
  ends: null,
  students: 12,
  over: false,
  ...change,
});
const people = (lines: Line[], change: Partial<Schema["PeopleList"]> = {}, who = as("instructor")) =>
  drawn(<PeoplePage />, who, (client) =>
    client.setQueryData(queries.people({ find: "", role: undefined, active: true }).queryKey, {
      people: lines,
      more: false,
      never_in: 0,
      groups: [group()],
      ...change,
    }),
  );

describe("people", () => {
  it("are changed by an instructor, and only read by others", () => {
    const html = people([line("Orla")]);
    for (const words of ["Add a person", "New code", "Change"]) expect(buttons(html)).toContain(words);
    const read = people([line("Orla", { why_not: "Only an instructor changes this." })], {}, as("auditor"));
    for (const words of ["Add a person", "New code", "Change"]) expect(buttons(read)).not.toContain(words);
    expect(texts(read)).not.toContain("can only be changed by them");
  });

  it("are not changed where the server says why not", () => {
    const html = people([line("Selby", { role: "instructor", group: null, why_not: "nobody but themselves" })]);
    expect(texts(html)).toContain("can only be changed by them");
    expect(buttons(html)).not.toContain("New code");
  });

  it("say when each was in last, or that a code waits, or that none holds any more", () => {
    const html = texts(
      people([
        line("One"),
        line("Two", { joined: false, code_until: "2026-03-24T10:00:00Z", last_sign_in: null }),
        line("Three", { joined: false, last_sign_in: null }),
        line("Four", { last_sign_in: null }),
      ]),
    );
    expect(html).toContain("10 Mar");
    expect(html).toMatch(/code until 24 Mar, \d\d:\d\d/);
    expect(html).toContain("never; no valid code");
    expect(html).toContain("not recorded");
  });

  it.each([
    [1, "1 person has not signed in yet."],
    [3, "3 people have not signed in yet."],
  ])("warn of %i who never came in", (never_in, words) => {
    expect(texts(people([], { never_in }))).toContain(words);
  });

  it("say that there are more, or that nobody is found", () => {
    expect(texts(people([]))).toContain("Nobody found.");
    expect(texts(people([line("One")], { more: true }))).toContain("There are more: type a part of the name.");
    expect(texts(people([line("One")]))).not.toContain("There are more");
  });
});

describe("groups", () => {
  const groups = (of: Schema["GroupLine"], changes = true) => drawn(<Groups groups={[of]} changes={changes} />, as("instructor"));
  it.each([
    [{}, "without an end"],
    [{ begins: "2026-09-01" }, "from 1 Sept"],
    [{ ends: "2026-12-18" }, "until 18 Dec"],
    [{ begins: "2026-09-01", ends: "2026-12-18" }, "1 Sept to 18 Dec"],
    [{ ends: "2026-01-30", over: true }, "ended 30 Jan"],
  ])("say their term: %o", (change, words) => {
    expect(texts(groups(group(change)))).toContain(words);
  });

  it("are changed by who may, and missed where there are none", () => {
    expect(buttons(groups(group()))).toEqual(["Add a group", "Change"]);
    expect(buttons(groups(group(), false))).toEqual([]);
    expect(texts(drawn(<Groups groups={[]} changes />, as("instructor")))).toContain("a session is opened for a group");
  });
});

describe("coming in", () => {
  it("begins with the code, and goes on only with one", () => {
    const html = drawn(<Join onSignedIn={() => undefined} onBack={() => undefined} />, as("student"));
    expect(texts(html)).toContain("The code on your slip");
    expect(buttons(html, true)).toEqual(["Back to sign in"]);
    expect(html).not.toContain("new-password");
  });

  it("sets an empty shop up only when all is there, with the usual choices set", () => {
    const html = drawn(<FirstRun onSignedIn={() => undefined} spellings={[{ key: "", words: "centre, vise" }]} />, as("instructor"));
    expect(buttons(html)).toEqual(["Set up the shop"]);
    expect(buttons(html, true)).toEqual([]);
    expect(html.match(/ant-radio-wrapper-checked|ant-radio-checked/g)?.length).toBeGreaterThanOrEqual(3);
    for (const words of ["The code that the server printed", "Its name", "A PIN of 4 to 8 digits", "centre, vise"]) expect(texts(html)).toContain(words);
  });
});

describe("before the first class", () => {
  const item = (what: Schema["Ready"], count: number, needed: boolean) => ({ what, words: what, why: `Why ${what}.`, count, needed });
  const ready = (missing: number, ...items: ReturnType<typeof item>[]) =>
    drawn(<ReadyPage />, as("instructor"), (client) => client.setQueryData(queries.ready().queryKey, { items, missing }));

  it("counts what is missing, and points first at what nothing begins without", () => {
    const html = ready(1, item("machines", 0, true), item("gauges", 0, false), item("groups", 1, true));
    expect(texts(html)).toContain("1 thing is missing before a session can be opened.");
    expect([...html.matchAll(/class="button first" href="([^"]*)"/g)].map((m) => m[1])).toEqual(["/shop/machines/new"]);
    expect(texts(ready(2))).toContain("2 things are missing");
  });

  it("leads to the session when nothing is missing", () => {
    const html = ready(0, item("machines", 2, true));
    expect(texts(html)).toContain("A session can be opened.");
    expect(html).toContain('href="/session"');
  });
});

describe("a new machine", () => {
  it("begins with what it is most like", () => {
    const kinds = [
      { id: "a", name: "Knee mill, inch", about: "Ram and head." },
      { id: "b", name: "Bench mill", about: "On a column." },
    ] as unknown as Schema["MachineKindView"][];
    const html = drawn(<NewMachinePage />, as("instructor"), (client) => client.setQueryData(queries.machineKinds().queryKey, { kinds, ways: {} }));
    expect(buttons(html)).toEqual(["Knee mill, inchRam and head.", "Bench millOn a column."]);
  });

  it.each([
    ["right", 0],
    ["left", 180],
    ["away", -90],
    ["towards", 90],
    ["up", -90],
    ["down", 90],
  ] as const)("draws where a handle goes: %s", (way, degrees) => {
    const html = drawn(<HandleDial clockwise={way} said="left end" />, as("instructor"));
    expect(html).toContain(`<g transform="rotate(${degrees})">`);
    expect(html).toContain('aria-label="left end"');
  });
});
