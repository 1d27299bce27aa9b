/** Where somebody decides: findings of a plan and their cures, a plan's approval, a part's disposition, a skill's signature. */
import { describe, expect, it } from "vitest";
import "./browser";
import type { Schema } from "../src/api/client";
import { Decide as DecidePart } from "../src/pages/jobcards/Decide";
import { Decide as DecidePlan } from "../src/pages/planning/Decide";
import { Findings } from "../src/pages/planning/Findings";
import type { Page } from "../src/pages/planning/usePlan";
import { SkillPanel } from "../src/pages/skills/SkillPanel";
import { as, buttons, drawn, texts } from "./render";

type Fault = Schema["PlanFaultView"];
const fault = (code: string, operation: string, button = true) =>
  ({
    code,
    operation,
    holding: "h",
    weight: "spoils",
    title: `Title ${code}`,
    words: `Words ${code}.`,
    why: `Why ${code}.`,
    cure: `Cure ${code}.`,
    button,
  }) as unknown as Fault;
const findings = (found: Fault[], chosen = "o1", cure = true) =>
  drawn(<Findings found={found} chosen={chosen} onGo={() => undefined} onCure={cure ? () => undefined : null} />, as("student"));

describe("what would go wrong", () => {
  it("says so when nothing would", () => {
    expect(texts(findings([]))).toContain("Nothing is in the way.");
    expect(texts(findings([fault("a", "o1")]))).not.toContain("Nothing is in the way.");
  });

  it("shows what belongs to the chosen frame first, the others with the way there", () => {
    const html = findings([fault("elsewhere", "o2"), fault("here", "o1")]);
    expect(html.indexOf("Title here")).toBeLessThan(html.indexOf("Title elsewhere"));
    expect(texts(html)).toContain("1 more in other places");
    expect(buttons(html).filter((b) => b === "Show where")).toHaveLength(1);
    expect(texts(findings([fault("elsewhere", "o2")]))).not.toContain("more in other places");
  });

  it("offers its cure only where there is one and the plan may be changed", () => {
    expect(buttons(findings([fault("a", "o1")]))).toContain("Apply");
    expect(buttons(findings([fault("a", "o1", false)]))).not.toContain("Apply");
    expect(buttons(findings([fault("a", "o1")], "o1", false))).not.toContain("Apply");
    expect(texts(findings([fault("a", "o1", false)]))).toContain("Cure a.");
  });
});

describe("a plan that was handed in", () => {
  const page = { assignment: "a", student: { id: "orla", name: "Orla Finnis" } } as unknown as Page;
  const decide = (remarks: Record<string, string>, chosenName = "Mill the step") =>
    drawn(<DecidePlan page={page} hand_in="p" chosen="o1" chosenName={chosenName} remarks={remarks} onRemarks={() => undefined} />, as("instructor"));

  it("is approved at once, and sent back only with a remark", () => {
    expect(buttons(decide({}), true)).toEqual(["Approve"]);
    expect(buttons(decide({ o1: "  " }), true)).toEqual(["Approve"]);
    expect(buttons(decide({ o1: "From the other face." }), true)).toEqual(["Approve", "Send back"]);
    expect(texts(decide({ o1: "One.", o2: "Two." }))).toContain("2 remarks at frames");
  });

  it("asks for a remark at the frame that is looked at", () => {
    expect(texts(decide({}))).toContain("Remark at Mill the step");
    expect(texts(decide({}, ""))).not.toContain("Remark at");
    expect(texts(decide({}))).toContain("Orla Finnis is waiting for your decision");
  });
});

