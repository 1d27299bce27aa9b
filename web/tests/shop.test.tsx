import type { ReactElement } from "react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../src/api/client";
import { ErrorChart } from "../src/instruments/ErrorChart";
import { HoldingSketch } from "../src/instruments/HoldingSketch";
import { as, drawn as drawnFor, texts } from "./render";

const drawn = (element: ReactElement) => drawnFor(element, as("instructor"));
const block = (size: string, left: string, spread = "0"): Schema["CheckedBlock"] => ({ size, error: left, left, spread });
const colours = (html: string) => [...html.matchAll(/<circle[^>]*fill="var\(--(\w+)\)"/g)].map((m) => m[1]);
const heights = (html: string) => [...html.matchAll(/<circle[^>]*cy="([\d.]+)"/g)].map((m) => Number(m[1]));

describe("a gauge on its blocks", () => {
  const chart = (...points: Schema["CheckedBlock"][]) => drawn(<ErrorChart points={points} sure="0.0002" unit="in" />);

  it("is red where more was seen than the gauge is sure to, spread and all", () => {
    const html = chart(block("0", "0"), block("0.5", "0.00015", "0.0001"), block("1", "0.0002", "0.0001"));
    expect(colours(html)).toEqual(["good", "good", "bad"]);
    expect(texts(html)).toContain("+0.0002");
  });

  it("stands higher the more it read, on a scale that holds the worst", () => {
    const [zero, over, under] = heights(chart(block("0", "0"), block("0.5", "0.002"), block("1", "-0.002")));
    expect(over).toBeLessThan(zero ?? 0);
    expect(under).toBeGreaterThan(zero ?? 0);
    expect(over).toBeGreaterThan(0);
    expect(under).toBeLessThan(220);
  });
});

describe("what holds work, as it is entered", () => {
  const vise = (opening: string, depth = "32") =>
    drawn(<HoldingSketch of={{ kind: "vise", unit: "mm", jaw: "100", depth, opening, bolts: "140", bolts_before: "50", swivel: false }} />);
  const rects = (html: string, css: string) => [...html.matchAll(/<rect[^>]*>/g)].map((m) => m[0]).filter((x) => x.includes(css));

  it("draws nothing of a number that cannot be drawn yet", () => {
    expect(rects(vise(""), "plan-jaw")).toHaveLength(0);
    expect(rects(vise("1x"), "plan-jaw")).toHaveLength(0);
    expect(rects(vise("100"), "plan-jaw")).toHaveLength(1);
  });

  it("stays in its picture, however wide it opens or deep it is", () => {
    for (const [opening, depth] of [
      ["600", "10"],
      ["10", "150"],
      ["100", "32"],
    ] as const) {
      for (const x of rects(vise(opening, depth), "<rect")) {
        const at = (name: string) => Number(new RegExp(` ${name}="([-\\d.]+)"`).exec(x)?.[1]);
        expect(at("x")).toBeGreaterThanOrEqual(0);
        expect(at("x") + at("width")).toBeLessThanOrEqual(520);
        expect(at("y")).toBeGreaterThanOrEqual(0);
      }
    }
  });

  it("draws pairs side by side, as high as they are to one another", () => {
    const pairs = ["10", "20", "40"].map((height) => ({ height, thickness: "4", length: "150" }));
    const html = drawn(<HoldingSketch of={{ kind: "parallels", unit: "mm", pairs }} />);
    const high = rects(html, "plan-jaw").map((x) => Number(/height="([\d.]+)"/.exec(x)?.[1]));
    expect(high.map((h) => h / (high[0] ?? 1))).toEqual([1, 2, 4]);
  });
});
