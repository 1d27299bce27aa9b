import type { Schema } from "../api/client";
import { say } from "../shared/say";

type Shown = Schema["Section"];

const W = 800;
const H = 400;
const BED = 330;

/** Work in the vise, cut across the jaws: fixed jaw at the left. All lengths in mm. Plain: small, without words. */
export function HoldSection({
  section: s,
  moving = true,
  hits = [],
  said,
  plain = false,
}: {
  section: Shown;
  plain?: boolean;
  moving?: boolean;
  hits?: readonly string[];
  said: string;
}) {
  const scale = Math.min(360 / s.across, 230 / Math.max(s.base + s.height, s.jaw_depth + 12));
  const left = 400 - (s.across * scale) / 2;
  const x = (mm: number) => left + mm * scale;
  const y = (mm: number) => BED - (s.base + mm) * scale;
  const jaw = s.jaw_depth * scale;
  const hit = (what: string) => (hits.includes(what) ? " hit" : "");
  const top = Math.min(y(s.height), BED - jaw) - 24;
  return (
    <svg viewBox={plain ? `60 ${top} 680 ${BED + 48 - top}` : `0 0 ${W} ${H}`} className="plan" role="img" aria-label={said}>
      <defs>
        <pattern id="cut-away" width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V9" stroke="var(--bad)" strokeWidth="1.4" opacity=".6" />
        </pattern>
      </defs>
      <rect width={W} height={H} className="plan-ground" />
      <rect x="60" y={BED} width="680" height="40" className={`plan-flange${hit("bed")}`} />
      {!plain && (
        <text x="72" y={BED + 27} className="plan-soft">
          {s.jaw_depth > 0 ? say("the vise's bed") : say("the table")}
        </text>
      )}
      {s.base > 0 && (
        <g className={`section-parallel${hit("parallel")}`}>
          <rect x={x(0)} y={BED - s.base * scale} width={Math.max(s.thickness * scale, 5)} height={s.base * scale} />
          <rect
            x={x(s.across) - Math.max(s.thickness * scale, 5)}
            y={BED - s.base * scale}
            width={Math.max(s.thickness * scale, 5)}
            height={s.base * scale}
          />
        </g>
      )}
      <rect x={x(0)} y={y(s.height)} width={s.across * scale} height={s.height * scale} className="section-work" />
      {s.cuts.map((c, n) => (
        <g key={n}>
          <rect x={x(c.near)} y={y(s.height)} width={(c.far - c.near) * scale} height={(s.height - c.floor) * scale} className="section-cut" />
          <text x={x((c.near + c.far) / 2)} y={y(s.height) - 10} textAnchor="middle" className="plan-name">
            {c.name}
          </text>
        </g>
      ))}
      {s.holes.map((h, n) => (
        <g key={n}>
          <path
            d={`M${x(h.across - h.diameter / 2)} ${y(s.height)}V${y(h.floor)}L${x(h.across)} ${y(h.floor - h.point)}L${x(h.across + h.diameter / 2)} ${y(h.floor)}V${y(s.height)}z`}
            className="section-hole"
          />
          <path d={`M${x(h.across)} ${y(s.height) - 8}V${y(h.floor - h.point) + 8}`} className="plan-centre" />
        </g>
      ))}
      {jaw > 0 && (
        <>
          <rect x={left - 92} y={BED - jaw} width="92" height={jaw} className={`plan-jaw${hit("jaw")}`} />
          {!plain && (
            <text x={left - 46} y={BED - 12} textAnchor="middle" className="plan-name">
              {say("fixed")}
            </text>
          )}
          {moving && (
            <>
              <rect x={x(s.across) + (s.bar ? 22 : 0)} y={BED - jaw} width="92" height={jaw} className={`plan-moving solid${hit("jaw")}`} />
              {!plain && (
                <text x={x(s.across) + 46 + (s.bar ? 22 : 0)} y={BED - 12} textAnchor="middle" className="plan-name">
                  {say("moving")}
                </text>
              )}
              {s.bar && <circle cx={x(s.across) + 11} cy={BED - jaw * 0.55} r="11" className="section-bar" />}
            </>
          )}
          <path d={`M${left - 130} ${BED - jaw}H${x(s.across) + 150}`} className="plan-scale dash" />
          {!plain && (
            <text x={left - 134} y={BED - jaw + 5} textAnchor="end" className="plan-soft">
              {say("jaws' top")}
            </text>
          )}
        </>
      )}
    </svg>
  );
}

/** A strap clamp from the side: the bolt between the work and the heel, with each share of its force. */
export function StrapPicture({ strap: { work_arm: work, heel_arm: heel, heel_rise: rise, percent: share } }: { strap: Schema["StrapShown"] }) {
  const scale = 420 / (work + heel);
  const top = 90;
  const right = 130 + (work + heel) * scale;
  const bolt = 130 + work * scale;
  const lift = Math.max(-24, Math.min(24, rise * 2));
  return (
    <svg
      viewBox="0 0 700 250"
      className="plan"
      role="img"
      aria-label={say("Strap: the work gets {share} percent of the bolt's force, the heel {value} percent", { share, value: 100 - share })}
    >
      <rect width="700" height="250" className="plan-ground" />
      <rect y="212" width="700" height="38" className="plan-table" />
      <rect x="30" y={top + 26} width="120" height={212 - top - 26} className="section-work" />
      <text x="44" y="200" className="plan-name">
        {say("work")}
      </text>
      <rect x={right - 20} y={top + 26 - lift} width="50" height={212 - top - 26 + lift} className="section-parallel-block" />
      <text x={right + 36} y="200" className="plan-name">
        {say("heel")}
      </text>
      <path d={`M112 ${top + 25}L${right + 24} ${top + 25 - lift}V${top - lift}L112 ${top}z`} className="plan-jaw" />
      <path d={`M${bolt} ${top - 30}V212`} className="strap-bolt" />
      <rect x={bolt - 15} y={top - 22 - (lift * work) / (work + heel)} width="30" height="18" className="plan-screw" />
      <Force x={130} y={top - 6} share={share} name="work" />
      <Force x={right} y={top - lift - 6} share={100 - share} name="heel" />
    </svg>
  );
}

function Force({ x, y, share, name }: { x: number; y: number; share: number; name: string }) {
  const long = 12 + share * 0.38;
  return (
    <g className="strap-force">
      <path d={`M${x} ${y - long}V${y - 8}`} strokeWidth={2 + share / 14} />
      <path d={`M${x} ${y}l-9 -13h18z`} />
      <text x={x} y={y - long - 8} textAnchor="middle">
        {say("{share} % on the {name}", { share, name })}
      </text>
    </g>
  );
}
