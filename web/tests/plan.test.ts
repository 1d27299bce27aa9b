import { describe, expect, it } from "vitest";
import type { Schema } from "../src/api/client";
import { placed, shifted, withHolding, withOperation, withoutHolding, withoutOperation } from "../src/pages/planning/edit";

type Plan = Schema["Plan"];
type Operation = Schema["PlanOperation"];

const op = (id: string) => ({ id, kind: "face", of: ["top"], cutter: "" }) as unknown as Operation;
const plan = (...holdings: string[][]) =>
  ({ format: "incudo-plan/1", holdings: holdings.map((ids, n) => ({ id: `h${n}`, stop: "", operations: ids.map(op) })) }) as unknown as Plan;
const ids = (p: Plan) => p.holdings.map((h) => h.operations.map((o) => o.id));

describe("the order of a plan", () => {
  const p = plan(["a", "b", "c"], ["d"]);

  it("goes one place earlier or later", () => {
    expect(ids(shifted(p, "b", -1))).toEqual([["b", "a", "c"], ["d"]]);
    expect(ids(shifted(p, "b", 1))).toEqual([["a", "c", "b"], ["d"]]);
  });

  it("goes over the end of a holding into the next, and back to the end of the one before", () => {
    expect(ids(shifted(p, "c", 1))).toEqual([
      ["a", "b"],
      ["c", "d"],
    ]);
    expect(ids(shifted(p, "d", -1))).toEqual([["a", "b", "c", "d"], []]);
  });

  it("stays where there is no place further on", () => {
    expect(shifted(p, "a", -1)).toEqual(p);
    expect(shifted(p, "d", 1)).toEqual(p);
    expect(shifted(p, "nobody", 1)).toEqual(p);
  });

  it("is dropped before another one, into an empty place, and on itself", () => {
    expect(ids(placed(p, "d", "h0", "b"))).toEqual([["a", "d", "b", "c"], []]);
    expect(ids(placed(p, "a", "h1", null))).toEqual([
      ["b", "c"],
      ["d", "a"],
    ]);
    expect(placed(p, "a", "h0", "a")).toEqual(p);
    expect(placed(p, "nobody", "h0", null)).toEqual(p);
  });
});

describe("changing one thing", () => {
  const p = plan(["a", "b"], ["d"]);

  it("leaves everything else and the old plan as they were", () => {
    const made = withOperation(p, "b", { cutter: "Drill F" });
    expect(made.holdings[0]?.operations.map((o) => o.cutter)).toEqual(["", "Drill F"]);
    expect(p.holdings[0]?.operations.map((o) => o.cutter)).toEqual(["", ""]);
    expect(withHolding(p, "h1", { stop: "left" }).holdings.map((h) => h.stop)).toEqual(["", "left"]);
  });

  it("takes an operation or a holding out", () => {
    expect(ids(withoutOperation(p, "a"))).toEqual([["b"], ["d"]]);
    expect(ids(withoutHolding(p, "h0"))).toEqual([["d"]]);
  });
});
