/** The wall: what fits onto it, in which order, and what it says of a machine; and drawings that are judged. */
import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { Schema } from "../src/api/client";
import { steps, Upright } from "../src/instruments/axis";
import { Convergence } from "../src/instruments/Convergence";
import { ShownUnit } from "../src/instruments/length";
import { Shown } from "../src/pages/session/WallPage";
import { Drift } from "../src/pages/setup/Drift";
import { Asked } from "../src/pages/skills/Asked";

type Machine = Schema["WallMachine"];
const machine = (name: string, change: Partial<Machine> = {}): Machine => ({
  name,
  state: "in-use",
  people: [`Student at ${name}`],
  operation: "",
  since: null,
  ...change,
});
const AT = "2026-03-10T10:00:00Z";
const wall = (change: Partial<Schema["Wall"]>): Schema["Wall"] => ({
  shop: "Skerry Sound",
  session: { id: "s", group: "Tuesday group", supervisors: ["Mara Haldane"], here: 8, expected: 10 },
  stopped: false,
  machines: [],
  line: [],
  as_of: AT,
  ...change,
});
const shown = (change: Partial<Schema["Wall"]>, away = false) => renderToStaticMarkup(<Shown wall={wall(change)} away={away} />);
const texts = (page: string) => page.replace(/<[^>]*>/g, "|");

describe("the wall", () => {
  it("shows eight machines at once and the rest on the next page", () => {
    const many = Array.from({ length: 9 }, (_, i) => machine(`M${i + 1}`));
    const page = shown({ machines: many });
    expect(page).toContain("Student at M8");
    expect(page).not.toContain("Student at M9");
    expect(page).toContain("page 1 of 2");
    expect(shown({ machines: many.slice(0, 8) })).not.toContain("page 1 of");
  });

  it("names seven who wait and counts the others", () => {
    const line = Array.from({ length: 8 }, (_, i) => ({ student: `Waiting ${i + 1}`, what: "calls", machine: "", since: AT }));
    const page = shown({ line });
    expect(page).toContain("8 wait");
    expect(page).toContain("Waiting 7");
    expect(page).not.toContain("Waiting 8");
    expect(page).toContain("and 1 more");
    expect(shown({ line: line.slice(0, 7) })).not.toContain("more");
  });

  it("asks for an instructor where a machine alarms, and gives no reason", () => {
    const page = texts(shown({ machines: [machine("Petrel", { state: "alarm", operation: "" })] }));
    expect(page).toContain("instructor, please");
    expect(page).not.toContain("alarm");
  });

  it("says what runs and since when", () => {
    const page = texts(shown({ machines: [machine("Fulmar", { state: "runs", operation: "Facing", since: "2026-03-10T09:48:00Z" })] }));
    expect(page).toContain("Facing");
    expect(page).toContain("12 min");
  });

  it("keeps who stands at no machine out of the plates", () => {
    const rest = [
      machine("A", { state: "free", people: [] }),
      machine("B", { state: "closed", people: [] }),
      machine("C", { state: "not-open", people: [] }),
    ];
    const page = texts(shown({ machines: rest }));
    expect(page).toContain("Nobody is at a machine.");
    for (const [words, name] of [
      ["Free", "A"],
      ["Closed", "B"],
      ["Not open", "C"],
    ])
      expect(page).toMatch(new RegExp(`${words}\\|+ ${name}`));
  });

  it("stands on a machine that turns though nobody is at it", () => {
    expect(texts(shown({ machines: [machine("Gannet", { state: "alarm", people: [] })] }))).toContain("nobody at the machine");
  });

  it("tells everybody to stop, and when it was cut off from its server", () => {
    expect(shown({ stopped: true })).toContain("All machines are stopped");
    expect(shown({}, true)).toContain("this is how it was at");
    expect(shown({ session: null })).toContain("no machine may be started");
  });
});

describe("an axis", () => {
  it.each([
    [25.4, "in", ["0.5", "1.0"]],
    [1, "mm", ["0.5", "1.0"]],
    [0.0762, "in", ["0.001", "0.002", "0.003"]],
    [0.06, "mm", ["0.02", "0.04", "0.06"]],
    [0, "mm", []],
  ] as const)("of %f mm in %s has round values", (top, unit, wanted) => {
    expect(steps(top, unit).map((s) => s.text)).toEqual(wanted);
  });

  it("puts each value where it belongs", () => {
    for (const s of steps(10, "in")) expect(s.mm).toBeCloseTo(Number(s.text) * 25.4);
  });

  const inUnit = (unit: "in" | "mm", element: React.ReactElement) =>
    renderToStaticMarkup(<ShownUnit value={{ unit, toggle: () => undefined }}>{element}</ShownUnit>);

  it("is written in the unit that is shown, below 0 too where it is asked for", () => {
    const axis = (unit: "in" | "mm") => inUnit(unit, <Upright x={0} y={(v) => -v} top={2} high={0} both />);
    expect(texts(axis("mm"))).toMatch(/0\|.*1\|.*2\|.*−1\|.*−2\|.*mm/);
    expect(texts(axis("in"))).toMatch(/0\.05\|.*−0\.05\|.*in/);
  });

  it("stands beside the passes of a setup and the history of a head", () => {
    const passes = inUnit("mm", <Convergence off={[0.05, 0.02, 0.004]} standard={0.005} />);
    expect(texts(passes)).toMatch(/0\.02\|.*0\.04\|.*mm/);
    const point = { at: AT, by: "Tavish Roe", axis: "tilt", found: 0.05, left: 0.002 } as Schema["DriftPoint"];
    const drift = inUnit("in", <Drift points={[point]} allowed={0.0254} />);
    expect(texts(drift)).toMatch(/0\.001\|.*0\.002\|/);
    expect(texts(drift).match(/10 Mar/g)).toHaveLength(2); // its mark and the axis, not twice on the axis
  });
});

describe("drawings to judge", () => {
  const picture = (words: string): Schema["PictureView"] => ({
    words,
    free: false,
    shapes: [
      {
        stroke: "area",
        ink: "work",
        points: [
          [0, 0],
          [4, 0],
          [4, 2],
        ],
        text: "",
      },
    ],
  });
  const question = { id: "q", kind: "judge", text: "Which clamps?", critical: false, options: ["level", "low"], areas: [], lines: [], unit: "" };
  const asked = { ...question, width: 0, height: 0, several: true, drawn: [picture("level"), picture("low")] } as Schema["QuestionView"];
  const page = (right: number[] | null, places: number[] = []) =>
    renderToStaticMarkup(<Asked question={asked} given={{ places, number: "" }} right={right} onGive={() => undefined} />);

  it("are named to who does not see them, and said to all only after the answer", () => {
    const before = page(null);
    expect(before).toContain('aria-label="low"');
    expect(texts(before)).not.toMatch(/\blow\b/);
    expect(before).toContain("Touch every one that you would accept.");
    expect(texts(page([0], [1]))).toMatch(/\blow\b/);
  });

  it("are marked right or wrong by what was chosen", () => {
    const after = page([0], [1]);
    expect(after.match(/choice right/g)).toHaveLength(1);
    expect(after.match(/choice wrong/g)).toHaveLength(1);
    expect(page(null, [1]).match(/choice chosen/g)).toHaveLength(1);
  });
});