describe("a part that was measured twice", () => {
  const row = (number: number, of_record: string | null) => ({ number, of_record });
  const sheet = (...rows: ReturnType<typeof row>[]) =>
    ({
      hand_in: "h",
      rows,
      card: { characteristics: rows.map((r) => ({ number: r.number, name: `Size ${r.number}` })) },
    }) as unknown as Schema["CheckSheet"];
  const decide = (of: Schema["CheckSheet"]) =>
    drawn(<DecidePart sheet={of} onDecided={() => undefined} onChoose={() => undefined} />, as("instructor"));

  it("is accepted when everything is in", () => {
    const html = decide(sheet(row(1, "in"), row(2, "in")));
    expect(texts(html)).toContain("Everything is within its limits.");
    expect(buttons(html, true)).toContain("Accept the part");
  });

  it("is not decided before each size that is out is", () => {
    const html = decide(sheet(row(1, "in"), row(2, "out_metal_left"), row(5, "out_metal_gone")));
    expect(texts(html)).not.toContain("Size 1");
    expect(buttons(html)).toContain("Decide about 2, 5 first");
    expect(buttons(html, true)).not.toContain("Decide about 2, 5 first");
  });

  it("is not sent to rework where the metal is gone", () => {
    const kinds = (verdict: string) => buttons(decide(sheet(row(2, verdict)))).filter((b) => ["Rework", "Accept", "Scrap"].includes(b));
    expect(kinds("out_metal_left")).toEqual(["Rework", "Accept", "Scrap"]);
    expect(kinds("too_close")).toEqual(["Rework", "Accept", "Scrap"]);
    expect(kinds("out_metal_gone")).toEqual(["Accept", "Scrap"]);
  });
});

describe("one skill of one student", () => {
  type On = Schema["OnMachine"];
  const on = (state: On["state"], change: Partial<On> = {}): On =>
    ({ machine: null, state, reason: `Reason ${state}`, may_sign: false, why_not: [], refresher: false, ...change }) as On;
  const skill = { id: "facing", name: "Facing", demonstrated: true, points: [], mistakes: [], cautions: [], needs: [], evidence: [] };
  const panel = (of: On, who = as("instructor"), change: object = {}) => {
    const entry = { skill: { ...skill, ...change }, on: [of], events: [] } as unknown as Schema["StudentSkill"];
    return drawn(<SkillPanel student={{ id: "orla", name: "Orla Finnis" }} entry={entry} />, who);
  };

  it("is seen at the machine where it is shown, signed where it is not", () => {
    const ready = on("ready", { may_sign: true });
    expect(panel(ready)).toContain('href="/assess/orla?skill=facing"');
    expect(buttons(panel(ready, as("instructor"), { demonstrated: false }))).toContain("Sign");
    expect(buttons(panel(on("due_soon", { may_sign: true, refresher: true }), as("instructor"), { demonstrated: false }))).toContain("Sign again");
    expect(panel(on("ready", { may_sign: true, machine: { id: "m1", name: "Petrel" } }))).toContain("&amp;machine=m1");
  });

  it("is withdrawn and given back by an instructor only", () => {
    for (const state of ["signed", "due_soon", "suspended", "lapsed"] as const) {
      expect(buttons(panel(on(state)))).toContain("Withdraw");
      expect(buttons(panel(on(state), as("assistant")))).not.toContain("Withdraw");
    }
    for (const state of ["locked", "open", "ready", "withdrawn"] as const) expect(buttons(panel(on(state)))).not.toContain("Withdraw");
    expect(buttons(panel(on("withdrawn")))).toContain("Reinstate");
    expect(buttons(panel(on("withdrawn"), as("assistant")))).not.toContain("Reinstate");
  });

  it("offers its student nothing to sign, and says to an assistant why not", () => {
    expect(buttons(panel(on("ready", { may_sign: true }), as("student", "orla"), { demonstrated: false }))).toEqual([]);
    const closed = on("ready", { why_not: ["It is not delegated to you."] });
    expect(texts(panel(closed, as("assistant")))).toContain("It is not delegated to you.");
    expect(texts(panel(closed, as("student", "orla")))).not.toContain("It is not delegated to you.");
    expect(texts(panel(on("open")))).toContain("Nothing is recorded yet.");
  });
});
