/** A part's file on the page: read and written by path, the old one never changed. */
import { expect, test } from "vitest";
import type { Schema } from "../src/api/client";
import { faultsAt } from "../src/pages/parts/editor/Asking";
import { get, items, set, text, without, withMore, type PartFile } from "../src/pages/parts/editor/file";

const file: PartFile = {
  name: "Tide block",
  needs: null,
  features: [
    { kind: "step", name: "shoulder", depth: "6" },
    { kind: "hole", name: "bolt", layout: { layout: "grid", at: ["10", "12"], counts: [2, 3] }, thread: null },
  ],
};
const before = JSON.stringify(file);

test.each([
  ["name", "Tide block"],
  ["features.0.depth", "6"],
  ["features.1.layout.at.1", "12"],
  ["features.1.layout.counts.1", 3],
  ["features.1.thread", null],
  ["features.1.thread.depth", undefined],
  ["features.7.depth", undefined],
  ["lid", undefined],
])("what stands at %s", (path, value) => {
  expect(get(file, path)).toEqual(value);
});

test.each([["name"], ["features.0.depth"], ["features.1.layout.at.0"], ["features.1.layout.counts.1"], ["stock.x"], ["needs"]])(
  "what is written at %s stands there, alone, in a new file",
  (path) => {
    const after = set(file, path, "9");
    expect(get(after, path)).toBe("9");
    expect(JSON.stringify(file)).toBe(before);
    const back = set(after, path, get(file, path) ?? null);
    if (get(file, path) !== undefined) expect(JSON.stringify(back)).toBe(before);
  },
);

test("a list grows and shrinks at the right place", () => {
  expect(items(file, "features").map((f) => text(f, "name"))).toEqual(["shoulder", "bolt"]);
  expect(items(file, "needs")).toEqual([]);
  expect(items(without(file, "features", 0), "features").map((f) => text(f, "name"))).toEqual(["bolt"]);
  expect(items(withMore(file, "datums", { letter: "A", face: "bottom" }), "datums")).toHaveLength(1);
  expect(JSON.stringify(file)).toBe(before);
});

test("a field shows text and numbers, and nothing for what is not given", () => {
  expect(text(file, "features.0.depth")).toBe("6");
  expect(text(file, "features.1.layout.counts.0")).toBe("2");
  expect(text(file, "features.1.thread")).toBe("");
  expect(text(file, "lid.name")).toBe("");
});

test("a fault is found at its field and at what holds it, not at a neighbour of a longer number", () => {
  const at = (field: string) => ({ field, value: "", bound: field });
  const draft = { faults: [at("features.1.depth"), at("features.12.depth"), at("stock.x")] } as unknown as Schema["DraftView"];
  expect(faultsAt(draft, "features.1").map((f) => f.field)).toEqual(["features.1.depth"]);
  expect(faultsAt(draft, "features").map((f) => f.field)).toEqual(["features.1.depth", "features.12.depth"]);
  expect(faultsAt(draft, "features.1.dep")).toEqual([]);
  expect(faultsAt(draft, "stock.x")).toHaveLength(1);
});
