import type { Schema } from "../api/client";
import { say } from "../shared/say";

const W = 800;
const H = 300;
const S = 13;
const BIG = 105;

/** A finder beside the work, seen along the face; in the ring the same magnified: what the tip does is seen there. */
export function EdgeView({ scene: s, gap, moving }: { scene: Schema["EdgeScene"]; gap: number; moving: boolean }) {
  const near = gap < 1.2;
  const kicked = s.look === "kicked" && !moving;
  const lift = s.look === "raised" ? -70 : 0;
  const clear = Math.min(Math.max(gap, -1.5), 15);
  // the work stands still in the picture, the tip's face lies ``clear`` before it
  const tip = Math.max(s.tip, 3);
  const x = 470 - clear * S - (tip / 2) * S;
  const there = s.finder !== "";
  const style = {
    "--swing": `${(moving ? Math.min(Math.max(gap, 0), 1.2) : s.swing) * S}px`,
    "--big": `${(moving ? Math.min(Math.max(gap, 0), 1.2) : s.swing) * BIG}px`,
  } as React.CSSProperties;
  const said = `The finder ${there ? s.finder : say("is not taken")}, ${s.speed ? say("turning at {speed}", { speed: s.speed }) : say("standing")}: ${LOOKS[s.look]}`;
  return (
    <svg viewBox={`0 0 ${W} ${H}`} className="plan edge-view" role="img" aria-label={said} style={style} data-look={s.look}>
      <rect width={W} height={H} className="plan-ground" />
      <g transform={s.side < 0 ? `translate(${W - 60} 0) scale(-1 1)` : undefined}>
        <rect x="470" y="150" width="270" height="106" className="plan-body" />
        {s.burr && <path d="M470 150l-6 -3 4 12z" className="edge-burr" />}
        <rect x="430" y="256" width="330" height="34" className="plan-jaw" />
        {there && (
          <g transform={`translate(${x} ${lift})`} className="edge-finder">
            <path d="M-46 0H46V34H-46z" className="plan-moving solid" />
            <path
              d={s.holder === "chuck" ? "M-40 34L-16 62H16L40 34z" : "M-30 34L-22 54H22L30 34z"}
              className={s.holder ? "plan-jaw" : "plan-moving"}
            />
            <rect x={(-Math.max(s.body, tip) / 2) * S * 0.72} y="56" width={Math.max(s.body, tip) * S * 0.72} height="62" className="find-tip" />
            <g className={s.speed && !kicked && s.look !== "true" ? "edge-swing" : kicked ? "edge-kick" : ""}>
              <rect x={(-tip / 2) * S} y="120" width={tip * S} height="52" className="find-tip" />
            </g>
          </g>
        )}
      </g>
      <g transform={`translate(${s.side < 0 ? 640 : 150} 140)`}>
        <circle r="118" className="edge-lens" />
        <clipPath id="lens">
          <circle r="116" />
        </clipPath>
        <g clipPath="url(#lens)" transform={s.side < 0 ? "scale(-1 1)" : undefined}>
          <rect x="20" y="-30" width="120" height="150" className="plan-body" />
          {s.burr && <path d="M20 -30l-14 -7 9 30z" className="edge-burr" />}
          {there && near && s.look !== "raised" && (
            <g className={s.speed && !kicked && s.look !== "true" ? "edge-swing big" : kicked ? "edge-kick big" : ""}>
              <rect x={20 - Math.max(gap, 0) * BIG - 150} y="-80" width="150" height="150" className="find-tip" />
            </g>
          )}
        </g>
        <text y="136" textAnchor="middle" className="plan-soft">
          {near ? LOOKS[s.look] : say("too far to see anything")}
        </text>
      </g>
      {s.speed > 0 && (
        <text x={W - 16} y="24" textAnchor="end" className={s.right_speed ? "" : "plan-soft"}>
          {say("{speed} a minute", { speed: s.speed })}
        </text>
      )}
    </svg>
  );
}

const LOOKS: Record<Schema["EdgeScene"]["look"], string> = {
  away: say("nothing in the spindle"),
  swings: say("the tip swings freely"),
  nears: say("it swings less"),
  true: say("it runs true"),
  kicked: say("it kicks"),
  raised: say("raised, clear of the work"),
};
