import type { Schema } from "../../api/client";
import { sure } from "../../shared/sure";

export type Page = Schema["FindPage"];
type Find = Schema["FindQuestion"]["find"];

/** What is typed for one way of finding; every way has its own, so that nothing entered is lost between them. */
export type Draft = {
  checks: string[];
  ticked: string[];
  handle: number | null;
  y_handle: number | null;
  scale: Schema["Scale"];
  finder: string;
  face: Schema["Face"];
  feature: string;
  touches: string[];
  text: Record<string, string>;
  inside: boolean;
  boss: boolean;
  how: "paper" | "gauge" | "chips";
  ready: (p: Page) => boolean;
  find: (p: Page) => Find;
};
export type Drafts = Record<Find["kind"], Draft>;

export function start(p: Page): Drafts {
  const finder = p.finders.find((f) => f.tip.endsWith(p.unit))?.id ?? sure(p.finders[0]).id;
  const readout = (axis: "x" | "z") =>
    p.handles.some((h) => (axis === "x" ? h.axis === "x" : h.axis !== "x" && h.axis !== "y") && h.readout) ? "readout" : "dial";
  const draft = (kind: Find["kind"], text: Record<string, string>, wanted: string[], find: (d: Draft, p: Page) => Find): Draft => ({
    checks: p.checks[kind] ?? [],
    ticked: [],
    handle: null,
    y_handle: null,
    scale: readout(kind === "depth" ? "z" : "x"),
    finder,
    face: "left",
    feature: p.outline.features[0]?.name ?? "",
    touches: ["", ""],
    text,
    inside: false,
    boss: false,
    how: "paper",
    ready(page) {
      return wanted.every((w) => (this.text[w] ?? "").trim() !== "") && (kind !== "round" || page.handles.length > 0);
    },
    find(page) {
      return find(this, page);
    },
  });
  const drafts: Drafts = {
    edge: draft("edge", { paper: "0" }, [], (d, page) => ({
      kind: "edge",
      handle: handleFor(page, d, axisOf(d.face)),
      scale: d.scale,
      face: d.face,
      finder: d.finder,
      touches: d.touches.map((t) => t.trim()).filter(Boolean),
      paper: d.text.paper || "0",
    })),
    middle: draft(
      "middle",
      { low: "", high: "", turns: "0", width: "", unsure: p.entered.unsure, above: "0" },
      ["low", "high", "width", "unsure"],
      (d, page) => ({
        kind: "middle",
        handle: handleFor(page, d, null),
        scale: d.scale,
        finder: d.finder,
        inside: d.inside,
        low: sure(d.text.low).trim(),
        high: sure(d.text.high).trim(),
        turns: Number.parseInt(d.text.turns ?? "0", 10) || 0,
        width: sure(d.text.width).trim(),
        unsure: sure(d.text.unsure).trim(),
        above: d.text.above || "0",
      }),
    ),
    flat: draft("flat", { here: "", mill: "", depth: "", near: "", far: "" }, ["here", "mill", "depth", "near", "far"], (d, page) => ({
      kind: "flat",
      handle: handleFor(page, d, "y"),
      scale: d.scale,
      here: sure(d.text.here).trim(),
      mill: sure(d.text.mill).trim(),
      depth: sure(d.text.depth).trim(),
      near: sure(d.text.near).trim(),
      far: sure(d.text.far).trim(),
    })),
    round: draft(
      "round",
      {
        east: "",
        north: "",
        west: "",
        south: "",
        here_x: "",
        here_y: "",
        division: p.entered.division,
      },
      ["east", "north", "west", "south", "here_x", "here_y"],
      (d, page) => ({
        kind: "round",
        x_handle: handleFor(page, d, "x"),
        y_handle: handleFor(page, { ...d, handle: d.y_handle }, "y"),
        scale: d.scale,
        boss: d.boss,
        feature: d.feature,
        unit: page.unit,
        division: sure(d.text.division).trim(),
        east: sure(d.text.east).trim(),
        north: sure(d.text.north).trim(),
        west: sure(d.text.west).trim(),
        south: sure(d.text.south).trim(),
        here_x: sure(d.text.here_x).trim(),
        here_y: sure(d.text.here_y).trim(),
      }),
    ),
    depth: draft("depth", { reading: "", thickness: p.entered.paper }, ["reading", "thickness"], (d, page) => ({
      kind: "depth",
      handle: handleFor(page, d, "z"),
      scale: d.scale,
      how: d.how,
      thickness: sure(d.text.thickness).trim(),
      reading: sure(d.text.reading).trim(),
    })),
  };
  // across a bar it is its flanks; a block is mostly halved along its length
  drafts.middle.handle = p.handles.find((h) => h.axis === (p.outline.bar ? "y" : "x"))?.index ?? null;
  return drafts;
}

export type Wanted = "x" | "y" | "z" | null;

export const axisOf = (face: Schema["Face"]): Wanted => (face === "left" || face === "right" || face === "stop" ? "x" : "y");
export const fits = (h: Schema["HandleView"], axis: Wanted) =>
  axis === null || (axis === "z" ? h.axis === "knee" || h.axis === "quill" : h.axis === axis);

export function handleView(p: Page, d: Pick<Draft, "handle">, axis: Wanted): Schema["HandleView"] {
  const index = handleFor(p, d, axis);
  return sure(p.handles.find((h) => h.index === index));
}

export function handleFor(p: Page, d: Pick<Draft, "handle">, axis: Wanted): number {
  const own = p.handles.find((h) => h.index === d.handle && fits(h, axis));
  return (own ?? p.handles.find((h) => fits(h, axis)) ?? sure(p.handles[0])).index;
}
