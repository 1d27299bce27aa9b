import { sure } from "../shared/sure";
import type { Schema } from "../api/client";
import "./sketch.css";

type Picture = Schema["PictureView"];
type Shape = Picture["shapes"][number];
type Spot = [number, number];

const WIDE = 640;
const HIGH = 330;
const ROOM = { x: 74, y: 30 };

/** A picture that the core made, scribed on the plate: shapes in true proportion, y upwards; texts keep their size. */
export function Sketch({ of, wide = WIDE, high = HIGH }: { of: Picture; wide?: number; high?: number }) {
  const place = placed(of, wide, high);
  const plane = of.shapes.filter((s) => s.stroke !== "size" && s.stroke !== "text");
  const words = of.shapes.filter((s) => s.stroke === "size" || s.stroke === "text");
  return (
    <svg viewBox={`0 0 ${wide} ${high}`} className="sketch" role="img" aria-label={of.words}>
      <rect width={wide} height={high} className="sketch-plate" />
      {plane.map((s, i) => (
        <Line key={i} shape={s} spots={s.points.map((p) => place(p as Spot))} />
      ))}
      {words.map((s, i) => (
        <Words key={i} shape={s} middle={wide / 2} spots={s.points.map((p) => place(p as Spot))} />
      ))}
    </svg>
  );
}

/** From the picture's own lengths to the plate's: as large as fits, in the middle. */
function placed(of: Picture, across: number, high: number): (p: Spot) => Spot {
  const all = of.shapes.flatMap((s) => s.points as Spot[]);
  const xs = all.map((p) => p[0]);
  const ys = all.map((p) => p[1]);
  const [left, low] = [Math.min(...xs), Math.min(...ys)];
  const wide = Math.max(...xs) - left || 1;
  const tall = Math.max(...ys) - low || 1;
  const side = ROOM.x * (across / WIDE);
  const fit: Spot = [(across - 2 * side) / wide, (high - 2 * ROOM.y) / tall];
  const both = Math.min(...fit);
  const [fx, fy] = of.free ? fit : [both, both];
  const x0 = (across - wide * fx) / 2;
  const y0 = (high + tall * fy) / 2;
  return ([x, y]) => [x0 + (x - left) * fx, y0 - (y - low) * fy];
}

const path = (spots: Spot[]) => spots.map(([x, y], i) => `${i ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`).join("");

function Line({ shape, spots }: { shape: Shape; spots: Spot[] }) {
  const name = `sketch-${shape.ink}`;
  if (shape.stroke === "area") return <path d={`${path(spots)}Z`} className={`${name} area`} />;
  const head = shape.stroke === "arrow" && spots.length > 1 ? arrowHead(sure(spots.at(-2)), sure(spots.at(-1))) : "";
  return (
    <>
      <path d={path(spots)} className={`${name} line${shape.stroke === "dashed" ? " dashed" : ""}`} />
      {head && <path d={head} className={`${name} head`} />}
    </>
  );
}

/** Unit vector from one spot to another. */
function along([ax, ay]: Spot, [bx, by]: Spot): Spot {
  const far = Math.hypot(bx - ax, by - ay) || 1;
  return [(bx - ax) / far, (by - ay) / far];
}

function arrowHead(from: Spot, to: Spot): string {
  const [ux, uy] = along(from, to);
  const back: Spot = [to[0] - ux * 13, to[1] - uy * 13];
  return path([to, [back[0] - uy * 6, back[1] + ux * 6], [back[0] + uy * 6, back[1] - ux * 6]]) + "Z";
}

/** Words at a spot, or a dimension: a line between bars with its length beside it. */
function Words({ shape, middle, spots }: { shape: Shape; middle: number; spots: Spot[] }) {
  const name = `sketch-${shape.ink}`;
  const [a, b = a] = spots as [Spot, Spot?];
  if (shape.stroke === "text") {
    return (
      <text x={a[0]} y={a[1] + 5} textAnchor="middle" className={name}>
        {shape.text}
      </text>
    );
  }
  const [ux, uy] = along(a, b);
  const bar = (p: Spot) =>
    path([
      [p[0] - uy * 6, p[1] + ux * 6],
      [p[0] + uy * 6, p[1] - ux * 6],
    ]);
  const upright = Math.abs(uy) > Math.abs(ux);
  const [mx, my] = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  const right = mx > middle;
  return (
    <>
      <path d={path([a, b]) + bar(a) + bar(b)} className={`${name} line`} />
      <text
        x={upright ? mx + (right ? 10 : -10) : mx}
        y={upright ? my + 5 : my - 8}
        textAnchor={!upright ? "middle" : right ? "start" : "end"}
        className={name}
      >
        {shape.text}
      </text>
    </>
  );
}
