/** What is drawn shows what it says: needles, rings, bars and pictures against their values. */
import type { ReactElement } from "react";
import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { Schema, Verdict } from "../src/api/client";
import { BoreView } from "../src/instruments/BoreView";
import { Convergence } from "../src/instruments/Convergence";
import { Dial } from "../src/instruments/Dial";
import { EdgeView } from "../src/instruments/EdgeView";
import { Length, ShownUnit } from "../src/instruments/length";
import { Goes, Ring } from "../src/instruments/Ring";
import { Sketch } from "../src/instruments/Sketch";
import { SmallBar, ToleranceBar, type Pointer } from "../src/instruments/ToleranceBar";
import { LOOKS, VerdictMark } from "../src/instruments/verdict";
import { WayView } from "../src/instruments/WayView";

const drawn = (element: ReactElement) => renderToStaticMarkup(element);
const numbers = (text: string | undefined) => (text?.match(/-?\d+(\.\d+)?(e-?\d+)?/g) ?? []).map(Number);
const all = (svg: string, pattern: RegExp) => [...svg.matchAll(pattern)];

describe("the dial of an indicator", () => {
  const needle = (svg: string) => Number(/<g transform="rotate\((-?[\d.e-]+)\)" opacity/.exec(svg)?.[1]);
  const draw = (reading: number | null, unit = "mm", division = 0.01) =>
    drawn(<Dial reading={reading} division={division} unit={unit} turns={0} shown="0.00" />);

  it.each([-0.29, -0.1, 0, 0.01, 0.15, 0.3, 0.75])("turns six degrees for each division: %f mm", (reading) => {
    expect(needle(draw(reading))).toBeCloseTo((reading / 0.01) * 6, 6);
  });

  it.each([
    ["mm", 0.01, 1],
    ["in", 0.0127, 2],
  ] as const)("has its numbers where the needle stands at them: %s", (unit, division, each) => {
    const svg = draw(0, unit, division);
    const marks = all(svg, /<text transform="rotate\((\d+)\) translate\(0 -112\) rotate\(-?\d+\)"[^>]*>(\d+)</g);
    expect(marks).toHaveLength(6);
    for (const [, at, value] of marks) {
      // up to half a turn the numbers rise to the right, beyond it they are those of the other side
      const divisions = Number(value) * each;
      const right = needle(draw(divisions * division, unit, division));
      const left = needle(draw(-divisions * division, unit, division)) + 360;
      expect([right, left].some((a) => Math.abs(a - Number(at)) < 1e-6 || Math.abs(a - 360 - Number(at)) < 1e-6)).toBe(true);
    }
  });

  it("is faint and says so when the tip touches nothing", () => {
    expect(draw(null)).toContain('opacity="0.25"');
    expect(draw(null)).toContain("the tip touches nothing");
    expect(draw(0)).toContain('opacity="1"');
  });
});

describe("the ring of a handle", () => {
  const marks = ["0", "20", "40", "60", "80", "100", "120", "140", "160", "180"];
  const under = (up: "clockwise" | "anticlockwise", at: number) => {
    const svg = drawn(<Ring handle={{ dial_up: up, marks }} at={at} turning={null} said="ring" />);
    const whole = Number(/rotate\((-?[\d.e-]+)deg\)/.exec(svg)?.[1]);
    const placed = all(svg, /<text y="-66"[^>]*transform="rotate\((-?[\d.]+)\)"[^>]*>(\d+)</g);
    const turned = placed.map(([, angle, value]) => ({ value: Number(value), angle: (((whole + Number(angle)) % 360) + 360) % 360 }));
    return { whole, at: turned.reduce((a, b) => (Math.min(a.angle, 360 - a.angle) <= Math.min(b.angle, 360 - b.angle) ? a : b)) };
  };

  it.each(["clockwise", "anticlockwise"] as const)("has the number under its index that it shows: %s", (up) => {
    for (let i = 0; i < 10; i++) {
      const { at } = under(up, i / 10);
      expect(at.value).toBe(i * 20);
      expect(Math.min(at.angle, 360 - at.angle)).toBeCloseTo(0, 6);
    }
  });

  it("turns with the hand: clockwise where clockwise makes the numbers rise", () => {
    expect(under("clockwise", 0.1).whole).toBeGreaterThan(under("clockwise", 0).whole);
    expect(under("anticlockwise", 0.1).whole).toBeLessThan(under("anticlockwise", 0).whole);
  });

  it.each([
    ["left", "table", "x"],
    ["up", "knee", "knee"],
    ["down", "quill", "quill"],
  ] as const)("says which part goes %s", (way, name, axis) => {
    expect(drawn(<Goes way={way} axis={axis} />)).toContain(`The ${name} goes ${way}; the cutter comes the other way`);
  });
});

