import { sure } from "../../shared/sure";
import { Button } from "antd";
import { useState } from "react";
import type { Schema } from "../../api/client";
import { Rich, say } from "../../shared/say";

type Step = Schema["SquaringView"];

/** Faces 1 to 6 of a rough block, one holding after the other, each drawn as it stands in the vise. */
export function Squaring({ steps }: { steps: readonly Step[] }) {
  const [at, setAt] = useState(0);
  const s = sure(steps[at]);
  return (
    <div className="setup-columns wide">
      <figure className="setup-picture">
        <Held step={s} />
      </figure>
      <div className="stack">
        <div className="squaring-steps" role="tablist" aria-label={say("Faces")}>
          {steps.map((x, i) => (
            <button key={x.number} role="tab" aria-selected={i === at} className={i === at ? "on" : i < at ? "done" : ""} onClick={() => setAt(i)}>
              {x.number}
            </button>
          ))}
        </div>
        <section className="card pad stack" role="status">
          <h2>{say("Face {number}", { number: s.number })}</h2>
          <p>{s.words}</p>
          <p>
            <b className="head">{say("Check it:")}</b> {s.check}
          </p>
          <div className="row">
            <Button disabled={at === 0} onClick={() => setAt(at - 1)}>
              {say("Back")}
            </Button>
            <Button type="primary" className="grow" disabled={at === steps.length - 1} onClick={() => setAt(at + 1)}>
              {at === steps.length - 1 ? say("Square on all six") : say("Then face {number}", { number: s.number + 1 })}
            </Button>
          </div>
        </section>
        <p className="caution">
          <Rich
            text={
              "<b>Every milled edge cuts like a knife.</b> Stop the spindle, brush the chips off, deburr at each turn: a burr or a chip under a face tilts the next one."
            }
            with={{ b: <b /> }}
          />
        </p>
      </div>
    </div>
  );
}

function Held({ step: s }: { step: Step }) {
  const done = (face: number) => face < s.number;
  const upright = s.number >= 5;
  const [w, h] = upright ? [110, 210] : [190, 120];
  const bottom = s.parallels ? 268 : 300;
  const [left, top] = [300 - w / 2, bottom - h];
  const right = 300 + w / 2;
  const edge = (face: number, d: string) => <path d={d} className={done(face) ? "square-done" : face === s.up ? "square-now" : "square-rough"} />;
  return (
    <svg
      viewBox="0 0 600 360"
      className="plan"
      role="img"
      aria-label={say("Face {up} up, face {fixed} at the fixed jaw, face {down} down, face {moving} at the moving jaw", {
        up: s.up,
        fixed: s.fixed,
        down: s.down,
        moving: s.moving,
      })}
    >
      <rect width="600" height="360" className="plan-ground" />
      <rect x="40" y="300" width="520" height="40" className="plan-flange" />
      <rect x={left - 90} y="200" width="90" height="100" className="plan-jaw" />
      <text x={left - 45} y="290" textAnchor="middle">
        {say("fixed")}
      </text>
      <rect x={right + (s.bar ? 26 : 0)} y="200" width="90" height="100" className="plan-moving solid" />
      <text x={right + 45 + (s.bar ? 26 : 0)} y="290" textAnchor="middle">
        {say("moving")}
      </text>
      {s.bar && <circle cx={right + 13} cy="250" r="13" className="section-bar" />}
      {s.parallels && (
        <g className="section-parallel">
          <rect x={left} y="268" width="14" height="32" />
          <rect x={right - 14} y="268" width="14" height="32" />
        </g>
      )}
      <rect x={left} y={top} width={w} height={h} className="section-work" stroke="none" />
      {edge(s.up, `M${left} ${top}H${right}`)}
      {edge(s.fixed, `M${left} ${top}V${bottom}`)}
      {edge(s.down, `M${left} ${bottom}H${right}`)}
      {edge(s.moving, `M${right} ${top}V${bottom}`)}
      <Number x={300} y={top + 24} n={s.up} lit />
      <Number x={left + 20} y={top + h / 2} n={s.fixed} />
      <Number x={300} y={bottom - 14} n={s.down} />
      <Number x={right - 20} y={top + h / 2} n={s.moving} />
      <g transform={`translate(300 ${top - 14})`}>
        <rect x="-64" y="-34" width="128" height="26" className="plan-screw" />
        <path d="M-64 -8V0M-32 -8V0M0 -8V0M32 -8V0M64 -8V0" className="plan-scale" />
      </g>
      {upright && (
        <g className="plan-scale">
          <path d={`M${right + 4} ${top + 8}V196`} />
          <text x={right + 14} y={top + 40} className="plan-soft">
            {say("upright by a square")}
          </text>
        </g>
      )}
    </svg>
  );
}

function Number({ x, y, n, lit }: { x: number; y: number; n: number; lit?: boolean }) {
  return (
    <text x={x} y={y + 6} textAnchor="middle" className={lit ? "square-number lit" : "square-number"}>
      {n}
    </text>
  );
}
