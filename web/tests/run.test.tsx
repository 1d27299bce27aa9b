/** The run card and the dry run: who may go on, what a step asks for, and what is said of a place, a sign, a part. */
import type { ReactElement } from "react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { renderToStaticMarkup } from "react-dom/server";
import { MemoryRouter, Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import "./browser";
import type { Me, Schema } from "../src/api/client";
import { queries } from "../src/api/queries";
import type { Entry } from "../src/offline/queue";
import { WaitingEntries } from "../src/offline/WaitingEntries";
import DryPage from "../src/pages/cutting/DryPage";
import { Metronome } from "../src/pages/cutting/Metronome";
import { Places } from "../src/pages/cutting/Places";
import RunPage from "../src/pages/cutting/RunPage";
import { MeContext } from "../src/shared/me";

type Card = Schema["RunCardView"];
type Step = Schema["RunStepView"];
type Dry = Schema["DryRunView"];

const texts = (page: string) => page.replace(/<[^>]*>/g, "|").replace(/\|+/g, "|");
const student = { id: "orla", name: "Orla Finnis" };
const me = (role: Me["role"], id = "orla") => ({ id, name: "Orla Finnis", role, unit: "in", token: "t" }) as unknown as Me;

function page(path: string, element: ReactElement, who: Me, put: (client: QueryClient) => void): string {
  const client = new QueryClient();
  put(client);
  return renderToStaticMarkup(
    <QueryClientProvider client={client}>
      <MemoryRouter initialEntries={[`/job/a/${path}`]}>
        <MeContext value={who}>
          <Routes>
            <Route path={`/job/:assignment/${path}`} element={element} />
          </Routes>
        </MeContext>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

const step = (id: string, change: Partial<Step> = {}): Step => ({
  id,
  kind: "pass",
  holding: "h1",
  operation: "o1",
  title: `Title of ${id}`,
  head: "Mill the step: first step",
  do: [`Do ${id}.`],
  why: [`Why ${id}.`],
  cautions: [`Caution of ${id}.`],
  go: [],
  done: null,
  by: "",
  held: [],
  asks: "",
  reading: null,
  per_turn: 0,
  starts: false,
  skill: "mill-steps",
  seconds: 60,
  again: {},
  ...change,
});
const card = (change: Partial<Card> = {}): Card => ({
  assignment: "a",
  attempt: "t",
  plan: 3,
  name: "Keel step gauge",
  student,
  machine: { id: "m", name: "Petrel" },
  unit: "in",
  at: 1,
  minutes: 143,
  spent: 150,
  cannot: "",
  closed: "",
  remarks: [],
  as_of: "2026-03-10T10:00:00Z",
  steps: [step("one", { done: "2026-03-10T09:00:00Z", by: "Orla Finnis" }), step("two"), step("three")],
  ...change,
});
const run = (change: Partial<Card> = {}, who = me("student")) =>
  page("run", <RunPage />, who, (client) => client.setQueryData(queries.run("a").queryKey, card(change)));
const now = (change: Partial<Step>, who?: Me) => run({ steps: [step("one", { done: "2026-03-10T09:00:00Z" }), step("two", change)] }, who);
/** The buttons of a page by what stands on them. */
const buttons = (html: string) => [...html.matchAll(/<button[^>]*>(.*?)<\/button>/g)].map((m) => texts(m[1] ?? "").replaceAll("|", ""));

describe("the run card", () => {
  it("shows the step that is next, large, with why and caution, and how far it is", () => {
    const html = run();
    for (const words of ["Title of two", "Do two.", "Why two.", "Caution of two.", "step 2 of 3", "about 143 min in all", "Petrel"])
      expect(texts(html)).toContain(words);
    expect(html).not.toContain("Do one.");
    expect(html).toContain('data-at="1"');
    expect(texts(html)).toContain("manual and the shop&#x27;s rules come first");
  });

  it("ends a step by one touch, and trouble can be said at every one", () => {
    expect(new Set(buttons(run()))).toEqual(new Set(["Back", "Something is not right", "Done"]));
  });

  it("may be looked at by whoever teaches, who does not tick it", () => {
    const html = run({}, me("instructor", "mara"));
    expect(buttons(html)).not.toContain("Done");
    expect(texts(html)).toContain("Orla Finnis · ");
    expect(texts(html)).toContain("Add a remark to this card");
    expect(texts(run())).not.toContain("Add a remark");
  });

  it("waits at a hold point for the instructor", () => {
    const html = now({ held: ["before the last pass"] });
    expect(texts(html)).toContain("Hold point before the last pass:");
    expect(buttons(html)).not.toContain("Done");
    expect(html).toContain('href="/job/a"');
  });

  it("asks for a reading in the drawing's unit before the last pass, and saves none that is empty", () => {
    const html = now({ kind: "measure", asks: "number 5, first step" });
    expect(texts(html)).toContain("Reading: number 5, first step, in in");
    expect(buttons(html)).toContain("Save reading");
    expect(buttons(html)).not.toContain("Done");
    expect(html).toMatch(/disabled="[^"]*"[^>]*>(<[^>]*>)*Save reading/);
  });

  it.each([
    [true, "good"],
    [false, "bad"],
  ])("says what a reading meant: good %s", (good, name) => {
    const html = now({ kind: "measure", reading: { value: "0.310", good, words: "0.010 in is left.", call: false } as Step["reading"] });
    expect(html).toContain(`run-said ${name}`);
    expect(texts(html)).toContain("0.310 in:");
  });

  it("asks for the start where the spindle turns for the first time, and only with a machine", () => {
    expect(buttons(now({ starts: true }))).toContain("I am about to start");
    expect(buttons(now({ starts: false }))).not.toContain("I am about to start");
    const without = run({ machine: null, steps: [step("one"), step("two", { starts: true })] });
    expect(buttons(without)).not.toContain("I am about to start");
  });

  it("beats where it is fed by hand", () => {
    expect(texts(now({ per_turn: 0.8 }))).toContain("one turn in 0.8 s");
    expect(texts(now({ per_turn: 0 }))).not.toContain("one turn in");
  });

  it("can be tried without metal and printed before anything is done, and not after", () => {
    const steps = [step("one"), step("two")];
    const fresh = run({ at: 0, steps });
    expect(fresh).toContain('href="/job/a/dry"');
    expect(fresh).toContain("run.pdf?paper=A4");
    expect(run({ at: 1, steps })).not.toContain("run.pdf");
    expect(run({ at: 0, steps }, me("instructor", "mara"))).not.toContain("/job/a/dry");
  });

  it("is closed with its reason, and says what cannot be run", () => {
    const closed = run({ closed: "The part was handed in." });
    expect(texts(closed)).toContain("The part was handed in.");
    expect(buttons(closed)).not.toContain("Done");
    const cannot = run({ cannot: "The plan is not approved yet.", steps: [] });
    expect(texts(cannot)).toContain("The plan is not approved yet.");
    expect(cannot).toContain('href="/job/a/plan"');
    expect(texts(run({ steps: [], at: 0 }))).toContain("This plan has no steps yet.");
  });

  it("shows the three newest remarks with the step they were said at", () => {
    const remarks = ["Fourth", "Third", "Second", "First"].map((words, n) => ({
      words,
      by: "Mara Haldane",
      at: `2026-03-10T09:0${9 - n}:00Z`,
      step: "two",
    }));
    const html = texts(run({ remarks: remarks as Card["remarks"] }));
    expect(html).toContain("Fourth");
    expect(html).toContain("Second");
    expect(html).not.toContain("First|");
    expect(html).toContain("Mara Haldane, ");
  });

  it.each([
    [1, "It took 1 minute; the plan said 143."],
    [150, "It took 150 minutes; the plan said 143."],
  ])("ends with what it took: %i", (spent, words) => {
    const html = run({ at: 3, spent });
    expect(texts(html)).toContain("Every step is done.");
    expect(texts(html)).toContain(words);
    expect(buttons(html)).not.toContain("Done");
  });
});

describe("a place", () => {
  const go = (change: Partial<Schema["GoView"]> = {}): Schema["GoView"] => ({
    axis: "x",
    handle: "X handle, left end",
    reading: "0.1275 in",
    readout: "",
    rounding: "",
    from_zero: false,
    turns: [{ turning: "clockwise", turns: 3, divisions: "94½", takes_up: true }],
    ...change,
  });
  const place = (change: Partial<Schema["GoView"]> = {}) => texts(renderToStaticMarkup(<Places of={[go(change)]} />));

  it("says way, turns, divisions and what is read there", () => {
    const said = place();
    for (const words of ["3 turns", "94½ divisions", "takes up the backlash first", "0.1275 in", "X handle, left end"]) expect(said).toContain(words);
    expect(renderToStaticMarkup(<Places of={[go()]} />)).toContain('aria-label="clockwise"');
  });

  it("leaves out what is not turned", () => {
    const turn = (turns: number, divisions: string) => place({ turns: [{ turning: "anticlockwise", turns, divisions, takes_up: false }] });
    expect(turn(1, "0")).toContain("1 turn|");
    expect(turn(1, "0")).not.toContain("divisions");
    expect(turn(0, "12")).not.toContain("turn|");
    expect(turn(0, "12")).toContain("12 divisions");
    expect(turn(0, "12")).not.toContain("backlash");
  });

  it("shows the readout where there is one, and says what is counted from the zero or rounded", () => {
    expect(place()).not.toContain("readout");
    expect(place({ readout: "3.00 mm" })).toContain("readout|3.00 mm");
    expect(place({ from_zero: true })).toContain("Counted from the zero:");
    expect(place({ rounding: "set to half a division: 0.0001 in off" })).toContain("half a division");
    expect(renderToStaticMarkup(<Places of={[]} />)).toBe("");
  });

  it("beats once a turn", () => {
    const html = renderToStaticMarkup(<Metronome seconds={1.9} />);
    expect(html).toContain("animation-duration:1.9s");
    expect(texts(html)).toContain("Click at each turn");
  });
});

describe("what waits in the browser", () => {
  const entry = (order: number, change: object) => ({ order, owner: "orla", refused: "", ...change }) as unknown as Entry;
  const waits = (entries: Entry[], outcome = "away") => texts(renderToStaticMarkup(<WaitingEntries entries={entries} outcome={outcome} />));
  const tick = (order: number, refused = "") => entry(order, { kind: "run", refused, body: { step: "two" } });

  it("is counted, and said only while the server does not take it", () => {
    expect(waits([tick(1)])).toContain("1 entry waits in this browser.");
    expect(waits([tick(1), tick(2)])).toContain("2 entries wait in this browser.");
    expect(waits([tick(1)], "empty")).not.toContain("waits");
    expect(waits([tick(1)], "signed-out")).toContain("Sign in again with the same name");
    expect(waits([])).not.toContain("waits");
  });

  it("says what was refused, and offers to send it again or to let it go", () => {
    const html = waits([tick(1, "that step is done already")]);
    expect(html).toContain("A step of the run card was not accepted: that step is done already");
    expect(html).toContain("Send again");
    expect(html).toContain("Discard");
    expect(html).not.toContain("waits in this browser");
    const reading = { kind: "reading", refused: "no", body: { value: "1.2345678901234567890123456789", unit: "in", characteristic: 3 } };
    expect(waits([entry(1, reading)])).toContain("Reading 1.2345678901234567890123 in of characteristic 3");
    for (const [kind, words] of [
      ["sign", "What was noticed at the machine"],
      ["hand-in", "The hand-in"],
      ["station", "The tick"],
    ])
      expect(waits([entry(1, { kind, refused: "no", body: {} })])).toContain(`${words} was not accepted`);
  });
});

describe("the dry run", () => {
  const dial = { axis: "X", unit: "in", dial_up: "clockwise", marks: ["0"], at: 0, shows: "0.000 in", division: "0.001 in" };
  const place = (change: object = {}) => ({
    axis: "X",
    handle: "X handle, left end",
    place: "To 1.100 in from the left end",
    zero: false,
    told: ["Turn clockwise: 3 whole turns.", "Then the dial shows 0.150 in."],
    dial: { ...dial, per_turn: "0.200 in", clockwise: "to the right" },
    ...change,
  });
  const dry = (change: Partial<Dry> = {}): Dry => ({
    assignment: "a",
    name: "Keel step gauge",
    machine: "Petrel",
    student,
    plan: 3,
    unit: "in",
    run: "r",
    at: 4,
    of: 53,
    cannot: "",
    newer: false,
    said: "",
    outcome: null,
    step: {
      id: "s",
      kind: "pass",
      head: "",
      title: "Pass 1 of 3",
      operation: "o1",
      do: ["Cut."],
      why: [],
      places: [place()],
    } as unknown as Dry["step"],
    ...change,
  });
  const shown = (change: Partial<Dry> = {}, who = me("student")) =>
    page("dry", <DryPage />, who, (client) => client.setQueryData(queries.dry("a").queryKey, dry(change)));
  const stepOf = (kind: string, places: object[]) => ({ ...dry().step, kind, places }) as unknown as Dry["step"];

  it.each([
    ["pass", [place()], "Cut without turning"],
    ["hole", [place()], "Cut without turning"],
    ["zero", [place({ zero: true })], "Set to 0 without turning"],
    ["pass", [], "Cut"],
    ["hand", [], "Done"],
  ])("says what its button does at a %s", (kind, places, words) => {
    expect(buttons(shown({ step: stepOf(kind, places) }))).toContain(words);
  });

  it("does not show what the card says before it is asked", () => {
    const html = texts(shown());
    expect(html).toContain("What does the card say?");
    expect(html).not.toContain("Then the dial shows 0.150 in.");
    expect(html).toContain("Now 0.000 in, 0.200 in a turn. Clockwise: table to the right.");
    expect(html).toContain("until the dial shows, in");
  });

  it("is watched by others without hands", () => {
    const html = shown({}, me("instructor", "mara"));
    expect(buttons(html)).toEqual([]);
    expect(texts(html)).toContain("Orla Finnis · ");
    expect(texts(shown({ run: null, step: null }, me("instructor", "mara")))).toContain("No dry run yet.");
  });

  it("begins, and says when the plan was changed or there is none", () => {
    expect(buttons(shown({ run: null, step: null }))).toContain("Start the dry run");
    expect(texts(shown({ newer: true }))).toContain("The plan was changed since this dry run was begun.");
    const cannot = shown({ cannot: "There is no plan yet.", run: null, step: null });
    expect(texts(cannot)).toContain("There is no plan yet.");
    expect(buttons(cannot)).not.toContain("Start the dry run");
  });

  const line = (number: number, good: boolean) => ({ number, name: `Size ${number}`, limits: "0.996 to 1.004 in", read: "1.000 in", good });
  it("ends with the sizes, and the act for each that is out", () => {
    const good = texts(shown({ step: null, outcome: { lines: [line(1, true)], causes: [] } as unknown as Dry["outcome"] }));
    expect(good).toContain("Every size is within its limits.");
    expect(good).not.toContain("What went wrong");
    const causes = [
      { words: "The X handle was miscounted by 1 whole turn.", step: "Pass 2 of 3", numbers: [5, 6] },
      { words: "Half the tip was not allowed for.", step: "Zero along Y", numbers: [] },
    ];
    const bad = texts(shown({ step: null, outcome: { lines: [line(1, true), line(5, false)], causes } as unknown as Dry["outcome"] }));
    expect(bad).toContain("1 of 2 sizes are out of their limits.");
    expect(bad).toContain("spoilt no. 5, 6");
    expect(bad).toContain("spoilt nothing");
  });
});
