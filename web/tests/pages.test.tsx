/** Parts of pages that decide what a student sees: a question before, between and after its answer; steps; marks. */
import type { ReactElement } from "react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { renderToStaticMarkup } from "react-dom/server";
import { MemoryRouter } from "react-router";
import { describe, expect, it, vi } from "vitest";
import type { Me, Schema } from "../src/api/client";
import { STATIONS, StationRule } from "../src/instruments/StationRule";
import { Working } from "../src/instruments/Working";
import { Row } from "../src/pages/practice/ExercisesPage";
import { Question } from "../src/pages/practice/Question";
import { SignIn } from "../src/pages/people/SignIn";
import { MeContext } from "../src/shared/me";

const me = { id: "p", name: "Orla Finnis", role: "student", unit: "in", token: "t" } as unknown as Me;
const drawn = (element: ReactElement) =>
  renderToStaticMarkup(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <MeContext value={me}>{element}</MeContext>
      </MemoryRouter>
    </QueryClientProvider>,
  );

type QuestionView = Schema["ExerciseQuestionView"];
const asked: QuestionView = {
  id: "q",
  calculation: "edge",
  name: "Edge by a touch",
  words: "Where is the edge?",
  given: [
    { label: "Contact", value: "10 mm" },
    { label: "Tip", value: "5 mm" },
  ],
  unit: "mm",
  units: ["mm", "in"],
  choices: [],
  choice_words: [],
  near: "to 0.01 mm",
  answered: null,
  kept: false,
  in_a_row: 0,
};
const answered = (change: Partial<Schema["ExerciseAnswerView"]>): QuestionView => ({
  ...asked,
  answered: {
    answer: "7.5",
    unit: "mm",
    right: true,
    slip: "",
    correct: "12.5 mm",
    working: [{ what: "edge", formula: "contact + tip/2", put_in: "10 + 5/2", result: "12.5 mm" }],
    ...change,
  },
});
const question = (of: QuestionView, error = "") => drawn(<Question of={of} busy={false} error={error} focus={false} onAnswer={() => undefined} />);

describe("a question", () => {
  it("asks for a number in one of its units and shows nothing of its answer", () => {
    const page = question(asked);
    expect(page).toContain("Where is the edge?");
    expect(page).toContain("Your answer, to 0.01 mm");
    expect(page).toContain("Show me the working instead");
    expect(page).not.toContain("12.5");
    expect(page).not.toContain("contact + tip/2");
  });

  it("offers its words where the answer is one of them", () => {
    const page = question({ ...asked, choices: ["climb", "conventional"], choice_words: ["climb", "conventional"], units: [], unit: "" });
    expect(page.indexOf("climb")).toBeGreaterThan(0);
    expect(page).toContain("conventional");
    expect(page).not.toContain("Your answer");
  });

  it("says in class only that the answer is saved", () => {
    const page = question({ ...asked, kept: true });
    expect(page).toContain("Your answer is saved");
    for (const gone of ["Your answer, to", "Show me the working", "Right", "Not right"]) expect(page).not.toContain(gone);
  });

  it("says that a right answer is right, with its working", () => {
    const page = question(answered({}));
    expect(page).toContain("Right");
    expect(page).not.toContain("It is 12.5");
    expect(page).toContain("contact + tip/2");
    expect(page).not.toContain("Show me the working");
  });

  it.each([
    ["half the tip was taken off", "That is what comes out when", "The working, from where it went wrong"],
    ["", "No usual slip leads to that", "The working"],
  ])("says what was wrong: %s", (slip, words, title) => {
    const page = question(answered({ right: false, slip }));
    expect(page).toContain("Not right: you said 7.5 mm");
    expect(page).toContain("It is 12.5 mm");
    expect(page).toContain(words);
    expect(page).toContain(title);
  });

  it("does not call a question wrong that was given up", () => {
    const page = question(answered({ answer: "", unit: "", right: false }));
    expect(page).toContain("Not answered");
    expect(page).not.toContain("No usual slip");
  });

  it("shows a refusal at the question", () => {
    expect(question(asked, "answer: must be a plain number")).toContain("answer: must be a plain number");
  });
});

describe("marks and scales", () => {
  it.each([
    [0, 3],
    [2, 3],
    [3, 3],
    [7, 5],
  ])("%i of %i in a row has as many long notches, never more than are wanted", (done, wanted) => {
    const svg = drawn(<Row done={done} wanted={wanted} />);
    expect([...svg.matchAll(/class="on"/g)]).toHaveLength(Math.min(done, wanted));
    expect(svg).toContain(`${Math.min(done, wanted)} of ${wanted} in a row`);
  });

  it("has the seven stations in the order of work, each with its state in words", () => {
    const stations = STATIONS.map(({ id }, i) => ({ station: id, state: i < 2 ? ("done" as const) : ("not_yet" as const) }));
    const page = drawn(<StationRule stations={stations} pointer={2} chosen="set_up" onChoose={() => undefined} />);
    const places = STATIONS.map(({ name }) => page.indexOf(`>${name}<`));
    expect(places.every((p) => p > 0)).toBe(true);
    expect([...places].sort((a, b) => a - b)).toEqual(places);
    expect([...page.matchAll(/aria-selected="true"/g)]).toHaveLength(1);
    expect([...page.matchAll(/not yet/g)].length).toBeGreaterThanOrEqual(5);
  });

  it("opens a working line by line: what, formula, values, result", () => {
    const page = drawn(<Working steps={[{ what: "point", formula: "0.3 · D", put_in: "0.3 · 10", result: "3 mm" }]} />);
    const order = ["point", "0.3 · D", "0.3 · 10", "= 3 mm"].map((x) => page.indexOf(x));
    expect([...order].sort((a, b) => a - b)).toEqual(order);
    expect(order[0]).toBeGreaterThan(0);
  });
});

describe("the door", () => {
  it.each([true, false])("says whether the server still has to be told who left: %s", (waits) => {
    vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => undefined, removeItem: () => undefined });
    const page = drawn(<SignIn onSignedIn={() => undefined} waits={waits} />);
    expect(page.includes("You are signed out here")).toBe(waits);
    expect(page).toContain("Name to sign in with");
    expect(page.toLowerCase()).toContain('autocomplete="current-password"');
  });
});
