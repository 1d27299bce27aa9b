/** What is typed on the page of finding: kept apart for every way, sent trimmed, with a handle of the right axis. */
import { describe, expect, it } from "vitest";
import { axisOf, fits, handleFor, handleView, start, type Page } from "../src/pages/locating/drafts";

type Handle = Page["handles"][number];
const handle = (index: number, axis: string, readout = false) => ({ index, axis, readout, place: `place ${index}`, unit: "in" }) as unknown as Handle;
const page = (change: Partial<Page> = {}): Page =>
  ({
    unit: "in",
    checks: { edge: ["burrs are off"], depth: ["spindle stopped"] },
    entered: { unsure: "0.001", division: "0.0005", paper: "0.003" },
    finders: [
      { id: "metric", tip: "5 mm" },
      { id: "inch", tip: "0.200 in" },
    ],
    handles: [handle(0, "x"), handle(1, "x"), handle(2, "y"), handle(3, "knee"), handle(4, "quill")],
    outline: { bar: false, features: [{ name: "pivot" }] },
    ...change,
  }) as unknown as Page;

describe("the drafts of finding", () => {
  it("begin with the finder in the drawing's unit, the part's first feature and the entries of the shop's tables", () => {
    const d = start(page());
    expect(d.edge.finder).toBe("inch");
    expect(start(page({ unit: "mm" })).edge.finder).toBe("metric");
    expect(start(page({ finders: [{ id: "one", tip: "10 mm" }] as unknown as Page["finders"] })).edge.finder).toBe("one");
    expect(d.round.feature).toBe("pivot");
    expect(start(page({ outline: { bar: false, features: [] } as unknown as Page["outline"] })).round.feature).toBe("");
    expect([d.middle.text.unsure, d.round.text.division, d.depth.text.thickness]).toEqual(["0.001", "0.0005", "0.003"]);
    expect(d.edge.checks).toEqual(["burrs are off"]);
    expect(d.flat.checks).toEqual([]);
  });

  it("halves a block along its length and a bar across", () => {
    expect(start(page()).middle.handle).toBe(0);
    expect(start(page({ outline: { bar: true, features: [] } as unknown as Page["outline"] })).middle.handle).toBe(2);
  });

  it("reads the scale that the axis has", () => {
    const none = start(page());
    expect([none.edge.scale, none.depth.scale]).toEqual(["dial", "dial"]);
    const x = start(page({ handles: [handle(0, "x", true), handle(3, "knee")] }));
    expect([x.edge.scale, x.depth.scale]).toEqual(["readout", "dial"]);
    const z = start(page({ handles: [handle(0, "x"), handle(3, "knee", true)] }));
    expect([z.edge.scale, z.depth.scale]).toEqual(["dial", "readout"]);
  });

  it.each([
    ["middle", ["low", "high", "width", "unsure"]],
    ["flat", ["here", "mill", "depth", "near", "far"]],
    ["round", ["east", "north", "west", "south", "here_x", "here_y"]],
    ["depth", ["reading", "thickness"]],
  ] as const)("are not sent before all is entered: %s", (kind, wanted) => {
    for (const missing of wanted) {
      const d = start(page())[kind];
      for (const w of wanted) d.text[w] = w === missing ? "  " : "1";
      expect(d.ready(page())).toBe(false);
      d.text[missing] = "1";
      expect(d.ready(page())).toBe(true);
    }
  });

  it("send what was typed, trimmed, and empty touches not at all", () => {
    const p = page();
    const d = start(p);
    d.edge.touches = [" 1.0413 ", "", "1.0413"];
    d.edge.text.paper = "";
    expect(d.edge.find(p)).toMatchObject({ kind: "edge", touches: ["1.0413", "1.0413"], paper: "0", handle: 0, finder: "inch" });
    Object.assign(d.middle.text, { low: " 0.1", high: "2.1 ", width: "2", turns: "x" });
    expect(d.middle.find(p)).toMatchObject({ low: "0.1", high: "2.1", turns: 0, inside: false, unsure: "0.001" });
    d.middle.text.turns = "12";
    expect(d.middle.find(p)).toMatchObject({ turns: 12 });
    d.round.y_handle = 2;
    expect(d.round.find(p)).toMatchObject({ x_handle: 0, y_handle: 2, unit: "in", feature: "pivot" });
    expect(d.depth.find(p)).toMatchObject({ handle: 3, how: "paper", thickness: "0.003" });
  });

  it("keep the handle that was chosen while it is of this axis", () => {
    const p = page();
    expect(handleFor(p, { handle: 1 }, "x")).toBe(1);
    expect(handleFor(p, { handle: 1 }, "y")).toBe(2);
    expect(handleFor(p, { handle: 4 }, "z")).toBe(4);
    expect(handleFor(p, { handle: null }, "z")).toBe(3);
    expect(handleFor(p, { handle: null }, null)).toBe(0);
    expect(handleView(p, { handle: 1 }, "x").place).toBe("place 1");
    // a machine without such a handle: the first there is
    expect(handleFor(page({ handles: [handle(7, "y")] }), { handle: null }, "z")).toBe(7);
  });

  it("know which axis a face lies across, and which handle moves it", () => {
    expect(["left", "right", "stop", "front", "rear"].map((f) => axisOf(f as Parameters<typeof axisOf>[0]))).toEqual(["x", "x", "x", "y", "y"]);
    expect(fits(handle(0, "quill"), "z")).toBe(true);
    expect(fits(handle(0, "x"), "z")).toBe(false);
    expect(fits(handle(0, "x"), null)).toBe(true);
  });
});
