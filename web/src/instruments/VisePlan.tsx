import { say } from "../shared/say";
const GRIPS = [say("loose"), say("snug"), say("half tight"), say("tight")];
const S = 2;
const W = 800;
const H = 372;
/** Where the working face of the fixed jaw stands in the picture, and the indicator across it. */
const FACE = 96;
const MID = W / 2;
/** From the face to the front of the body. */
const DEEP = 204;

type Props = {
  jaw: number;
  bolts: number;
  before: number;
  /** Where along the jaw the tip stands, in mm from its middle; the table moves, the indicator stays. */
  table: number;
  /** The angle as drawn, in radians, counter-clockwise seen from above. */
  crooked: number;
  grips?: Record<string, number>;
  touched: boolean;
  hammer?: string;
  tapped?: { end: string; way: string } | null;
  long?: boolean;
  readAlong?: number;
  marks?: { at: number; name: string; on: boolean }[];
  pivot?: string;
  along?: string;
  said: string;
};

/** The vise seen from above: the fixed jaw at the rear, the tip at its face, the table with its slots and scale. */
export function VisePlan(p: Props) {
  const half = (p.jaw / 2) * S;
  const x = MID - p.table * S;
  const bolt = (end: string) => x + ((end === "left" ? -1 : 1) * p.bolts * S) / 2;
  const boltY = FACE + p.before * S;
  const turn = `rotate(${(-p.crooked * 180) / Math.PI} ${x} ${boltY})`;
  const scale = Array.from({ length: 61 }, (_, i) => (i - 30) * 10);
  return (
    <svg viewBox={`0 0 ${W} ${H}`} className="plan" role="img" aria-label={p.said}>
      <rect width={W} height={H} className="plan-ground" />
      <rect y="20" width={W} height={H - 20} className="plan-table" />
      {[44, 172, 300].map((y) => (
        <rect key={y} y={y} width={W} height="17" className="plan-slot" />
      ))}
      <g transform={turn}>
        <path
          d={`M${x - (p.bolts * S) / 2 - 24} ${boltY - 30}H${x + (p.bolts * S) / 2 + 24}V${boltY + 30}H${x - (p.bolts * S) / 2 - 24}z`}
          className="plan-flange"
        />
        <rect x={x - half} y={FACE} width={2 * half} height={DEEP} className="plan-body" />
        <rect x={x - half} y={FACE - 44} width={2 * half} height="44" className="plan-jaw" />
        <text x={x} y={FACE - 17} textAnchor="middle" className="plan-name">
          {say("fixed jaw")}
        </text>
        <rect x={x - half + 8} y={FACE + DEEP - 52} width={2 * half - 16} height="40" className="plan-moving" />
        <text x={x} y={FACE + DEEP - 27} textAnchor="middle" className="plan-soft">
          {say("moving jaw: never hit it")}
        </text>
        <rect x={x - 17} y={FACE + DEEP} width="34" height="40" className="plan-screw" />
        {p.long && <rect x={x - ((p.readAlong ?? 0) / 2) * S} y={FACE} width={(p.readAlong ?? 0) * S} height="15" className="plan-parallel" />}
        {(p.marks ?? []).map((m) => (
          <g key={m.name} transform={`translate(${x + m.at * S} ${FACE})`} className={m.on ? "plan-mark on" : "plan-mark"}>
            <path d="M0 4L-9 22H9z" />
            <text x={m.at < 0 ? 13 : -13} y="21" textAnchor={m.at < 0 ? "start" : "end"}>
              {m.name}
            </text>
          </g>
        ))}
        {["left", "right"].map((end) => {
          const grip = p.grips?.[end];
          return (
            <g key={end} transform={`translate(${bolt(end)} ${boltY})`} className={grip === 0 ? "bolt bolt-loose" : "bolt"}>
              <circle r="15" />
              <path d="M-8 0 -4 -7H4L8 0 4 7H-4z" />
              {grip !== undefined && (
                <text x={end === "left" ? -24 : 24} y="6" textAnchor={end === "left" ? "end" : "start"}>
                  {GRIPS[grip]}
                </text>
              )}
              {p.pivot === end && (
                <text x={end === "left" ? -24 : 24} y="6" textAnchor={end === "left" ? "end" : "start"}>
                  {say("pivot")}
                </text>
              )}
            </g>
          );
        })}
        {p.tapped && (
          <Hammer
            x={x + (p.tapped.end === "left" ? -1 : 1) * (half - 14)}
            y={p.tapped.way === "towards" ? FACE - 48 : FACE + 4}
            up={p.tapped.way !== "towards"}
            steel={p.hammer === "steel"}
          />
        )}
      </g>
      <g transform={`translate(${MID} ${p.touched ? FACE - p.crooked * (MID - x) : FACE + 34})`} className="plan-tip">
        <circle cy="5" r="5" className="plan-ball" />
        <path d="M0 9V44" />
        <rect x="-9" y="42" width="18" height="42" className="plan-stem" />
        <circle cy="104" r="21" className="plan-case" />
      </g>
      <g transform={`translate(0 ${H - 32})`}>
        <path d={`M0 0H${W}`} className="plan-scale" />
        {scale.map((mm) => {
          const at = x + mm * S;
          return at < 0 || at > W ? null : <path key={mm} d={`M${at} 0V${mm % 50 === 0 ? 16 : 9}`} className="plan-scale" />;
        })}
        <path d={`M${MID} -2l-8 -14h16z`} className="plan-pointer" />
        <text x="14" y="28" className="plan-soft">
          {p.along === "y"
            ? say("the table goes along Y under the indicator; far end at the right")
            : say("the table goes along X under the indicator, which stays")}
        </text>
      </g>
    </svg>
  );
}

function Hammer({ x, y, up, steel }: { x: number; y: number; up: boolean; steel: boolean }) {
  return (
    <g transform={`translate(${x} ${y}) scale(1 ${up ? 1 : -1})`} className={steel ? "hammer hammer-steel" : "hammer"}>
      <rect x="-12" y="0" width="24" height="26" rx="2" />
      <path d="M0 26V64" />
    </g>
  );
}
