import type { Schema } from "../api/client";
import { say } from "../shared/say";

type Props = {
  handle: Pick<Schema["HandleView"], "dial_up" | "marks">;
  /** What stands under the index, as a part of a turn, 0 to 1. */
  at: number;
  turning: Schema["Turning"] | null;
  said: string;
};

/** A handle's dial as one faces it: the ring with its numbers under a fixed index, and which way it is turned. */
export function Ring({ handle: h, at, turning, said }: Props) {
  // numbers that rise when it is turned clockwise are laid anticlockwise around the ring
  const laid = h.dial_up === "clockwise" ? -1 : 1;
  return (
    <svg viewBox="-120 -128 240 248" className="ring" role="img" aria-label={said}>
      <circle r="104" className="ring-body" />
      <g className="ring-turns" style={{ transform: `rotate(${-laid * at * 360}deg)` }}>
        <circle r="98" className="ring-face" />
        {Array.from({ length: 50 }, (_, i) => (
          <path key={i} d={`M0 -98V${i % 5 === 0 ? -82 : -90}`} transform={`rotate(${laid * i * 7.2})`} className="ring-tick" />
        ))}
        {h.marks.map((m, i) => (
          <text key={m} y="-66" textAnchor="middle" transform={`rotate(${laid * i * 36})`}>
            {m}
          </text>
        ))}
      </g>
      <path d="M0 -96l-8 -24h16z" className="ring-index" />
      {turning && (
        <g transform={turning === "clockwise" ? undefined : "scale(-1 1)"}>
          <path d="M-34 20A40 40 0 1 1 34 20" className="ring-arrow" />
          <path d="M34 20l4 -17M34 20l-17 -4" className="ring-arrow" />
        </g>
      )}
      <circle r="9" className="ring-hub" />
    </svg>
  );
}

const WAYS: Record<Schema["Way"], number> = { right: 0, left: 180, away: -90, towards: 90, up: -90, down: 90 };

/** What is seen while the handle turns: the table goes one way, over the work the cutter comes the other. */
export function Goes({ way, axis }: { way: Schema["Way"]; axis: Schema["HandleView"]["axis"] }) {
  const beside = axis === "knee" || axis === "quill";
  const turn = `rotate(${WAYS[way]})`;
  const name = axis === "knee" || axis === "quill" ? axis : "table";
  return (
    <svg
      viewBox="-120 -80 240 160"
      className="plan goes"
      role="img"
      aria-label={say("The {name} goes {way}; the cutter comes the other way over the work.", { name, way })}
    >
      <rect x="-120" y="-80" width="240" height="160" className="plan-ground" />
      <rect x="-104" y={beside ? 8 : -54} width="208" height={beside ? 34 : 108} className="plan-table" />
      {!beside && [-30, 24].map((y) => <rect key={y} x="-104" y={y} width="208" height="6" className="plan-slot" />)}
      <rect x="-46" y={beside ? -18 : -28} width="92" height={beside ? 26 : 56} className="plan-body" />
      {beside ? <rect x="-9" y="-72" width="18" height="50" className="goes-cutter" /> : <circle r="13" className="goes-cutter" />}
      <g transform={`translate(${beside ? 72 : 0} ${beside ? 20 : 42}) ${turn}`}>
        <path d="M-24 0H24M24 0l-11 -9M24 0l-11 9" className="goes-table" />
      </g>
      <g transform={`translate(${beside ? 26 : 0} ${beside ? -46 : 0}) ${turn} rotate(180)`}>
        <path d="M16 0H44M44 0l-9 -7M44 0l-9 7" className="goes-over" transform={beside ? "translate(-30 0)" : undefined} />
      </g>
      <text x="-98" y="72" className="goes-key-table">
        {name}
      </text>
      <text x="98" y="72" textAnchor="end" className="goes-key-over">
        {say("cutter over the work")}
      </text>
    </svg>
  );
}
