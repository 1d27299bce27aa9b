import { sure } from "../shared/sure";
import type { Schema } from "../api/client";
import { say } from "../shared/say";

const W = 800;
const H = 300;
const NAMES: [string, number][] = [
  ["E", 0],
  ["N", 90],
  ["W", 180],
  ["S", 270],
  ["E", 360],
];

/** The bore or boss from above with the indicator's arm, and the needle against the angle of the last swing. */
export function BoreView({ scene: s, turned, reading }: { scene: Schema["BoreScene"]; turned: number | null; reading: number | null }) {
  const x = (degrees: number) => 330 + degrees * 1.2;
  const y = (mm: number) => 140 - (mm / s.travel) * 104;
  const now = turned === null ? null : turned * 360;
  const shown = now === null ? s.curve : s.curve.filter((p) => sure(p[0]) <= now);
  const said = `${s.boss ? say("A boss") : say("A bore")}; ${s.reads.length ? say("last read E {reads}, N {reads2}, W {reads3}, S {reads4}", { reads: s.reads[0], reads2: s.reads[1], reads3: s.reads[2], reads4: s.reads[3] }) : say("not read yet")}${s.fresh ? "" : s.reads.length ? say(", moved since") : ""}`;
  return (
    <svg viewBox={`0 0 ${W} ${H}`} className="plan" role="img" aria-label={said}>
      <rect width={W} height={H} className="plan-ground" />
      <g transform="translate(150 146)">
        <rect x="-136" y="-128" width="272" height="256" className="plan-body" />
        <circle r="82" className={s.boss ? "find-tip" : "find-hole"} />
        <g transform={`rotate(${-(now ?? 0)})`}>
          <path d={s.boss ? "M0 0H98V10" : "M0 0H64"} className="bore-arm" />
          <circle cx={s.boss ? 92 : 74} r="8" className="ring-hub" />
        </g>
        <circle r="6" className="ring-index" />
        {NAMES.slice(0, 4).map(([n, d]) => (
          <text key={n} transform={`rotate(${-d}) translate(${s.boss ? 116 : 100} 0) rotate(${d})`} y="5" textAnchor="middle">
            {n}
          </text>
        ))}
      </g>
      <path d={`M330 140H762M330 36V244`} className="lost-base" />
      {NAMES.map(([n, d]) => (
        <g key={d}>
          <path d={`M${x(d)} 36V244`} className="bore-line" />
          <text x={x(d)} y="266" textAnchor="middle">
            {n}
          </text>
        </g>
      ))}
      <text x="336" y="30" className="plan-soft">
        {say("needle, pushed in more is higher")}
      </text>
      <polyline
        points={shown.map((p) => `${x(sure(p[0]))},${y(sure(p[1]))}`).join(" ")}
        className={s.fresh || now !== null ? "lost-middle" : "lost-middle old"}
      />
      {now !== null && reading !== null && <circle cx={x(now)} cy={y(reading)} r="7" className="lost-dot" />}
      {!s.fresh && s.curve.length > 0 && now === null && (
        <text x="752" y="290" textAnchor="end" className="plan-soft">
          {say("moved since: swing it around again")}
        </text>
      )}
    </svg>
  );
}
