import type { Schema } from "../../api/client";
import { say } from "../../shared/say";

/** How far the answer moves when one value grows by a tenth: longer to the right is more, to the left less. */
export function Levers({ of }: { of: readonly Schema["LeverView"][] }) {
  if (of.length < 2) return null;
  const most = Math.max(...of.map((l) => Math.abs(l.share)), 0.01);
  return (
    <section className="card pad stack">
      <h2>{say("What changes it most")}</h2>
      <svg
        viewBox={`0 0 600 ${of.length * 30 + 6}`}
        className="levers"
        role="img"
        aria-label={of.map((l) => `${l.label}: ${percent(l.share)}`).join("; ")}
      >
        <path d={`M380 0V${of.length * 30 + 6}`} className="lever-axis" />
        {of.map((l, i) => {
          const wide = (Math.abs(l.share) / most) * 130;
          return (
            <g key={l.name} transform={`translate(0 ${i * 30 + 4})`}>
              <text x="236" y="17" textAnchor="end">
                {l.label}
              </text>
              <rect x={l.share < 0 ? 380 - wide : 380} y="3" width={Math.max(wide, 1)} height="20" className={l.share < 0 ? "lever less" : "lever"} />
              <text x="596" y="17" textAnchor="end" className="lever-share">
                {percent(l.share)}
              </text>
            </g>
          );
        })}
      </svg>
      <p className="small muted">{say("Each value a tenth more (a count one more), the others as they are.")}</p>
    </section>
  );
}

const percent = (share: number) => `${share >= 0 ? "+" : "−"}${(Math.abs(share) * 100).toFixed(1)} %`;
