/** The floor, its line and the start at a machine: who sees which button, and what each state says. */
import type { ReactElement } from "react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { renderToStaticMarkup } from "react-dom/server";
import { MemoryRouter, Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import "./browser";
import type { Me, Schema } from "../src/api/client";
import { queries } from "../src/api/queries";
import FloorPage from "../src/pages/session/FloorPage";
import { Line } from "../src/pages/session/Line";
import StartPage from "../src/pages/session/StartPage";
import { Before, Running } from "../src/shared/StartHere";
import { MeContext } from "../src/shared/me";

const AT = "2026-03-10T10:00:00Z";
const NOW = new Date(AT);
const orla = { id: "orla", name: "Orla Finnis" };
const mara = { id: "mara", name: "Mara Haldane" };
const petrel = { id: "m1", name: "Petrel" };
const as = (role: Me["role"], who = role === "student" ? orla : mara) => ({ ...who, role, unit: "in", token: "t" }) as unknown as Me;
const texts = (html: string) => html.replace(/<[^>]*>/g, "|").replace(/\|+/g, "|");
const buttons = (html: string) => [...html.matchAll(/<button[^>]*>(.*?)<\/button>/g)].map((m) => texts(m[1] ?? "").replaceAll("|", ""));

function drawn(element: ReactElement, who: Me, put: (client: QueryClient) => void = () => undefined, path = "/x"): string {
  const client = new QueryClient();
  put(client);
  return renderToStaticMarkup(
    <QueryClientProvider client={client}>
      <MemoryRouter initialEntries={[path]}>
        <MeContext value={who}>
          <Routes>
            <Route path="/x" element={element} />
            <Route path="/start/:machine" element={element} />
          </Routes>
        </MeContext>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

const waiting = (kind: string, change: Partial<Schema["Waiting"]> = {}): Schema["Waiting"] => ({
  kind,
  student: orla,
  what: `What of ${kind}`,
  detail: `Detail of ${kind}`,
  since: "2026-03-10T09:48:00Z",
  call: null,
  hand_in: null,
  assignment: null,
  machine: null,
  skill: "facing",
  ...change,
});
const line = (of: Schema["Waiting"][], who = as("instructor")) => drawn(<Line line={of} now={NOW} />, who);

describe("the line", () => {
  it.each([
    ["check", { hand_in: "h" }, "Check part", "/check/h"],
    ["plan", { assignment: "a" }, "See the plan", "/job/a/plan"],
    ["sign", {}, "See it", "/skills/orla?skill=facing"],
    ["show", { call: "c", machine: petrel }, "Checklist", "/assess/orla?skill=facing&amp;machine=m1"],
    ["show", { call: "c" }, "Checklist", '/assess/orla?skill=facing"'],
  ])("leads to what answers: %s", (kind, change, words, to) => {
    const html = line([waiting(kind, change)]);
    expect(texts(html)).toContain(words);
    expect(html).toContain(`href="${to}`);
  });

  it("stands beside by a PIN, and is told who went", () => {
    expect(buttons(line([waiting("start", { call: "c", machine: petrel })]))).toEqual(["I am beside them"]);
    expect(buttons(line([waiting("help", { call: "c" })]))).toEqual(["I have been there"]);
  });

  it("releases a hold point by an instructor only", () => {
    expect(buttons(line([waiting("hold", { call: "c" })]))).toEqual(["Release"]);
    const assistant = line([waiting("hold", { call: "c" })], as("assistant"));
    expect(buttons(assistant)).toEqual([]);
    expect(texts(assistant)).toContain("an instructor releases it");
  });

  it("offers nothing to who does not assess", () => {
    const html = line([waiting("check", { hand_in: "h" })], as("observer" as Me["role"]));
    expect(html).not.toContain("/check/h");
    expect(texts(html)).toContain("Orla Finnis");
  });

  it("has calls before parts and skills, each with how long it waits", () => {
    const html = texts(line([waiting("help", { call: "c" }), waiting("start", { call: "d", machine: petrel }), waiting("check", { hand_in: "h" })]));
    expect(html.match(/Calls from the shop/g)).toHaveLength(1);
    expect(html.match(/Parts and skills/g)).toHaveLength(1);
    expect(html.indexOf("Calls from the shop")).toBeLessThan(html.indexOf("Parts and skills"));
    expect(html).toContain("12| min");
    expect(texts(line([]))).toContain("will appear here with how long they have waited");
  });
});

const plate = (change: Partial<Schema["Plate"]> = {}): Schema["Plate"] => ({
  machine: petrel,
  state: "free",
  about: "Knee mill, belts",
  alarm: false,
  at_work: [],
  linked: true,
  may_alone: [],
  next_up: [],
  open: true,
  run: null,
  spindle: false,
  stands: [],
  tagged_out: "",
  ...change,
});
const session = { id: "s", group: "Tuesday group", here: 8, expected: 10, supervisors: ["Mara Haldane"] } as unknown as Schema["SessionNow"];
const floor = (change: Partial<Schema["Floor"]> = {}, who = as("instructor")) =>
  drawn(<FloorPage />, who, (client) =>
    client.setQueryData(queries.floor().queryKey, { as_of: AT, elsewhere: [], line: [], plates: [plate()], session, stopped: null, ...change }),
  );
const run = (change: Partial<Schema["RunView"]> = {}): Schema["RunView"] =>
  ({
    person: orla,
    operation: "Facing",
    since: "2026-03-10T09:48:00Z",
    beside: "",
    still_may: true,
    reasons: [],
    cautions: [],
    ...change,
  }) as Schema["RunView"];

describe("the floor", () => {
  it("says who supervises, and how many spindles are turning", () => {
    expect(texts(floor())).toMatch(/Tuesday group.*8 of 10 here,.*Mara Haldane supervises\..*0 of 1 spindles are turning/);
    const two = floor({ plates: [plate({ spindle: true }), plate({ machine: { id: "m2", name: "Gannet" } })] });
    expect(texts(two)).toContain("1 of 2 spindles are turning.");
    const both = { ...session, supervisors: ["Mara Haldane", "Tavish Roe"] } as Schema["SessionNow"];
    expect(texts(floor({ session: both }))).toContain("Mara Haldane and Tavish Roe supervise.");
    expect(texts(floor({ session: { ...session, supervisors: [] } as Schema["SessionNow"] }))).toContain("nobody supervises");
    expect(texts(floor({ session: null }))).toContain("No session is open:");
  });

  it.each([
    [[], "nobody is waiting for you"],
    [[waiting("check", { hand_in: "h" })], "1 waits|"],
    [[waiting("check", { hand_in: "h" }), waiting("plan", { assignment: "a" })], "2 wait|"],
    [[waiting("help", { call: "c" })], "1 waits, at a machine or with a skill to show"],
    [[waiting("help", { call: "c" }), waiting("check", { hand_in: "h" })], "2 wait, 1 of them at a machine or with a skill to show"],
  ])("counts who waits %#", (of, words) => {
    expect(texts(floor({ line: of }))).toContain(words);
  });

  it("is stopped by an instructor in two touches, and lifted by one", () => {
    expect(buttons(floor())).toContain("Stop all");
    expect(buttons(floor({}, as("assistant")))).not.toContain("Stop all");
    const stopped = { by: "Tavish Roe", since: AT, reason: "" } as unknown as Schema["StopView"];
    const html = floor({ stopped });
    expect(buttons(html)).not.toContain("Stop all");
    expect(buttons(html)).toContain("Lift the stop");
    expect(texts(html)).toContain("This stand-in is no safety system");
    expect(buttons(floor({ stopped }, as("assistant")))).not.toContain("Lift the stop");
  });

  it("says what runs, who is beside, and why it should not", () => {
    const html = texts(floor({ plates: [plate({ state: "runs", run: run({ beside: "Mara Haldane" }), spindle: true })] }));
    expect(html).toContain("Facing| 12 min, Mara Haldane beside");
    const alarm = floor({ plates: [plate({ state: "alarm", alarm: true, spindle: true })] });
    expect(texts(alarm)).toContain("The spindle is turning and nobody was given a start.");
    const late = floor({ plates: [plate({ state: "alarm", alarm: true, run: run({ reasons: ["The session has ended."] }) })] });
    expect(texts(late)).toContain("The session has ended.");
  });

  it("says at which step each is, and how far behind", () => {
    const work = (late: number) =>
      ({
        assignment: "a",
        name: "Keel step gauge",
        now: "cut",
        pointer: 4,
        student: orla,
        since: "2026-03-10T09:00:00Z",
        at_step: "Pass 2 of 3",
        late,
      }) as unknown as Schema["AtWork"];
    expect(texts(floor({ plates: [plate({ at_work: [work(0)] })] }))).toContain("Pass 2 of 3");
    expect(texts(floor({ plates: [plate({ at_work: [work(0)] })] }))).not.toContain("behind its plan");
    expect(texts(floor({ plates: [plate({ at_work: [work(1)] })] }))).toContain("1 minute behind its plan");
    expect(texts(floor({ elsewhere: [work(7)] }))).toContain("7 minutes behind its plan");
  });
});

type Option = Schema["StartOption"];
const option = (change: Partial<Option> = {}): Option => ({
  answer: "allowed",
  operation: "facing",
  name: "Facing",
  on_part: true,
  starts: true,
  reasons: [],
  cautions: [{ happens: "The cutter throws chips.", do: "Guard down." } as Schema["CautionView"]],
  assessors: ["Mara Haldane", "Tavish Roe"],
  called: null,
  confirmed_by: "",
  confirmed_until: null,
  ...change,
});
const start = (change: Partial<Schema["StartPage"]> = {}): Schema["StartPage"] => ({
  machine: petrel,
  about: "Knee mill",
  cards: [],
  closed: [],
  handles: orla,
  here: true,
  linked: true,
  listed: true,
  options: [option()],
  people: [orla],
  points: [],
  run: null,
  session: "s",
  spindle: false,
  ...change,
});
const before = (change: Partial<Schema["StartPage"]> = {}, operation = "") =>
  drawn(<Before page={start(change)} operation={operation} />, as("student"));

describe("before a start", () => {
  it.each([
    ["allowed", {}, "You may do this alone."],
    ["refused", { reasons: ["Facing is not signed."], starts: false }, "Facing is not signed."],
    ["with_assessor", { starts: false }, "Only with an assessor beside you."],
    ["with_assessor", { starts: false }, "these are called: Mara Haldane, Tavish Roe."],
    ["with_assessor", { starts: false, assessors: [] }, "these are called: nobody can."],
    ["with_assessor", { starts: false, called: AT }, "Wait with your hands off the machine: Mara Haldane or Tavish Roe comes"],
    ["with_assessor", { starts: true, confirmed_by: "Mara Haldane", confirmed_until: AT }, "Mara Haldane is beside you until"],
  ] as const)("says what may be done: %s %#", (answer, change, words) => {
    expect(texts(before({ options: [option({ answer, ...change } as Partial<Option>)] }))).toContain(words);
  });

  it("shows what can hurt, where something may be started", () => {
    expect(texts(before())).toContain("The cutter throws chips.");
    expect(texts(before({ options: [option({ answer: "refused", starts: false })] }))).not.toContain("The cutter throws chips.");
  });

  it("is closed until every point is looked at and one has the handles", () => {
    const points = [1, 2].map((n) => ({ id: `p${n}`, text: `Point ${n}`, words: `Point ${n}` })) as unknown as Schema["PrestartPoint"][];
    expect(buttons(before({ points })).some((b) => b.includes("2 points to go"))).toBe(true);
    expect(buttons(before()).some((b) => b.includes("I am about to start"))).toBe(true);
    expect(before({ points })).toMatch(/start-button[^>]*disabled|disabled[^>]*start-button/);
    expect(before()).not.toMatch(/start-button[^>]*disabled|disabled[^>]*start-button/);
    const other = before({ handles: mara });
    expect(other).toMatch(/start-button[^>]*disabled|disabled[^>]*start-button/);
    expect(buttons(other)).toContain("I take the handles");
    expect(buttons(before())).not.toContain("I take the handles");
  });
});

describe("while it runs", () => {
  const running = (change: Partial<Schema["RunView"]>, who = as("student"), spindle = true) =>
    drawn(<Running page={start({ spindle })} run={run(change)} />, who);

  it("is ended by who started it, or by who assesses", () => {
    expect(buttons(running({}))).toContain("Spindle stopped: end this run");
    expect(buttons(running({}, as("assistant")))).toContain("Spindle stopped: end this run");
    expect(buttons(running({}, as("student", { id: "ewan", name: "Ewan Strand" })))).toEqual([]);
  });

  it("says whether the spindle turns, and to finish safely when it may not any more", () => {
    expect(texts(running({}))).toContain("Spindle running.");
    expect(texts(running({}, as("student"), false))).toContain("Spindle stopped.");
    const late = running({ still_may: false, reasons: ["The session has ended."] });
    expect(texts(late)).toContain("Finish this cut safely, then stop.");
    expect(texts(late)).toContain("The session has ended.");
    expect(texts(running({}))).not.toContain("Finish this cut");
  });
});

describe("at the machine", () => {
  const page = (change: Partial<Schema["StartPage"]>, who = as("student")) =>
    drawn(<StartPage />, who, (client) => client.setQueryData(queries.start("m1").queryKey, start(change)), "/start/m1");

  it("asks to come first, and only while a session is open", () => {
    const html = page({ here: false });
    expect(buttons(html)).toEqual(["I work at Petrel"]);
    expect(html).not.toMatch(/<button[^>]*disabled/);
    const none = page({ here: false, session: "" });
    expect(texts(none)).toContain("No session is open.");
    expect(none).toMatch(/<button[^>]*disabled/);
  });

  it("says who is there, why it is closed, and that the machine's own stop comes first", () => {
    const html = texts(page({ closed: ["Tagged out: the belt slips."], people: [orla, mara] }));
    expect(html).toContain("Orla Finnis has the handles");
    expect(html).toContain("Tagged out: the belt slips.");
    expect(html).toContain("own stop comes first");
    expect(texts(page({ linked: false }))).toContain("its link is lost: no start is enabled");
    expect(texts(page({ people: [] }))).toContain("nobody is here");
  });

  it("shows whoever teaches how it stands, without a start", () => {
    const html = page({ listed: false }, as("instructor"));
    expect(texts(html)).toContain("not done yet in this session.");
    expect(buttons(html)).toEqual([]);
  });
});
