import type { Schema } from "../api/client";
import { Ring } from "./Ring";
import { say } from "../shared/say";

type Picture = Schema["WayPicture"];
const TURN: Record<Schema["Way"], number> = { right: 0, left: 180, away: -90, towards: 90, up: -90, down: 90 };

/** What a quick question shows: a handle with its plate, an arrow, or a cutter on the work from above. */
export function WayView({ picture: p }: { picture: Picture | null }) {
  if (!p) return <p className="muted pad">{say("Everything is answered.")}</p>;
  if (p.dial) {
    const part = p.dial.axis === "knee" || p.dial.axis === "quill" ? p.dial.axis : "table";
    const words =
      p.kind === "dial"
        ? say("The dial shows {shows}", { shows: p.dial.shows })
        : say("On this handle clockwise moves the {part} {clockwise}", { part, clockwise: p.dial.clockwise });
    return (
      <div className="way-dial">
        <Ring handle={p.dial} at={p.dial.at} turning={null} said={words} />
        <div className="stack">
          <p className="setup-big">{say("{axis} handle", { axis: p.dial.axis === "knee" ? say("Knee") : p.dial.axis.toUpperCase() })}</p>
          <p>{say("{per_turn} a turn, divisions of {division}", { per_turn: p.dial.per_turn, division: p.dial.division })}</p>
          {p.kind === "turn" && (
            <svg viewBox="-110 -44 220 88" className="way-plate" role="img" aria-label={words}>
              <rect x="-108" y="-42" width="216" height="84" />
              <path d="M-74 12A24 24 0 1 1 -36 12" className="ring-arrow" />
              <path d="M-36 12l3 -15M-36 12l-14 -5" className="ring-arrow" />
              <g transform={`translate(52 0) rotate(${TURN[p.dial.clockwise]})`}>
                <path d="M-30 0H30M30 0l-12 -10M30 0l-12 10" className="goes-table" />
              </g>
              <text x="52" y="36" textAnchor="middle">
                {part}
              </text>
            </svg>
          )}
        </div>
      </div>
    );
  }
  if (p.kind === "milling" && p.rotation && p.table) {
    const y = p.behind ? -1 : 1;
    return (
      <svg
        viewBox="-400 -150 800 300"
        className="plan"
        role="img"
        aria-label={say("From above: the cutter turns {rotation}, the work lies {value} it, the table feeds {table}", {
          rotation: p.rotation,
          value: p.behind ? say("behind") : say("in front of"),
          table: p.table,
        })}
      >
        <rect x="-400" y="-150" width="800" height="300" className="plan-ground" />
        <rect x="-260" y={y < 0 ? -140 : 38} width="520" height="102" className="plan-body" />
        <text x="-246" y={y < 0 ? -116 : 128}>
          {say("work")}
        </text>
        <circle r="52" className="find-tip" />
        {[0, 90, 180, 270].map((d) => (
          <path key={d} d="M0 -52l10 -8v12" transform={`rotate(${d})${p.rotation === "clockwise" ? " scale(-1 1)" : ""}`} className="edge-burr" />
        ))}
        <g transform={p.rotation === "clockwise" ? undefined : "scale(-1 1)"}>
          <path d="M-22 14A26 26 0 1 1 22 14" className="ring-arrow" />
          <path d="M22 14l3 -14M22 14l-13 -4" className="ring-arrow" />
        </g>
        <g transform={`translate(${p.table === "right" ? 150 : -150} ${y < 0 ? -76 : 88}) rotate(${TURN[p.table]})`}>
          <path d="M-40 0H40M40 0l-14 -11M40 0l-14 11" className="goes-table" />
        </g>
        <text x={p.table === "right" ? 150 : -150} y={y < 0 ? -52 : 66} textAnchor="middle">
          {say("table and work")}
        </text>
      </svg>
    );
  }
  return (
    <svg
      viewBox="-400 -130 800 260"
      className="plan"
      role="img"
      aria-label={say("Three handles: X at the table's end, Y in front, the knee's below")}
    >
      <rect x="-400" y="-130" width="800" height="260" className="plan-ground" />
      <rect x="-230" y="-70" width="460" height="44" className="plan-table" />
      <rect x="-80" y="-26" width="160" height="40" className="plan-body" />
      <rect x="-96" y="14" width="192" height="96" className="plan-body" />
      <rect x="-20" y="-128" width="40" height="44" className="goes-cutter" />
      {(
        [
          [-262, -48, "X"],
          [0, -6, "Y"],
          [-130, 66, "knee"],
        ] as [number, number, string][]
      ).map(([cx, cy, n]) => (
        <g key={n}>
          <circle cx={cx} cy={cy} r="26" className="find-tip" />
          <text x={cx} y={cy + 5} textAnchor="middle">
            {n}
          </text>
        </g>
      ))}
    </svg>
  );
}
