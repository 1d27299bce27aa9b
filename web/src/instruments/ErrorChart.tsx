import type { Schema } from "../api/client";
import { say } from "../shared/say";

const W = 560;
const H = 220;
const [LEFT, RIGHT, TOP, BOTTOM] = [64, 16, 16, 34];

/**
 * What a gauge was off at each block once its zero error is taken off, each with the spread of its readings, between
 * the two lines that it says it keeps within.
 */
export function ErrorChart({ points, sure, unit }: { points: readonly Schema["CheckedBlock"][]; sure: string; unit: string }) {
  const band = Number(sure);
  const sizes = points.map((p) => Number(p.size));
  const reach = Math.max(1.5 * band, ...points.map((p) => 1.15 * (Math.abs(Number(p.left)) + Number(p.spread) / 2)));
  const [least, most] = [Math.min(...sizes), Math.max(...sizes)];
  const x = (size: number) => LEFT + ((size - least) / (most - least || 1)) * (W - LEFT - RIGHT - 20) + 10;
  const y = (off: number) => TOP + (0.5 - off / (2 * reach)) * (H - TOP - BOTTOM);
  const said = points.map((p) => say("{left} {unit} off at {size}", { left: p.left, unit, size: p.size })).join("; ");
  return (
    <svg viewBox={`0 0 ${W} ${H}`} className="plan error-chart" role="img" aria-label={said}>
      <rect x={LEFT} y={y(band)} width={W - LEFT - RIGHT} height={y(-band) - y(band)} className="plan-body" />
      <line x1={LEFT} x2={W - RIGHT} y1={y(0)} y2={y(0)} stroke="var(--ink)" strokeWidth="1" />
      {[band, 0, -band].map((off) => (
        <text key={off} x={LEFT - 8} y={y(off) + 5} textAnchor="end" className="plan-soft">
          {off === 0 ? "0" : `${off > 0 ? "+" : "−"}${sure}`}
        </text>
      ))}
      <text x={LEFT - 8} y={H - 12} textAnchor="end" className="plan-soft">
        {unit}
      </text>
      {points.map((p) => {
        const [off, half] = [Number(p.left), Number(p.spread) / 2];
        const colour = Math.abs(off) + half > band ? "var(--bad)" : "var(--good)";
        return (
          <g key={p.size}>
            <line x1={x(Number(p.size))} x2={x(Number(p.size))} y1={y(off + half)} y2={y(off - half)} stroke={colour} strokeWidth="3" />
            <circle cx={x(Number(p.size))} cy={y(off)} r="5" fill={colour} />
            <text x={x(Number(p.size))} y={H - 12} textAnchor="middle" className="plan-soft">
              {Number(p.size)}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
