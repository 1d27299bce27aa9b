import { say } from "../shared/say";
import { Upright } from "./axis";

/** How far off each pass was, against what the shop allows. Values in mm; the words come with the passes. */
export function Convergence({ off, standard, best }: { off: readonly number[]; standard: number; best?: readonly number[] | undefined }) {
  const all = [...off, ...(best ?? [])];
  const top = Math.min(Math.max(...all, standard * 3), standard * 12);
  const count = Math.max(off.length, best?.length ?? 0, 4);
  const x = (i: number) => 68 + (i * 306) / Math.max(count - 1, 1);
  // what is far beyond is pinned at the top, so that the last steps can be seen
  const y = (v: number) => 118 - 96 * Math.min(v / top, 1);
  const line = (values: readonly number[]) => values.map((v, i) => `${i ? "L" : "M"}${x(i)} ${y(v)}`).join("");
  if (all.length === 0) return <p className="muted small pad">{say("Each pass will appear here, and under the green line it is good enough.")}</p>;
  return (
    <svg
      viewBox="0 0 400 154"
      className="converge"
      role="img"
      aria-label={
        (off.at(-1) ?? 0) <= standard
          ? say("{count} passes; the last is within the standard", { count: off.length })
          : say("{count} passes; the last is outside the standard", { count: off.length })
      }
    >
      <rect x="58" y={y(standard)} width="328" height={118 - y(standard)} className="converge-good" />
      <path d="M58 18V118H386" className="plan-scale" />
      <Upright x={58} y={y} top={top} high={10} />
      <text x="384" y={y(standard) - 5} textAnchor="end" className="converge-word">
        {say("standard")}
      </text>
      <text x="386" y="148" textAnchor="end" className="converge-number">
        {say("pass")}
      </text>
      {best && <path d={line(best)} className="converge-best" />}
      <path d={line(off)} className="converge-line" />
      {off.map((v, i) => (
        <g key={i}>
          <rect
            x={x(i) - 5}
            y={y(v) - 5}
            width="10"
            height="10"
            className={v <= standard ? "converge-dot in" : v > top ? "converge-dot beyond" : "converge-dot"}
          />
          <text x={x(i)} y="138" textAnchor="middle" className="converge-number">
            {i + 1}
          </text>
        </g>
      ))}
    </svg>
  );
}