describe("a tolerance bar", () => {
  const both = (inch: string) => ({ given: "in" as const, inch, mm: "25.4" });
  const limits = { lower: both("0.998"), upper: both("1.002"), aim: both("1.000"), metal: "outside" as const };
  const pointer = (at: number, verdict: Verdict, off = ""): Pointer => ({ bar: { at, off, sure: 0.05 }, verdict });
  const bar = (p: Pointer[], of: Parameters<typeof ToleranceBar>[0]["characteristic"] = limits, guard = 0) =>
    drawn(<ToleranceBar characteristic={of} pointers={p} guard={guard} />);
  const tips = (svg: string) => all(svg, /<path d="M(-?[\d.]+) 34V64" stroke="var\(--\w+\)" stroke-width="2"/g).map((m) => Number(m[1]));

  it.each([0, 0.25, 0.5, 0.75, 1])("has its limits at a quarter and three quarters and a value at its place: %f", (at) => {
    const svg = bar([pointer(at, "in")]);
    expect(all(svg, /<path d="M(\d+) 27V71"/g).map((m) => Number(m[1]))).toEqual([160, 480]);
    expect(tips(svg)).toEqual([Math.min(Math.max(at * 640, 11), 629)]);
  });

  it("pins what is beyond it and says by how much", () => {
    const svg = bar([pointer(1.4, "out_metal_left", "0.010 in")]);
    expect(tips(svg)).toEqual([629]);
    expect(svg).toContain("0.010 in beyond");
    expect(svg).toContain("reading out, metal left, 0.010 in beyond");
  });

  it.each([
    ["outside", "metal gone", "metal left"],
    ["inside", "metal left", "metal gone"],
    ["none", "too small", "too large"],
  ] as const)("says what lies beyond each limit of an %s size", (metal, low, high) => {
    const words = all(bar([], { ...limits, metal }), /<text[^>]*fill="var\(--bad\)">([^<]+)</g).map((m) => m[1]);
    expect(words).toEqual([low, high]);
  });

  it("has one limit where only one is asked", () => {
    const svg = bar([], { ...limits, lower: null, aim: null });
    expect(all(svg, /<path d="M(\d+) 27V71"/g).map((m) => Number(m[1]))).toEqual([480]);
    expect(svg).toContain("Limits 0 to 1.002 in");
  });

  it("hatches a guard band inside the limits, never past the middle", () => {
    const widths = (guard: number) => all(bar([], limits, guard), /width="([\d.]+)"[^>]*fill="url\(#guard\)"/g).map((m) => Number(m[1]));
    expect(widths(0)).toEqual([]);
    expect(widths(0.1)).toEqual([64, 64]);
    expect(widths(0.4)).toEqual([160, 160]);
  });

  it("is small in a list, with the values at the same shares", () => {
    const svg = drawn(<SmallBar pointers={[pointer(0.25, "in"), pointer(2, "out")]} />);
    expect(all(svg, /<path d="M([\d.]+) 13l/g).map((m) => Number(m[1]))).toEqual([30, 114]);
  });
});

describe("verdicts", () => {
  it("differ by their mark and their word, not by colour alone", () => {
    const every = Object.keys(LOOKS) as Verdict[];
    const shapes = every.map((v) => /<path d="([^"]+)"/.exec(drawn(<VerdictMark verdict={v} />))?.[1]);
    expect(new Set(shapes).size).toBe(every.length);
    expect(new Set(every.map((v) => LOOKS[v].word)).size).toBe(every.length);
  });

  it.each(["in", "mm"] as const)("lengths are shown in the unit that is switched on: %s", (unit) => {
    const svg = drawn(
      <ShownUnit value={{ unit, toggle: () => undefined }}>
        <Length of={{ given: "mm", inch: "0.9842", mm: "25.00" }} />
      </ShownUnit>,
    );
    expect(svg).toBe(`<span title="given in mm: 25.00">${unit === "in" ? "0.9842 in" : "25.00 mm"}</span>`);
  });
});

describe("a picture of the core", () => {
  const shape = (stroke: Schema["ShapeView"]["stroke"], points: [number, number][], text = ""): Schema["ShapeView"] => ({
    stroke,
    ink: "work",
    points,
    text,
  });
  const outline = (svg: string) => numbers(/<path d="(M[^"]+)Z" class="sketch-work area"/.exec(svg)?.[1]);
  const square: [number, number][] = [
    [0, 0],
    [10, 0],
    [10, 20],
    [0, 20],
  ];

  it("keeps the proportion, has y upwards and lies within the plate", () => {
    const at = outline(drawn(<Sketch of={{ words: "a block", free: false, shapes: [shape("area", square)] }} />));
    const [x0 = 0, y0 = 0, x1 = 0, , , y2 = 0] = at;
    expect((y0 - y2) / (x1 - x0)).toBeCloseTo(2, 2);
    expect(y0).toBeGreaterThan(y2);
    for (let i = 0; i < at.length; i += 2) {
      expect(at[i]).toBeGreaterThanOrEqual(74 - 0.1);
      expect(at[i]).toBeLessThanOrEqual(566.1);
      expect(at[i + 1]).toBeGreaterThanOrEqual(29.9);
      expect(at[i + 1]).toBeLessThanOrEqual(300.1);
    }
  });

  it("fills the plate where its two ways are not lengths of one kind", () => {
    const [x0 = 0, y0 = 0, x1 = 0, , , y2 = 0] = outline(drawn(<Sketch of={{ words: "a plot", free: true, shapes: [shape("area", square)] }} />));
    expect([x0, x1]).toEqual([74, 566]);
    expect([y0, y2]).toEqual([300, 30]);
  });

  it("has the head of an arrow at its end", () => {
    const shapes = [
      shape("arrow", [
        [0, 0],
        [10, 0],
      ]),
    ];
    const svg = drawn(<Sketch of={{ words: "an arrow", free: false, shapes }} />);
    const [x = 0] = numbers(/<path d="(M[^"]+)Z" class="sketch-work head"/.exec(svg)?.[1]);
    expect(x).toBe(566);
  });

  it("says its words to who does not see it", () => {
    const svg = drawn(<Sketch of={{ words: "the axis stops at 95 mm", free: false, shapes: [shape("text", [[0, 0]], "95")] }} />);
    expect(svg).toContain('aria-label="the axis stops at 95 mm"');
    expect(svg).toContain(">95<");
  });
});

