import type { Schema } from "../api/client";
import "../look/pictures.css";

/** Which way an arrow points, in degrees from the right, for each way that something can go. */
const TURNS: Record<Schema["Way"], number> = { right: 0, left: 180, away: -90, towards: 90, up: -90, down: 90 };

/** A handle with its dial: turned clockwise, where the table, knee or quill goes. */
export function HandleDial({ clockwise, said }: { clockwise: Schema["Way"]; said: string }) {
  return (
    <svg viewBox="-60 -60 120 120" width="104" height="104" role="img" aria-label={said}>
      <circle r="40" className="dial-face" />
      {Array.from({ length: 20 }, (_, i) => (
        <path key={i} d={`M0 -40V${i % 5 ? -35 : -30}`} transform={`rotate(${i * 18})`} className="dial-tick" />
      ))}
      <path d="M-34 -34A48 48 0 0 1 34 -34" className="machine-turn" />
      <path d="M34 -34l-12 -3M34 -34l-2 -12" className="machine-turn" />
      <g transform={`rotate(${TURNS[clockwise]})`}>
        <path d="M-16 0H18M18 0l-9 -7M18 0l-9 7" className="machine-goes" />
      </g>
    </svg>
  );
}
