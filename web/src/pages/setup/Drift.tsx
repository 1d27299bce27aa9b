import type { Schema } from "../../api/client";
import { Upright } from "../../instruments/axis";
import { say } from "../../shared/say";
import { day, dayOfYear, when } from "../../shared/time";

type Bench = Schema["SetupBench"];

/** How the head stood at each squaring, as found and as left. */
export function Drift({ points, allowed }: { points: Bench["drift"]; allowed: number }) {
  if (points.length === 0)
    return <p className="muted">{say("Every squaring of the head leaves two marks here: how it was found and how it was left.")}</p>;
  const times = points.map((p) => new Date(p.at).getTime());
  const [first, last] = [Math.min(...times), Math.max(...times)];
  const top = Math.max(...points.flatMap((p) => [Math.abs(p.found), Math.abs(p.left)]), allowed * 2);
  const x = (at: string) => 76 + ((new Date(at).getTime() - first) / Math.max(last - first, 1)) * 480;
  const y = (v: number) => 114 - (v / top) * 84;
  return (
    <svg
      viewBox="0 0 600 236"
      className="drift"
      role="img"
      aria-label={say("{count} readings of the head as found and as left; allowed are {allowed} mm", {
        count: points.length,
        allowed: allowed.toFixed(3),
      })}
    >
      <rect x="60" y={y(allowed)} width="520" height={y(-allowed) - y(allowed)} className="converge-good" />
      <path d="M60 20V206M60 114H580" className="plan-scale" />
      <Upright x={60} y={y} top={top} high={12} both />
      <text x="578" y={y(allowed) - 5} textAnchor="end" className="converge-word">
        {say("allowed")}
      </text>
      {points.map((p, i) => (
        <g key={i} className={p.axis === "tilt" ? "drift-tilt" : "drift-nod"}>
          <title>{`${when(p.at)}, ${p.by}, ${p.axis === "tilt" ? say("side to side") : say("front to back")}`}</title>
          <path d={`M${x(p.at)} ${y(p.found)}V${y(p.left)}`} />
          <circle cx={x(p.at)} cy={y(p.found)} r="6" className="found" />
          <circle cx={x(p.at)} cy={y(p.left)} r="6" className="left" />
        </g>
      ))}
      <text x="60" y="228">
        {dayOfYear(first)}
      </text>
      <text x="580" y="228" textAnchor="end">
        {dayOfYear(last) === dayOfYear(first) ? "" : day(last)}
      </text>
    </svg>
  );
}