describe("how the passes come to the standard", () => {
  const classes = (off: number[]) =>
    all(drawn(<Convergence off={off} standard={0.02} />), /class="converge-dot( in| beyond)?"/g).map((m) => m[1] ?? "");

  it("marks what is within it, on both sides of the line, and what is far beyond", () => {
    expect(classes([0.02, 0.0201, 0.5])).toEqual([" in", "", " beyond"]);
    expect(drawn(<Convergence off={[0.5, 0.02]} standard={0.02} />)).toContain("the last is within the standard");
    expect(drawn(<Convergence off={[0.02, 0.0201]} standard={0.02} />)).toContain("the last is outside the standard");
  });

  it("says what will be here before there is a pass", () => {
    expect(drawn(<Convergence off={[]} standard={0.02} />)).toContain("Each pass will appear here");
  });
});

describe("finding an edge and a bore", () => {
  const scene: Schema["EdgeScene"] = {
    axis: "x",
    side: 1,
    finder: "a finder",
    holder: "collet",
    tip: 5,
    body: 10,
    speed: 800,
    right_speed: true,
    look: "swings",
    swing: 0.4,
    burr: false,
  } as unknown as Schema["EdgeScene"];
  const finder = (gap: number, of = scene) =>
    Number(/translate\((-?[\d.]+) -?\d+\)" class="edge-finder"/.exec(drawn(<EdgeView scene={of} gap={gap} moving={false} />))?.[1]);

  it.each([0, 1, 5, 15])("has the tip's face before the work by the gap: %f", (gap) => {
    expect(finder(gap) + (5 / 2) * 13 + gap * 13).toBeCloseTo(470, 6);
  });

  it("does not leave the picture when it is far away", () => {
    expect(finder(100)).toBe(finder(15));
  });

  it.each([
    ["away", "", "is not taken"],
    ["kicked", "a finder", "it kicks"],
  ] as const)("says how it looks: %s", (look, name, words) => {
    expect(drawn(<EdgeView scene={{ ...scene, look, finder: name }} gap={2} moving={false} />)).toContain(words);
  });

  const bore: Schema["BoreScene"] = {
    boss: false,
    travel: 0.5,
    curve: [
      [0, 0],
      [90, 0.25],
      [180, 0.5],
      [360, 0],
    ],
    reads: ["0", "0.25", "0.5", "0.25"],
    fresh: true,
  } as unknown as Schema["BoreScene"];
  const line = (turned: number | null) => numbers(/points="([^"]*)"/.exec(drawn(<BoreView scene={bore} turned={turned} reading={0} />))?.[1]);

  it("draws the swing only as far as it has come, higher where the needle is pushed in more", () => {
    expect(line(0.3)).toHaveLength(4);
    const whole = line(null);
    expect(whole).toHaveLength(8);
    expect(whole[5]).toBeLessThan(whole[1] ?? 0);
    expect(whole.filter((_, i) => i % 2 === 0)).toEqual([330, 438, 546, 762]);
  });

  it("reads its four sides aloud", () => {
    expect(drawn(<BoreView scene={bore} turned={null} reading={null} />)).toContain("E 0, N 0.25, W 0.5, S 0.25");
    expect(drawn(<BoreView scene={{ ...bore, fresh: false }} turned={null} reading={null} />)).toContain("moved since");
  });
});

describe("which way", () => {
  it.each(["left", "right"] as const)("the table's arrow points where it feeds: %s", (table) => {
    const picture = { kind: "milling", rotation: "clockwise", table, behind: true, dial: null } as unknown as Schema["WayPicture"];
    const svg = drawn(<WayView picture={picture} />);
    expect(svg).toContain(`the work lies behind it, the table feeds ${table}`);
    expect(svg).toContain(`rotate(${table === "right" ? 0 : 180})`);
  });

  it("is over when everything is answered", () => {
    expect(drawn(<WayView picture={null} />)).toContain("Everything is answered");
  });
});
